import { ElementMaker } from '../core/app/make.ts';
import type { App } from '../core/app/schema.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { accepted, call, change, KEY, onVictim, push, release, type Findings } from './server.ts';

const make = new ElementMaker();
/** A mark in a document, in whose place something is put that is deeper than JavaScript itself would write. */
const HERE = '(here)';
/** The JSON of a document with something in itself so many times at its mark. */
function deepText(app: unknown, depth: number, around: object): string {
  const [before, after] = JSON.stringify(app).split(`"${HERE}"`) as [string, string];
  const [head, tail] = JSON.stringify(around).split(`"${HERE}"`) as [string, string];
  return before + head.repeat(depth) + JSON.stringify(make.box('down', [])) + tail.repeat(depth) + after;
}
/** What is in a document as its JSON is sent as it is. */
class Json {
  constructor(readonly text: string) {}
}
const withRoot = (children: unknown[]): App => {
  const app = hiveApp();
  app.screens[0]!.root.children = children as never;
  return app;
};

/** Documents that are deep, wide, full of themselves, or as large as one may be. */
function hostile(): Record<string, unknown> {
  const box = make.box('down', []);
  const step = make.step('if', {});
  const parts = Array.from({ length: 40 }, (_, i) => ({
    id: `o_part${String(i).padStart(4, '0')}`,
    name: `Part ${i}`,
    given: null,
    icon: 'box',
    inputs: [],
    // Each holds the next one twice: drawn out they are 2 to the 40th.
    root: make.box('down', [
      make.make('part', { part: `o_part${String((i + 1) % 40).padStart(4, '0')}` }),
      make.make('part', { part: `o_part${String((i + 1) % 40).padStart(4, '0')}` }),
    ]),
  }));
  const routines = (steps: unknown[]): App => ({
    ...hiveApp(),
    routines: [{ id: 'q_deep00000', name: 'Deep', given: null, steps: steps as never }],
  });
  const large = (bytes: number): App => ({
    ...hiveApp(),
    files: Array.from({ length: Math.floor(bytes / 1_400_000) }, (_, i) => ({
      id: `i_file${String(i).padStart(4, '0')}`,
      name: `${i}.png`,
      type: 'image/png',
      data: 'A'.repeat(1_400_000),
    })),
  });
  return {
    'boxes in boxes': new Json(deepText(withRoot([HERE]), 50_000, { ...box, children: [HERE] })),
    'boxes side by side': withRoot(Array.from({ length: 50_000 }, () => box)),
    'ways in ways': new Json(deepText(routines([HERE]), 50_000, { ...step, then: [HERE] })),
    'steps after steps': routines(Array.from({ length: 60_000 }, () => step)),
    'parts in one another': { ...withRoot([make.make('part', { part: 'o_part0000' })]), parts },
    'fields by the thousand': {
      ...hiveApp(),
      tables: [
        {
          ...hiveApp().tables[0],
          fields: Array.from({ length: 20_000 }, (_, i) => ({
            id: `f_x${i}`.padEnd(11, '0'),
            name: 'X',
            type: 'text',
          })),
        },
      ],
    },
    'formulas of formulas': {
      ...hiveApp(),
      tables: hiveApp().tables.map((t, i) => ({
        ...t,
        fields: i
          ? t.fields
          : [
              ...t.fields,
              ...Array.from({ length: 200 }, (_, k) => ({
                id: `f_g${k}`.padEnd(11, '0'),
                name: `G${k}`,
                type: 'formula',
                formula: k ? `${`f_g${k - 1}`.padEnd(11, '0')} + ${`f_g${k - 1}`.padEnd(11, '0')}` : '1',
              })),
            ],
      })),
    },
    'as large as may be': large(20_000_000),
    larger: large(60_000_000),
    'no document': 'x'.repeat(1_000_000),
    'lists for an app': Array.from({ length: 1000 }, () => hiveApp()),
    'a prototype': JSON.parse('{"__proto__":{"name":"x"},"constructor":{"prototype":{}}}') as unknown,
  };
}

/** Hostile documents, released one after another beside an app that goes on; and ten releases of a large one. */
export const documents = (): Promise<Findings> =>
  onVictim('documents', async (victim, wrong) => {
    await release(victim.url, 'calm');
    const answers: string[] = [];
    let slowest = 0;
    let peak = 0;
    let n = 0;
    const beside = async (what: string): Promise<void> => {
      const started = performance.now();
      if (accepted(await push(victim.url, 'calm', [change(`c${++n}`)])).length !== 1)
        wrong.push(`no change was taken beside “${what}”`);
      slowest = Math.max(slowest, performance.now() - started);
      peak = Math.max(peak, await victim.memory());
    };
    for (const [what, app] of Object.entries(hostile())) {
      const name = `hard-${what.replace(/[^a-z]+/g, '-')}`.slice(0, 40).replace(/-$/, '');
      const text = app instanceof Json ? app.text : JSON.stringify(app);
      const released = call(victim.url, `/api/apps/${name}`, {
        method: 'PUT',
        key: KEY,
        headers: { 'content-type': 'application/json' },
        body: `{"app":${text},"icons":null}`,
      });
      await beside(what);
      const { status } = await released;
      answers.push(String(status));
      if (status >= 500) wrong.push(`“${what}” is answered ${status}`);
      if (status === 200)
        for (const path of [`/a/${name}/`, `/a/${name}/sw.js`, `/api/apps/${name}/app`])
          if ((await call(victim.url, path)).status >= 500) wrong.push(`${path} is answered 500`);
      await beside(what);
    }
    const large = hostile()['as large as may be'];
    for (let i = 0; i < 10; i++) {
      const { status } = await release(victim.url, `large-${i}`, large);
      if (status >= 500) wrong.push(`a large release is answered ${status}`);
      const asked = Promise.all(Array.from({ length: 30 }, () => call(victim.url, `/a/large-${i}/sw.js`)));
      await beside('large releases');
      if ((await asked).some((a) => a.status >= 500)) wrong.push('a worker of a large release is answered 500');
    }
    if (victim.ended) wrong.push('the server ended');
    if (slowest > 5000) wrong.push(`a change of another app took ${Math.round(slowest)} ms`);
    if (peak > 1500) wrong.push(`the server took ${Math.round(peak)} MB`);
    return {
      answers: answers.join(', '),
      'slowest change beside them, ms': Math.round(slowest),
      'MB at most': Math.round(peak),
    };
  });
