import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import '../kinds/elements/list/arranged.ts';
import '../core/world/warm.fixture.ts';
import { ElementMaker } from '../core/app/make.ts';
import { AppSchema, type App } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { noConditions } from '../core/document/queries.ts';
import type { MailboxMessage } from '../core/runs/mailbox.ts';
import type { Note } from '../core/rehearsal/notes.ts';
import { Rehearsal } from '../core/rehearsal/rehearsal.ts';
import { F, T } from '../core/records/fixture.ts';
import { make, routine } from '../core/runs/fixture.ts';
import { ChanceMap, ChanceMemory } from '../core/scenes/chance-map.ts';
import { CLUB, ruledClub } from '../core/scenes/clubs.fixture.ts';
import { begin } from '../core/scenes/doing.ts';
import { MadeRecords } from '../core/scenes/made.ts';
import { rest } from '../core/scenes/resting.ts';
import { ChanceHands, type ShakenAct } from '../core/scenes/shake-acts.ts';
import { allKinds } from '../core/session/fixture.ts';
import { FarRoom } from './far-room.fixture.ts';
import { TestServer } from './fixture.ts';

/** The same acts in a rehearsal and on phones of people who are signed in at a real server. */

const PEOPLE = [
  { record: 'odile', name: 'Odile', mail: 'odile@heatherfield.example' },
  { record: 'tom', name: 'Tom', mail: 'tom@heatherfield.example' },
];
const hive = thisId(T.hives);

/**
 * Whoever has signed in sees all, and changes hives while these are active. A hive that is heavy is told of by mail and
 * notice, which read what no act changes meanwhile; a visit that was added is changed; mails and calls become records.
 */
function club(): App {
  const app = ruledClub();
  const ids = new ElementMaker((letter) => `${letter}_club${String(++n).padStart(6, '0')}`);
  const active = { ...noConditions(), conditions: [{ left: F.status, op: 'is' as const, right: '"Active"' }] };
  for (const rule of app.access!.rules) if (rule.id === 'u_change0000') rule.where = active;
  const rule = (id: string, table: string, may: 'add' | 'change' | 'remove') =>
    app.access!.rules.push({ id, who: 'signed in', may: [may], table, where: noConditions() });
  rule('u_addvisit00', T.visits, 'add');
  rule('u_remove0000', T.visits, 'remove');
  const words = { id: 'i_words00000', name: 'Words', type: 'text' as const, first: '', from: 'subject' as const };
  const name = { id: 'i_name000000', name: 'Name', type: 'text' as const, first: '', at: 'name' };
  const status = (to: string) => make.step('set', { record: hive, values: [{ field: F.status, value: `"${to}"` }] });
  const taps: App['routines'] = [
    { id: 'q_sells00000', name: 'It is sold', given: T.hives, steps: [status('Sold')] },
    { id: 'q_back000000', name: 'It is back', given: T.hives, steps: [status('Active')] },
    {
      id: 'q_more000000',
      name: 'One more',
      given: T.hives,
      steps: [make.step('raise', { how: 'raise', record: hive, values: [{ field: F.weight, value: '1' }] })],
    },
  ];
  app.routines = [
    ...taps,
    routine('Heavy', 'record changed', { table: T.hives, how: 'either', fields: [F.weight] }, [
      make.step('mail', { to: '"keeper@example.org"', subject: 'Heavy', body: `{${hive}.${F.tag}} was weighed.` }),
      make.step('notify', { to: '"Tom"', title: `Weighed {${hive}.${F.tag}}`, words: '' }),
    ]),
    routine(
      'Visited',
      'record changed',
      { table: T.visits, how: 'added' },
      [
        make.step('set', {
          record: thisId(T.visits),
          values: [{ field: F.fed, value: `${thisId(T.visits)}.${F.fed} + 1` }],
        }),
      ],
      { given: T.visits },
    ),
    routine(
      'A mail becomes a visit',
      'mail came',
      {},
      [make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: words.id }] })],
      { given: null, inputs: [words] },
    ),
    routine(
      'A call becomes a hive',
      'hook called',
      {},
      [make.step('add', { table: T.hives, values: [{ field: F.name, value: name.id }] })],
      { id: 'q_called0000', given: null, inputs: [name] } as never,
    ),
  ];
  const page = app.screens.find((s) => s.name === 'Hive')!;
  for (const { id, name: called } of taps)
    page.root.children.push(ids.button(called, { do: 'routine', routine: id }) as never);
  return AppSchema.parse(app);
}
let n = 0;

let server: TestServer;
beforeAll(async () => (server = await TestServer.start({ proxies: ['127.0.0.1'] })));
afterAll(() => server.stop());

/** What is generated: an act of somebody by chance, a mail from outside, a call of another system. */
const act = fc.oneof(
  { weight: 12, arbitrary: fc.record({ who: fc.nat(5), sort: fc.nat(93), pick: fc.nat(999), value: fc.nat(999) }) },
  { weight: 1, arbitrary: fc.record({ subject: fc.constantFrom('Bees', 'A swarm', 'Honey') }) },
  { weight: 1, arbitrary: fc.record({ called: fc.constantFrom('Elm', 'Ash') }) },
);

