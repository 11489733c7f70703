import { readdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ALL_RECORDS } from '../core/access/plain.fixture.ts';
import type { AppAccess } from '../core/app/access-schema.ts';
import { hashOf } from '../core/fields/keep-file.ts';
import { keptAddress } from '../core/fields/kept-file.ts';
import { stampText } from '../core/host/clock.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import { make, routine } from '../core/runs/fixture.ts';
import { KEY, TestServer } from './fixture.ts';
import { RecordsLog } from './records-log.ts';

/** Ines is erased; what is told of here is hers alone, and must be in no file of the server afterwards. */
const MAIL = 'ines.fenn@h.example';
const HERS = ['Ines Fennimore', MAIL, 'her secret remark', 'a photo of hers', 'an earlier remark'];
const PHOTO = new TextEncoder().encode(HERS[3]!);
const HASH = hashOf(PHOTO);
const OWN = { match: 'all' as const, conditions: [{ left: F.keeper, op: 'is' as const, right: 'person()' }] };

const access = (...may: AppAccess['rules'][number]['may']): AppAccess => ({
  opens: 'people',
  mail: F.mail,
  roles: [],
  rules: [
    { id: 'u_people000', who: 'signed in', may: ['see', ...may], table: T.keepers, where: ALL_RECORDS },
    { id: 'u_hives0000', who: 'signed in', may: ['see', ...may], table: T.hives, where: OWN },
  ],
});

let server: TestServer;
let n = 0;
const at = (path: string): string => `/api/apps/bees${path}`;
const set = (table: string, record: string, cells: Record<string, unknown>) => ({
  id: `c${++n}`,
  stamp: stampText(Date.now(), n % 1000, 'test'),
  table,
  record,
  do: 'set',
  cells,
});
const push = async (...changes: object[]): Promise<void> => {
  const { body } = await server.call(at('/changes'), { json: { changes }, key: KEY });
  expect(body['refused']).toEqual([]);
};
const comes = async (mail: string): Promise<string> => {
  const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
  const [{ token }] = body['invited'] as [{ token: string }];
  const { headers } = await server.call(at('/sign-in/invited'), { json: { token } });
  return headers.getSetCookie()[0]!.split(';')[0]!;
};
const cellsOf = async (record: string): Promise<Record<string, unknown> | undefined> => {
  const { body } = await server.call(at('/compared'), {
    json: { after: null, upTo: null, records: [] },
    key: KEY,
  });
  return (body['states'] as { id: string; cells: Record<string, unknown> }[]).find((s) => s.id === record)?.cells;
};
/** Every file of the app, by its name, as text. */
async function files(folder = join(server.folder, 'data')): Promise<Map<string, string>> {
  const all = new Map<string, string>();
  for (const name of await readdir(folder, { recursive: true })) {
    const path = join(folder, name);
    if ((await stat(path)).isFile()) all.set(name, await readFile(path, 'latin1'));
  }
  return all;
}
/** Where something of hers is found: in which files. */
const found = async (texts: readonly string[] = HERS): Promise<string[]> =>
  [...(await files())].flatMap(([name, text]) => (texts.some((t) => text.includes(t)) ? [name] : [])).sort();

