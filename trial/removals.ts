import { readdir } from 'node:fs/promises';
import { hiveApp } from '../core/records/fixture.ts';
import { call, change, KEY, push, onVictim, type Findings } from './server.ts';

const ROUNDS = 120;

/** Apps that are removed while others use them: afterwards nothing serves them, and nothing is left of them. */
export const removals = (): Promise<Findings> =>
  onVictim('removals', async (victim, wrong) => {
    for (let i = 0; i < ROUNDS; i++) {
      const name = `app${i}`;
      const as = (path: string, init: Parameters<typeof call>[2] = {}) => call(victim.url, path, init);
      const app = { ...hiveApp(), id: `a_${name}`.padEnd(11, '0') };
      await as(`/api/apps/${name}`, { method: 'PUT', json: { app, icons: null }, key: KEY });
      const traffic = (n: number) =>
        Array.from({ length: n }, (_, k) =>
          k % 3 === 0
            ? as(`/api/apps/${name}/changes`, { json: { changes: [change(`h${k}`)] } })
            : as(k % 3 === 1 ? `/api/apps/${name}/app` : `/a/${name}/`),
        );
      const all = [...traffic(6), as(`/api/apps/${name}`, { method: 'DELETE', key: KEY }), ...traffic(6)];
      for (const a of await Promise.all(all))
        if (a.status !== 200 && a.status !== 404) wrong.push(`${name}: answered ${a.status}`);
      for (const path of [`/api/apps/${name}/app`, `/a/${name}/`, `/api/apps/${name}/changes?since=0`])
        if ((await as(path)).status !== 404) wrong.push(`${name} is still served at ${path}`);
      if ((await push(victim.url, name, [change('late')])).status !== 404) wrong.push(`${name} still takes changes`);
    }
    const left = (await readdir(victim.data)).filter((f) => /^app\d/.test(f));
    if (left.length) wrong.push(`files of ${left.length} removed apps are left: ${left[0]}`);
    return { removals: ROUNDS };
  });