/** What came of it in the end: the records, what each was refused and told, and what went out. */
interface Outcome {
  records: string[];
  refused: string[];
  mails: string[];
  notices: string[];
}

/** Ids that are others each time, as one letter; and the words of a change that hang on its time. */
function outcome(
  known: ReadonlySet<string>,
  states: readonly { table: string; id: string; cells: object }[],
  notes: readonly Note[],
  mailbox: MailboxMessage['mails'],
  messages: readonly { kind?: string | undefined; to: string[]; subject: string; body: string }[],
): Outcome {
  const others = states.flatMap((s) => (known.has(s.id) ? [] : [s.id]));
  const same = (text: string): string => others.reduce((t, id) => t.replaceAll(id, '*'), text);
  const sorted = (list: string[]): string[] => list.map(same).sort();
  const cells = (of: object): string =>
    JSON.stringify(Object.entries(of).filter(([, cell]) => cell !== null).sort(([a], [b]) => (a < b ? -1 : 1))); // prettier-ignore
  return {
    records: sorted(states.map((s) => `${s.table} ${s.id} ${cells(s.cells)}`)),
    refused: sorted(notes.filter((x) => x.sort === 'refused' && x.of !== 'server').map((x) => `${x.of} ${x.said}`)),
    mails: sorted(mailbox.filter((m) => !m.came && !/^\d{6}/.test(m.subject)).map((m) => `${m.address}: ${m.subject}. ${m.words.trim()}`)), // prettier-ignore
    notices: sorted(messages.filter((m) => m.kind === 'notice').map((m) => `${m.to.join()}: ${m.subject}. ${m.body}`)),
  };
}

/** Plays acts in both, in step. */
async function both(
  app: App,
  acts: readonly (typeof act extends fc.Arbitrary<infer A> ? A : never)[],
): Promise<{ near: Outcome; far: Outcome; did: number }> {
  const at = Date.now();
  const near = new Rehearsal({ app, states: CLUB, kinds: allKinds, at, file: async () => null, changed: () => undefined, byHand: true }); // prettier-ignore
  const far = await FarRoom.of(server, `club-${++n}`, app, allKinds, CLUB, PEOPLE);
  try {
    for (const { record } of PEOPLE) await begin(near.phones[await near.add({ is: 'person', record })]!);
    for (const phone of Object.values(far.phones)) await begin(phone);
    await rest(near);
    await far.rests();
    const map = new ChanceMap(app);
    const hands = new ChanceHands(app, near, map, new ChanceMemory());
    const there = new ChanceHands(app, far, map, new ChanceMemory());
    const [made, madeThere] = [new MadeRecords(near, CLUB), new MadeRecords(far, CLUB)];
    let did = 0;
    const rests = async (): Promise<void> => {
      await rest(near);
      await far.rests(Object.values(near.world.runs!.board.routines).reduce((runs, r) => runs + r.runs, 0));
    };
    const looks = (): void => [made, madeThere].forEach((m) => m.look(`act ${did}`));
    looks();
    for (const one of acts) {
      await near.pass(1000);
      await far.pass();
      if ('subject' in one) {
        const mail = { from: 'ada@post.example', name: 'Ada', subject: one.subject, words: 'Hello.' };
        await near.write(mail);
        await far.write(mail);
      } else if ('called' in one) {
        await near.call('q_called0000', JSON.stringify({ name: one.called }));
        await far.call('q_called0000', { name: one.called });
      } else {
        const chosen = hands.choose(one);
        if (!chosen) continue;
        const ids = madeThere.others(made.namedIn(JSON.stringify(chosen)));
        const same = JSON.parse(
          [...ids].reduce((t, [a, b]) => t.replaceAll(a, b), JSON.stringify(chosen)),
        ) as ShakenAct;
        const [here, elsewhere] = [await hands.do(chosen), await there.do(same)];
        expect({ act: chosen, done: elsewhere }).toEqual({ act: chosen, done: here });
      }
      await rests();
      did++;
      looks();
    }
    for (const room of [near, far]) for (const phone of Object.values(room.phones)) phone.network = 'on';
    await near.pass(1000);
    await far.pass();
    await rests();
    const known = new Set(CLUB.map((s) => s.id));
    const out = await far.outbox();
    return {
      did,
      near: outcome(known, [...near.world.host.snapshot().states], near.notesSince(0), (await near.mailbox()).mails, await near.messages()), // prettier-ignore
      far: outcome(known, await far.records(), far.notes, await far.mailbox(), out.flatMap((m) => m.message ?? [])), // prettier-ignore
    };
  } finally {
    await near.end();
    await far.end();
  }
}

it('gives the same records, refusals, mails and notices in a rehearsal and at a real server', async () => {
  const app = club();
  let refused = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 15, maxLength: 40 }), async (acts) => {
      const { near, far } = await both(app, acts);
      refused += near.refused.length;
      expect(far).toEqual(near);
    }),
    { numRuns: 10, endOnFailure: true },
  );
  // It would show nothing if nobody was ever refused anything.
  expect(refused).toBeGreaterThan(0);
}, 240_000);