async function begin(rules: AppAccess): Promise<void> {
  await server.release('bees', KEY, { ...hiveApp(), people: T.keepers, access: rules });
  await fetch(`${server.url}${at(`/files/${HASH}?offset=0&size=${PHOTO.length}`)}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/octet-stream', 'x-owner-key': KEY },
    body: PHOTO,
  });
  const photo = keptAddress({ hash: HASH, type: 'image/png', size: PHOTO.length, name: 'p.png' });
  await push(
    set(T.keepers, 'ines', { [F.keeperName]: HERS[0], [F.mail]: MAIL }),
    set(T.keepers, 'tom', { [F.keeperName]: 'Tom', [F.mail]: 'tom@h.example' }),
    set(T.hives, 'fern', { [F.name]: HERS[4], [F.keeper]: 'ines', [F.tag]: photo }),
    set(T.hives, 'fern', { [F.name]: HERS[2] }),
    set(T.hives, 'moss', { [F.name]: MAIL.toUpperCase(), [F.keeper]: 'tom' }),
    set(T.visits, 'v1', { [F.hiveTag]: 'x' }),
  );
  const mail = (id: string, to: string[]) => ({ id, to, subject: 'About hives', body: `For ${to.join()}` });
  for (const m of [mail('m_alone00', [MAIL]), mail('m_both000', [MAIL, 'tom@h.example'])])
    await server.call(at('/mail'), { json: m, key: KEY });
  await server.call(at('/sign-in'), { json: { mail: MAIL } });
}

beforeEach(async () => {
  server = await TestServer.start();
});
afterEach(() => server.stop());

describe('somebody is erased', () => {
  it('with the runs that are about them and the mails that came from them', async () => {
    await begin(access('change'));
    const app = { ...hiveApp(), people: T.keepers, access: access('change') };
    const until = {
      match: 'all' as const,
      conditions: [{ left: `this_${T.keepers}.${F.keeperName}`, op: 'is' as const, right: '"x"' }],
    };
    const hold = make.step('hold', { when: until, time: 'duration("P9D")', late: [] });
    const inputs = [
      { id: 'i_words000', name: 'Words', type: 'text' as const, first: '', from: 'words of the mail' as const },
    ];
    app.routines = [
      routine('Held', 'record changed', { table: T.keepers, how: 'changed' }, [hold], { given: T.keepers }),
      routine('Mail', 'mail came', {}, [make.step('wait', { time: 'duration("P9D")' })], { given: null, inputs }),
    ];
    await server.release('bees', KEY, app);
    await push({ ...set(T.keepers, 'ines', {}), do: 'set', cells: { [F.keeperName]: HERS[0] } });
    await push({ ...set(T.keepers, 'ines', {}), do: 'set', cells: { [F.nearby]: true } });
    await push({ ...set(T.keepers, 'tom', {}), do: 'set', cells: { [F.nearby]: true } });
    const json = { from: MAIL, name: HERS[0], subject: 'Hello', words: `I am ${HERS[0]}` };
    expect((await server.call(at('/mailbox'), { json, key: KEY })).body).toEqual({ sent: true });
    const live = async (): Promise<string[]> => {
      const { body } = await server.call(at('/runs'), { key: KEY });
      return (body as unknown as BoardMessage).live.map((r) => r.stands);
    };
    for (let i = 0; i < 100 && (await live()).filter((s) => s === 'holds').length < 3; i++)
      await new Promise((done) => setTimeout(done, 30));
    expect(await live()).toEqual(['holds', 'holds', 'holds']);
    await server.call(at('/people/ines/erase'), { json: { tables: [T.hives] }, key: KEY });
    expect(await found()).toEqual([]);
    expect(await live()).toEqual(['holds']);
    await server.restart();
    expect([await live(), await found()]).toEqual([['holds'], []]);
  });

  it('and nothing of theirs is in any file, answer or list of who signed in', async () => {
    await begin(access('change'));
    const ines = await comes(MAIL);
    await server.call(at('/invitations'), { json: { mails: [MAIL] }, key: KEY });
    const change = { ...set(T.hives, 'moss2', {}), do: 'set', cells: { [F.name]: 'Moss' } };
    await push(change);
    expect((await found()).length).toBeGreaterThan(4);
    const { body: would } = await server.call(at('/people/ines/erasable'), { key: KEY });
    expect(would).toEqual({
      name: HERS[0],
      mail: MAIL,
      tables: [{ id: T.hives, name: 'Hives', records: 1, may: 1 }],
    });
    const erased = await server.call(at('/people/ines/erase'), { json: { tables: [T.hives] }, key: KEY });
    expect([erased.status, erased.body]).toEqual([200, { erased: true }]);

    expect(await found()).toEqual([]);
    expect((await found([HASH])).concat(await readdir(join(server.folder, 'data/bees/files')))).toEqual([]);
    expect([await cellsOf('ines'), await cellsOf('fern'), (await cellsOf('moss'))![F.name]]).toEqual([
      undefined,
      undefined,
      null,
    ]);
    expect((await server.call(at('/changes?since=0'), { headers: { cookie: ines } })).status).toBe(401);
    const { text } = await server.call(at('/people'), { key: KEY });
    expect(text).not.toContain(MAIL);
    // What went to others too stays, without her.
    const outbox = (await server.call(at('/outbox'), { key: KEY })).text;
    expect([outbox.includes('m_both000'), outbox.includes('m_alone00'), outbox.toLowerCase().includes(MAIL)]).toEqual([
      true,
      false,
      false,
    ]);
    // She comes back by nothing: neither brought back, nor written to, nor after a restart.
    for (const more of [{ do: 'restore', cells: { [F.name]: 'x' } }, {}]) {
      const { body } = await server.call(at('/changes'), {
        json: { changes: [{ ...set(T.hives, 'fern', { [F.name]: 'x' }), ...more }] },
        key: KEY,
      });
      expect(body['refused']).toHaveLength(1);
    }
    await server.restart();
    expect([await cellsOf('ines'), (await cellsOf('moss'))![F.name]]).toEqual([undefined, null]);
    expect(await found()).toEqual([]);
  });
  it('and records that stay say “a former keeper”, by one id for all of them, also in their history', async () => {
    await begin(access('change'));
    await push(set(T.hives, 'rush', { [F.name]: 'Rush', [F.keeper]: 'ines' }));
    await server.call(at('/people/ines/erase'), { json: { tables: [] }, key: KEY });
    const [fern, rush] = [(await cellsOf('fern'))!, (await cellsOf('rush'))!];
    expect(fern[F.keeper]).toMatch(/^former-[a-z0-9]{10}$/);
    expect(rush[F.keeper]).toBe(fern[F.keeper]);
    // What she wrote about a hive that stays is the hive’s.
    expect(fern[F.name]).toBe(HERS[2]);
    expect(await found([HERS[0]!, MAIL])).toEqual([]);
    const { text } = await server.call(at('/history/t_hives00/rush'), { key: KEY });
    expect(text).not.toContain('"ines"');
    expect(text).toContain(String(fern[F.keeper]));
  });
  it('by themselves, where a rule lets them remove their record; with theirs that they may remove', async () => {
    await begin(access('remove'));
    const ines = await comes(MAIL);
    const tom = await comes('tom@h.example');
    const as = (cookie: string) => ({ headers: { cookie } });
    const { body } = await server.call(at('/mine/erasable'), as(ines));
    expect(body['tables']).toEqual([{ id: T.hives, name: 'Hives', records: 1, may: 1 }]);
    // Nobody erases anybody else, and without a session nobody.
    const others = await server.call(at('/people/ines/erase'), { json: { tables: [] }, ...as(tom) });
    expect(others.status).toBe(401);
    expect((await server.call(at('/mine/erase'), { json: { tables: [] } })).status).toBe(401);
    const done = await server.call(at('/mine/erase'), { json: { tables: [T.hives] }, ...as(ines) });
    expect([done.status, done.headers.getSetCookie()[0]]).toEqual([200, expect.stringContaining('Max-Age=0')]);
    expect(await found()).toEqual([]);
    expect(await cellsOf('tom')).toBeDefined();
  });
  it('not by themselves where no rule lets them', async () => {
    await begin(access('change'));
    const ines = await comes(MAIL);
    const asked = await server.call(at('/mine/erase'), { json: { tables: [] }, headers: { cookie: ines } });
    expect([asked.status, asked.body]).toEqual([403, { error: 'In this app only its maker erases people.' }]);
    expect(await cellsOf('ines')).toBeDefined();
  });
  it('and what a stop cut off is gone on with at the start', async () => {
    await begin(access('change'));
    await server.restart(async () => {
      const folder = join(server.folder, 'data/bees');
      await writeFile(
        join(folder, 'erasing.json'),
        JSON.stringify({
          person: 'ines',
          former: 'former-abcdefghij',
          records: ['ines', 'fern'],
          mail: MAIL,
          name: HERS[0],
          named: [],
          files: [HASH],
        }),
      );
      // A line that a crash has damaged names her too.
      const log = await RecordsLog.open(folder);
      await log.log.close();
      const [segment] = (await readdir(folder)).filter((f) => f.startsWith('changes-'));
      const path = join(folder, segment!);
      await writeFile(path, `${await readFile(path, 'utf8')}{"half of ${MAIL}\n`);
    });
    expect(await cellsOf('fern')).toBeUndefined();
    // Her sessions are kept beside what was cut off.
    expect((await found()).filter((f) => !f.includes('sign-ins'))).toEqual([]);
    expect(await readFile(join(server.folder, 'data/bees/erasing.json'), 'utf8')).toBe('');
  });
});
