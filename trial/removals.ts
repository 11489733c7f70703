import { createHash } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { hiveApp } from '../core/records/fixture.ts';
import { call, change, KEY, push, onVictim, type Answer, type Findings } from './server.ts';

const ROUNDS = 120;

/** Asks for an app by every door it has: its changes, document, page, mail, outbox, check and the pieces of a file. */
function byEveryDoor(url: string, name: string, k: number): Promise<Answer> {
  const as = (path: string, init: Parameters<typeof call>[2] = {}): Promise<Answer> => call(url, path, init);
  const piece = Buffer.alloc(1000, `${name} ${k}`);
  const hash = createHash('sha256').update(piece).digest('base64url');
  const doors: (() => Promise<Answer>)[] = [
    () => push(url, name, [change(`h${k}`)]),
    () => as(`/api/apps/${name}/app`),
    () => as(`/a/${name}/`),
    () => as(`/a/${name}/sw.js`),
    () => as(`/api/apps/${name}/mail`, { json: { id: `mail-${k}-000`, to: ['a@b.example'], subject: 'x', body: 'y' } }),
    () =>
      as(`/api/apps/${name}/files/${hash}?offset=0&size=${piece.length}`, {
        method: 'PATCH',
        headers: { 'content-type': 'application/octet-stream' },
        body: piece,
      }),
    () => as(`/api/apps/${name}/outbox`, { key: KEY }),
    () => as(`/api/apps/${name}/check`, { key: KEY }),
  ];
  return doors[k % doors.length]!();
}

/** Apps that are removed while others use them: afterwards nothing serves them, and nothing is left of them. */
export const removals = (): Promise<Findings> =>
  onVictim('removals', async (victim, wrong) => {
    for (let i = 0; i < ROUNDS; i++) {
      const name = `app${i}`;
      const as = (path: string, init: Parameters<typeof call>[2] = {}) => call(victim.url, path, init);
      const app = { ...hiveApp(), id: `a_${name}`.padEnd(11, '0') };
      await as(`/api/apps/${name}`, { method: 'PUT', json: { app, icons: null }, key: KEY });
      const traffic = (n: number) => Array.from({ length: n }, (_, k) => byEveryDoor(victim.url, name, k + i));
      const all = [...traffic(12), as(`/api/apps/${name}`, { method: 'DELETE', key: KEY }), ...traffic(12)];
      for (const a of await Promise.all(all))
        if (a.status !== 200 && a.status !== 404) wrong.push(`${name}: answered ${a.status}`);
      for (const path of [`/api/apps/${name}/app`, `/a/${name}/`, `/api/apps/${name}/changes?since=0`])
        if ((await as(path)).status !== 404) wrong.push(`${name} is still served at ${path}`);
      // Its address is free for another.
      if (i % 10 === 0) {
        const key = 'other'.padEnd(43, 'k');
        const other = await as(`/api/apps/${name}`, {
          method: 'PUT',
          json: { app: { ...app, id: `a_new${i}`.padEnd(11, '0') }, icons: null },
          key,
        });
        if (other.status !== 200) wrong.push(`the address of ${name} is not free: ${other.status}`);
        const wait = await as(`/api/apps/${name}/changes`, {
          json: { changes: [change('waited')] },
          headers: { 'x-app-id': app.id },
        });
        if (wait.status !== 410) wrong.push(`what waited for ${name} was answered ${wait.status} by the next app`);
        const old = await as(`/api/apps/${name}/changes?since=0`, { headers: { 'x-app-id': app.id } });
        if (old.status !== 410) wrong.push(`a phone of ${name} was answered ${old.status} by the next app`);
        await as(`/api/apps/${name}`, { method: 'DELETE', key });
      }
      if ((await push(victim.url, name, [change('late')])).status !== 404) wrong.push(`${name} still takes changes`);
    }
    const left = (await readdir(victim.data)).filter((f) => /^app\d/.test(f));
    if (left.length) wrong.push(`files of ${left.length} removed apps are left: ${left[0]}`);
    return { removals: ROUNDS, 'doors that were tried during each': 24, 'addresses that changed hands': ROUNDS / 10 };
  });
