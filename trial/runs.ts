import { readdir, readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import type { App } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import { make, routine, where } from '../core/runs/fixture.ts';
import { goodsRequest, supplier } from '../core/services/fixture.ts';
import { accepted, allRecords, call, chance, change, KEY, onVictim, push, release, type Findings } from './server.ts';

/** So often the server is killed; fewer by KITE_KILLS. */
const KILLS = Number(process.env['KITE_KILLS'] ?? 200);
const SMTP = 4926;
const INPUT = 'v_name000000';
const SUM = 'sum';

/** A service that counts what it is asked to write, by the keys it is asked with. */
async function receiver() {
  const by = new Map<string, Set<string>>();
  let calls = 0;
  const server = createServer((req, res) => {
    let body = '';
    req.on('data', (d: Buffer) => (body += String(d)));
    req.on('end', () => {
      calls++;
      const { name } = JSON.parse(body) as { name: string };
      by.set(name, (by.get(name) ?? new Set()).add(String(req.headers['idempotency-key'])));
      res.writeHead(200, { 'content-type': 'application/json' }).end('{}');
    });
  });
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return { url, by, calls: () => calls, close: () => (server.closeAllConnections(), server.close()) };
}

/** Routines that write, add to a sum, mail, ask a service, wait, hold, and start one another; one by mail, one by the clock. */
function app(service: string): App {
  const me = thisId(T.hives);
  const made: App = { ...hiveApp(), id: 'a_runs000000' };
  const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });
  const sum = `(all_${T.hives}[${F.tag} = "${SUM}"])[1]`;
  made.services = [
    supplier({
      test: service,
      requests: [
        goodsRequest({
          method: 'POST',
          inputs: [{ id: INPUT, name: 'Name', type: 'text' }],
          body: { is: 'json', json: `{"name":"{${INPUT}}"}` },
        }),
      ],
    }),
  ];
  made.routines.push(
    routine('Added', 'record changed', { how: 'added', where: { match: 'all', conditions: [{ left: F.tag, op: 'is empty', right: '' }] } }, [
      note(`"added " + ${me}.${F.name}`),
      make.step('raise', { record: sum, values: [{ field: F.weight, value: '1' }] }),
      make.step('mail', { to: '"a@post.example"', subject: `Added {${me}.${F.name}}`, body: 'x' }),
      make.step('request', { request: 'n_goods00000', values: [{ field: INPUT, value: `${me}.${F.name}` }] }),
      make.step('wait', { time: 'duration("PT0.3S")' }),
      make.step('set', { record: me, values: [{ field: F.status, value: '"Retired"' }] }),
    ]),
    routine('Held', 'record changed', { how: 'added', where: { match: 'all', conditions: [{ left: F.tag, op: 'is empty', right: '' }] } }, [
      make.step('hold', { when: where(`${me}.${F.status}`, 'is', '"Retired"'), time: 'duration("P1D")', late: [note('"late"')] }),
      note(`"held " + ${me}.${F.name}`),
    ]),
    routine('Became', 'record becomes', { where: where(F.status, 'is', '"Retired"') }, [note(`"became " + ${me}.${F.name}`)]),
    routine('Minute', 'clock', { each: 'minutes', every: 1, missed: 'each' }, [note('"minute"')], { given: null }),
    routine('Mail', 'mail came', {}, [note('"mail " + i_subject0')], {
      given: null,
      inputs: [{ id: 'i_subject0', name: 'Subject', type: 'text', first: '', from: 'subject' }],
    }),
  ); // prettier-ignore
  return made;
}

