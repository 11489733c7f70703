import { connect, type Socket } from 'node:net';
import { Worker } from 'node:worker_threads';
import { emptyApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { NOBODY, OWNER, type Who } from '../core/access/access.ts';
import { Refused } from '../core/document/refused.ts';
import type { Where } from '../core/document/pieces.ts';
import { stampText } from '../core/host/clock.ts';
import type { Change, RecordState } from '../core/records/change.ts';
import { inMemory } from '../core/released/fixture.ts';
import type { ReleasedApp } from '../core/released/released.ts';
import { format, line } from './measure.ts';

const PEOPLE = 200;
const PHONES_EACH = 5;
const HIVES = 2000;
const VISITS = 100_000;
const CHANGES = 1000;
const ROUNDS = 9;

const T = { people: 't_people00', hives: 't_hives000', visits: 't_visits00' };
const F = {
  name: 'f_name0000',
  mail: 'f_mail0000',
  looks: 'f_looks000',
  keeper: 'f_keeper00',
  second: 'f_second00',
  hive: 'f_hive0000',
  notes: 'f_notes000',
  fed: 'f_fed00000',
};
const ROLE = 'r_looks0000';
const where = (...conditions: Where['conditions']): Where => ({ match: 'all', conditions });

/** Visits to hives of two keepers each: everybody sees those to their own, and coordinators all. */
function visitsApp(ruled: boolean): App {
  const app = emptyApp('Visits', 'a_bench0000');
  const link = (table: string, backName: string) => ({ kind: 'picked' as const, table, backName });
  const table = (id: string, name: string, fields: App['tables'][number]['fields']): App['tables'][number] => ({
    id,
    name,
    one: name.toLowerCase().slice(0, -1),
    titleField: fields[0]!.id,
    pictureField: null,
    fields,
  });
  app.tables = [
    table(T.people, 'Keepers', [
      { id: F.name, name: 'Name', type: 'text' },
      { id: F.mail, name: 'Mail', type: 'mail' },
      { id: F.looks, name: 'Looks after the app', type: 'yesno' },
    ]),
    table(T.hives, 'Hives', [
      { id: 'f_hname000', name: 'Name', type: 'text' },
      { id: F.keeper, name: 'Keeper', type: 'link', link: link(T.people, 'Hives') },
      { id: F.second, name: 'Second keeper', type: 'link', link: link(T.people, 'Second hives') },
    ]),
    table(T.visits, 'Visits', [
      { id: F.notes, name: 'Notes', type: 'text' },
      { id: F.fed, name: 'Fed', type: 'number' },
      { id: F.hive, name: 'Hive', type: 'link', link: link(T.hives, 'Visits') },
    ]),
  ];
  if (!ruled) return app;
  const rule = (id: string, who: string, on: string, w = where()) => ({
    id,
    who,
    may: ['see' as const, 'add' as const, 'change' as const],
    table: on,
    where: w,
  });
  const isTheirs = (field: string) => where({ left: `${F.hive}.${field}`, op: 'is', right: 'person()' });
  return {
    ...app,
    people: T.people,
    access: {
      opens: 'people',
      mail: F.mail,
      roles: [{ id: ROLE, name: 'Coordinators', where: where({ left: F.looks, op: 'holds', right: '' }) }],
      rules: [
        rule('u_keeper0000', 'signed in', T.visits, isTheirs(F.keeper)),
        rule('u_second0000', 'signed in', T.visits, isTheirs(F.second)),
        rule('u_looks00000', ROLE, T.visits),
        rule('u_hives00000', 'signed in', T.hives),
      ],
    },
  };
}

const mailOf = (n: number): string => `keeper${n}@heatherfield.example`;
const who = (n: number): Who => ({ kind: 'somebody', person: `p${n}`, mail: mailOf(n) });

function states(): RecordState[] {
  const made: RecordState[] = [];
  const at = stampText(1_700_000_000_000, 0, 'bench');
  const put = (table: string, id: string, cells: RecordState['cells']) => made.push({ table, id, cells, stamp: at });
  for (let i = 0; i < PEOPLE; i++)
    put(T.people, `p${i}`, { [F.name]: `Keeper ${i}`, [F.mail]: mailOf(i), [F.looks]: false });
  for (let i = 0; i < HIVES; i++)
    put(T.hives, `h${i}`, {
      f_hname000: `Hive ${i}`,
      [F.keeper]: `p${i % PEOPLE}`,
      [F.second]: `p${(i * 7 + 3) % PEOPLE}`,
    });
  for (let i = 0; i < VISITS; i++)
    put(T.visits, `v${i}`, { [F.notes]: `Notes of visit ${i}`, [F.fed]: i % 9, [F.hive]: `h${i % HIVES}` });
  return made;
}

/** An app that runs in this process, and when what was told last was told. */
function begun(ruled: boolean) {
  const made = { heard: { last: 0 }, sockets: null as Map<string, Socket[]> | null };
  const app = inMemory(
    visitsApp(ruled),
    (what) => {
      if (what.kind !== 'news') return;
      const text = JSON.stringify(what.news);
      for (const name of what.to) for (const socket of made.sockets?.get(name) ?? []) socket.write(text);
      made.heard.last = performance.now();
    },
    { states: states(), changes: [], at: 0 },
  );
  return Object.assign(made, { app });
}

let stamps = 0;
const change = (record: string, cells: RecordState['cells'], table = T.visits): Change => ({
  id: `c${++stamps}`,
  stamp: stampText(Date.now(), stamps % 36 ** 4, 'bench'),
  table,
  record,
  do: 'set',
  cells,
});
const nextTurn = (): Promise<void> => new Promise((r) => setImmediate(r));
const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
/** Milliseconds for taking a change and telling it; what is told together goes out in between. */
async function taking(app: ReleasedApp, whoOf: (n: number) => Who): Promise<number> {
  const started = performance.now();
  for (let n = 0; n < CHANGES; n++) {
    const hive = n % HIVES;
    const { refused } = await app.accept([change(`v${hive}`, { [F.notes]: `Changed ${n}` })], whoOf(hive % PEOPLE));
    if (refused.length) throw new Error(refused[0]!.reason);
    if (n % 10 === 0) await nextTurn();
  }
  return (performance.now() - started) / CHANGES;
}

/** A connection for each phone, to another thread that lets go of all that comes. */
async function phones(): Promise<{ sockets: Map<string, Socket[]>; close(): Promise<unknown> }> {
  const worker = new Worker(
    `const { parentPort } = require('node:worker_threads');
     const server = require('node:net').createServer((s) => s.resume().on('error', () => undefined));
     server.listen(0, '127.0.0.1', () => parentPort.postMessage(server.address().port));`,
    { eval: true },
  );
  const port = await new Promise<number>((r) => worker.once('message', r));
  const sockets = new Map<string, Socket[]>();
  for (let i = 0; i < PEOPLE; i++) {
    const theirs = await Promise.all(
      Array.from(
        { length: PHONES_EACH },
        () =>
          new Promise<Socket>((r) => {
            const s: Socket = connect(port, '127.0.0.1', () => r(s));
          }),
      ),
    );
    sockets.set(`somebody p${i}`, theirs);
  }
  return {
    sockets,
    close: () => {
      for (const s of [...sockets.values()].flat()) s.destroy();
      return worker.terminate();
    },
  };
}

/** Milliseconds from a change on until it is written to all who may see it, with changes that come one by one. */
async function oneByOne(
  { app, heard }: ReturnType<typeof begun>,
  whoOf: (n: number) => Who,
  changes: number,
): Promise<number[]> {
  const waits: number[] = [];
  for (let n = 0; n < changes; n++) {
    const started = performance.now();
    await app.accept([change(`v${n}`, { [F.notes]: `On its way ${n}` })], whoOf(n % PEOPLE));
    while (heard.last < started && performance.now() < started + 1000) await wait(1);
    waits.push(heard.last - started);
    await wait(Math.max(0, 50 - (performance.now() - started)));
  }
  return waits.sort((a, b) => a - b);
}

/** Rules over 100,000 records for 1,000 phones of 200 people, against the same host open to all. */
export async function accessBench(): Promise<void> {
  const memory = (): number => {
    globalThis.gc?.();
    return process.memoryUsage().heapUsed;
  };
  const far = await phones();
  const open = begun(false);
  const ruledApp = begun(true);
  const { app, heard } = ruledApp;
  const asPerson = (i: number): Who => ({ kind: 'somebody', person: `p${i}` });
  for (let i = 0; i < PEOPLE; i++) for (let k = 0; k < PHONES_EACH; k++) open.app.listen(asPerson(i), true);
  const before = memory();
  let longest = 0;
  let started = performance.now();
  for (let i = 0; i < PEOPLE; i++) {
    const from = performance.now();
    for (let k = 0; k < PHONES_EACH; k++) app.listen(who(i), true);
    if (i > 0) longest = Math.max(longest, performance.now() - from);
  }
  const all = performance.now() - started;
  const each = (memory() - before) / PEOPLE / 1024;
  // By turns, since other work of the machine comes and goes; the first round is to warm up.
  let [reference, ruled] = [Infinity, Infinity];
  for (let round = 0; round < ROUNDS; round++) {
    const [a, b] = [await taking(open.app, () => NOBODY), await taking(app, who)];
    if (round > 0) [reference, ruled] = [Math.min(reference, a), Math.min(ruled, b)];
  }
  const ratio = ruled / reference;
  console.log(
    `  a change taken and told by rules, without what writes to phones: ${format(ruled)}, ${ratio.toFixed(1)} times as long as open to all (${format(reference)})`,
  );
  console.log(
    `  the first to come of ${PEOPLE} people: all in ${format(all)}, of the others none over ${format(longest)}${globalThis.gc ? `; ${each.toFixed(0)} kB a person` : ''}`,
  );

  open.sockets = far.sockets;
  ruledApp.sockets = far.sockets;
  const [toAll, toSome] = [await oneByOne(open, asPerson, 100), await oneByOne(ruledApp, who, 100)];
  line(
    'a change taken and written to the phones that may see it',
    toSome[50]!,
    'open to all',
    toAll[50]!,
    'at most 2 times',
  );
  console.log(`  until it is written, 20 changes a second: 95 of 100 within ${format(toSome[94]!)}; aim: 100 ms`);
  await open.app.close(new Refused(503, 'It ends.'));

  // Somebody who was away for longer than the host remembers.
  started = performance.now();
  const records: [string, string][] = [];
  let answer = await app.compare({ after: null, upTo: null, records }, who(7));
  let count = answer.states.length;
  while (answer.upTo !== null) {
    answer = await app.compare({ after: answer.upTo, upTo: null, records: [] }, who(7));
    count += answer.states.length;
  }
  console.log(
    `  a phone that was away has its ${count} records in ${format(performance.now() - started)} of the host; aim: 100 ms`,
  );

  for (const given of [true, false]) {
    started = performance.now();
    await app.accept([change('p9', { [F.looks]: given }, T.people)], OWNER);
    while (heard.last < started) await wait(1);
    console.log(`  a role ${given ? 'given' : 'taken'} is told in ${format(heard.last - started)}; aim: a second`);
    await wait(60);
  }
  await app.close(new Refused(503, 'It ends.'));
  await far.close();
}
