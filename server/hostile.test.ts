import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { App } from '../core/app/schema.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { change, KEY, OTHER, TestServer } from './fixture.ts';

/** Apps that would end the server, or hold it up, by being released. */

let t: TestServer;
beforeAll(async () => {
  t = await TestServer.start();
  await t.release('calm', OTHER, { ...hiveApp(), id: 'a_calm00000' });
});
afterAll(() => t.stop());

const times = (n: number, text: string): string => text.repeat(n);
let n = 0;
/** An app whose hives have a formula field, a check and a default with this formula, and whose screen shows it. */
function appWith(formula: string): App {
  const app = { ...hiveApp(), id: `a_hostile${n++}`.padEnd(11, '0') };
  app.tables[0]!.fields.push(
    { id: 'f_hostile0', name: 'Hostile', type: 'formula', formula },
    { id: 'f_checked0', name: 'Checked', type: 'text', check: { formula, words: 'No.' }, default: formula },
  );
  return app;
}
/** The other app goes on as ever. */
async function othersGoOn(): Promise<void> {
  expect((await t.push('calm', change({ [F.name]: 'Calm' }))).body['accepted']).toHaveLength(1);
  expect((await t.call('/api/apps/calm/app')).status).toBe(200);
}

describe('an app with a hostile formula', () => {
  it.each<[string, string]>([
    ['brackets', `${times(900, '(')}1${times(900, ')')}`],
    ['a long sum', `1${times(6000, '+1')}`],
    ['ifs', `${times(600, 'if true then ')}1${times(600, ' else 2')}`],
    ['contexts', `${times(1500, '{a: ')}1${times(1500, '}')}`],
    ['a billion turns', 'for x in 1..1000000000 return x'],
    ['a doubling list', 'for i in 1..60 return if i = 1 then [1] else concatenate(partial[-1], partial[-1])'],
    ['a catastrophic pattern', `matches("${times(60, 'a')}!", "^(a+)+$")`],
    ['half a formula', '((('],
  ])('%s: neither ends nor holds up the server, nor the app itself', async (_, formula) => {
    const name = `hostile${n}`;
    expect((await t.release(name, KEY, appWith(formula))).status).toBe(200);
    const receipt = (await t.push(name, change({ [F.name]: 'Bramble', f_checked0: 'x' }))).body;
    expect((receipt['accepted'] as string[]).length + (receipt['refused'] as string[]).length).toBe(1);
    await othersGoOn();
  });
  it('is there again after a restart', async () => {
    await t.restart();
    for (let i = 0; i < n; i++) expect((await t.call(`/api/apps/hostile${i}/changes?since=0`)).status).toBe(200);
    await othersGoOn();
  });
});

describe('an app that is too deep', () => {
  it('is refused in words', async () => {
    const app = hiveApp();
    let inner: object = { id: 'e_inner0000', kind: 'text', words: 'x', size: 'body' };
    for (let i = 0; i < 5000; i++)
      inner = {
        id: `e_box${String(i).padStart(6, '0')}`,
        kind: 'box',
        runs: 'down',
        gap: 0,
        inside: 0,
        surface: 'none',
        children: [inner],
      };
    app.screens[0]!.root = inner as App['screens'][number]['root'];
    // Made by hand: writing so deep a thing as JSON would end the test itself.
    const text = JSON.stringify({ app: { ...app, screens: [] }, icons: null });
    const deep = `${times(5000, '{"id":"e_box0000000","kind":"box","runs":"down","gap":0,"inside":0,"surface":"none","children":[')}${times(5000, ']}')}`;
    const body = text.replace(
      '"screens":[]',
      `"screens":[{"id":"s_deep00000","name":"Deep","given":null,"icon":"box","root":${deep}}]`,
    );
    const res = await fetch(`${t.url}/api/apps/deep`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', accept: 'application/json', 'x-owner-key': KEY },
      body,
    });
    expect([res.status, await res.text()]).toEqual([422, expect.stringContaining('inside one another')]);
    await othersGoOn();
  });
});

it('an app whose files are damaged keeps no other from being served', async () => {
  const said = vi.spyOn(console, 'error').mockImplementation(() => undefined);
  await t.release('broken', KEY, { ...hiveApp(), id: 'a_broken000' });
  const { writeFile } = await import('node:fs/promises');
  await t.restart(() => writeFile(`${t.folder}/data/broken/published.json`, '{"facts": {'));
  expect((await t.call('/api/apps/broken/app')).status).toBe(500);
  await othersGoOn();
  expect(said).toHaveBeenCalled();
  said.mockRestore();
});

it('290 formula fields, each on the one before, are taken and worked out', async () => {
  const app = { ...hiveApp(), id: 'a_long00000' };
  const id = (i: number): string => `f_step${String(i).padStart(4, '0')}`;
  for (let i = 0; i < 285; i++)
    app.tables[0]!.fields.push({
      id: id(i),
      name: `Step ${i}`,
      type: 'formula',
      formula: i ? `${id(i - 1)} + 1` : F.weight,
    });
  app.tables[0]!.titleField = id(284);
  expect((await t.release('long', KEY, app)).status).toBe(200);
  expect((await t.push('long', change({ [F.weight]: 1 }))).body['accepted']).toHaveLength(1);
  expect(T.hives).toBe(app.tables[0]!.id);
});