/** kill -9 at moments by chance, with runs at every stage: everything happens once, counted where it arrives. */
export async function runs(): Promise<Findings> {
  const service = await receiver();
  try {
    return await onVictim(
      'runs',
      async (victim, wrong) => {
        const random = chance(24);
        await release(victim.url, 'work', app(service.url));
        await push(victim.url, 'work', [change(SUM, { [F.tag]: SUM, [F.weight]: 0 })]);
        const acknowledged = new Set<string>();
        const mailed = new Set<string>();
        const began = Date.now();
        for (let round = 0; round < KILLS; round++) {
          let down = false;
          const clients = Array.from({ length: 3 }, async (_, c) => {
            for (let i = 0; !down && i < 6; i++) {
              const ch = change(`r${round}-${c}-${i}`);
              try {
                if (accepted(await push(victim.url, 'work', [ch])).length) acknowledged.add(ch.record);
              } catch {
                down = true;
              }
              await new Promise((r) => setTimeout(r, 20 * random()));
            }
          });
          const subject = `m${round}`;
          const raw = `From: ada@post.example\r\nMessage-ID: <${subject}@post.example>\r\nSubject: ${subject}\r\n\r\nx\r\n`;
          const mail = createTransport({ host: '127.0.0.1', port: SMTP, ignoreTLS: true })
            .sendMail({ envelope: { from: 'ada@post.example', to: 'work@localhost' }, raw })
            .then(
              () => void mailed.add(subject),
              () => undefined,
            );
          await new Promise((r) => setTimeout(r, 30 + 500 * random()));
          await victim.kill();
          down = true;
          await Promise.all([...clients, mail]);
          await victim.start();
        }
        const board = async (): Promise<BoardMessage> =>
          (await call(victim.url, '/api/apps/work/runs', { key: KEY })).body as unknown as BoardMessage;
        for (let i = 0; i < 600 && (await board()).live.length; i++) await new Promise((r) => setTimeout(r, 100));
        const { live } = await board();
        if (live.length) wrong.push(`${live.length} runs have not ended, the first ${live[0]!.stands}: ${live[0]!.error}`);

        const records = [...(await allRecords(victim.url, 'work')).values()].filter((s) => s.removed === undefined);
        const tags = new Map<string, number>();
        for (const s of records)
          if (s.table === T.visits) tags.set(String(s.cells[F.hiveTag]), (tags.get(String(s.cells[F.hiveTag])) ?? 0) + 1);
        const hives = records.filter((s) => s.table === T.hives && s.id !== SUM);
        const once = (what: string, n: number): void => void (n === 1 || wrong.push(`${what}: ${n} times`));
        for (const { id } of hives) {
          for (const did of ['added', 'held', 'became']) once(`${did} ${id}`, tags.get(`${did} ${id}`) ?? 0);
          once(`asked for ${id}`, service.by.get(id)?.size ?? 0);
        }
        for (const id of acknowledged) if (!hives.some((h) => h.id === id)) wrong.push(`${id} was acknowledged and is lost`);
        for (const subject of mailed) once(`mail ${subject}`, tags.get(`mail ${subject}`) ?? 0);
        for (const [tag, n] of tags) if (tag.startsWith('mail ') && n > 1) wrong.push(`${tag}: ${n} times`);
        const total = records.find((s) => s.id === SUM)?.cells[F.weight];
        if (total !== hives.length) wrong.push(`the sum is ${String(total)}, and ${hives.length} were added`);
        const outbox = join(victim.data, 'work', 'outbox');
        const subjects = new Map<string, number>();
        for (const name of await readdir(outbox)) {
          const subject = /^Subject: (Added \S+)/m.exec(await readFile(join(outbox, name), 'utf8'))?.[1] ?? name;
          subjects.set(subject, (subjects.get(subject) ?? 0) + 1);
        }
        for (const { id } of hives) once(`the mail of ${id}`, subjects.get(`Added ${id}`) ?? 0);
        const minutes = Math.floor(Date.now() / 60_000) - Math.floor(began / 60_000);
        const ticks = tags.get('minute') ?? 0;
        if (Math.abs(ticks - minutes) > 1) wrong.push(`${minutes} minutes passed, and ${ticks} were counted`);
        return {
          kills: KILLS,
          'records added': hives.length,
          'mails that came': mailed.size,
          'requests that arrived': `${service.calls()} for ${service.by.size}`,
          minutes: `${ticks} of ${minutes}`,
        };
      },
      // More than an app may send in a day otherwise, since the days of a trial are short.
      ['--outside', '127.0.0.1', '--mail', String(SMTP), '--day', 'mails=100000', '--day', 'runs=1000000'],
    );
  } finally {
    service.close();
  }
} // prettier-ignore
