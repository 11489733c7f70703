import { describe, expect, it } from 'vitest';
import { addField } from '../app/edits.ts';
import { addScreensFor } from '../app/screens-for.ts';
import { readApp } from '../app/document.ts';
import { MOST_COLUMNS, MOST_TABLES } from '../document/limits.ts';
import { bring } from './bring.ts';
import { makeApp } from './make-app.ts';

/** Sheets as wide and as many as nobody expects: what is made of them can be opened and released again. */

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const wide = (columns: number, name = 'C'): string =>
  [0, 1, 2]
    .map((r) => Array.from({ length: columns }, (_, c) => (r ? `${r}${c}` : `${name}${c}`)).join(','))
    .join('\n');
const made = async (files: { name: string; text: string }[]) => {
  const { drafts, data, links } = await bring(files.map((f) => ({ name: f.name, bytes: bytes(f.text) })));
  return { drafts, app: makeApp('Wide', drafts, data, links).app };
};

describe('a wide sheet', () => {
  it.each([199, 200, 201, 280])('of %i columns makes an app that opens', async (columns) => {
    const { app } = await made([{ name: 'wide.csv', text: wide(columns) }]);
    expect(app.tables[0]!.fields).toHaveLength(columns);
    expect(() => readApp(JSON.parse(JSON.stringify(app)))).not.toThrow();
  });
  it('of more columns than a table takes leaves the last ones out, and says so', async () => {
    const { drafts, app } = await made([{ name: 'wide.csv', text: wide(400) }]);
    expect(app.tables[0]!.fields).toHaveLength(MOST_COLUMNS);
    expect(drafts[0]!.notes.at(-1)).toBe(
      'It has 400 columns; a table takes 280 of them. Those from “C280” on are left out; take out others to bring them in.',
    );
    readApp(app);
  });
  it('whose left out columns are all taken back is refused with the bound', async () => {
    const { drafts, data } = await bring([{ name: 'wide.csv', bytes: bytes(wide(400)) }]);
    for (const c of drafts[0]!.columns) delete c.skip;
    expect(() => makeApp('Wide', drafts, data, [])).toThrow('would have 400 fields; up to 280');
  });
  it('keeps its inputs and readings all, in parts', async () => {
    const { app } = await made([{ name: 'wide.csv', text: wide(250) }]);
    const text = JSON.stringify(app.screens);
    for (const f of app.tables[0]!.fields) expect(text.split(f.id).length, f.name).toBeGreaterThan(1);
    const form = app.screens.find((s) => s.name.endsWith('form'))!;
    expect(JSON.stringify(form).match(/"kind":"input"/g)).toHaveLength(250);
  });
});

describe('many sheets', () => {
  it('make as many tables as an app holds, with all their screens', async () => {
    const files = Array.from({ length: MOST_TABLES }, (_, i) => ({ name: `t${i}.csv`, text: wide(3, `T${i}x`) }));
    const { app } = await made(files);
    expect(app.tables).toHaveLength(MOST_TABLES);
    expect(app.screens.length).toBeGreaterThanOrEqual(MOST_TABLES * 3);
    readApp(JSON.parse(JSON.stringify(app)));
  });
  it('are refused with the bound when they are more', async () => {
    const files = Array.from({ length: MOST_TABLES + 1 }, (_, i) => ({ name: `t${i}.csv`, text: 'a,b\n1,2\n' }));
    await expect(made(files)).rejects.toThrow('An app holds up to 200 tables; these would be 201.');
  });
  it('that all link to one give it a detail screen that opens', async () => {
    const keys = Array.from({ length: 30 }, (_, i) => `K${i}`);
    const files = [
      { name: 'hubs.csv', text: `Hub,Words\n${keys.map((k) => `${k},w${k}`).join('\n')}` },
      ...Array.from({ length: 120 }, (_, i) => ({
        name: `spoke${i}.csv`,
        text: `No,Hub\n${keys.map((k, j) => `${i}-${j},${k}`).join('\n')}`,
      })),
    ];
    const { app } = await made(files);
    expect(app.tables.flatMap((t) => t.fields).filter((f) => f.link).length).toBeGreaterThan(100);
    readApp(JSON.parse(JSON.stringify(app)));
  });
});

it('screens made later for a table that has become wide open too', async () => {
  const { app } = await made([{ name: 'wide.csv', text: wide(200) }]);
  for (let i = 0; i < 90; i++) addField(app, app.tables[0]!.id, 'text', `Later ${i}`);
  addScreensFor(app, app.tables[0]!.id);
  readApp(JSON.parse(JSON.stringify(app)));
});
