import { describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { readApp } from './document.ts';
import { phoneHalf } from './halves.ts';
import type { App } from './schema.ts';

const whole = (): App => {
  const app = hiveApp();
  app.tables[0]!.view = {
    where: { match: 'all', conditions: [{ left: F.name, op: 'is', right: '"only the maker looks for this"' }] },
    order: [],
    group: null,
    hidden: [],
    widths: {},
    frozen: 0,
    figures: {},
  };
  app.tables[1]!.place = { x: 7, y: 7 };
  app.screens[0]!.place = { x: 7, y: 7 };
  app.look.icon.picture = 'data:image/png;base64,AAAA';
  return app;
};

describe('the half of a release that phones get', () => {
  it('is a document, with all that is shown and done', () => {
    const app = whole();
    const half = phoneHalf(app);
    expect(readApp(structuredClone(half))).toEqual(half);
    const { tables, screens, routines, files } = app;
    expect(half.tables.map((t) => t.fields)).toEqual(tables.map((t) => t.fields));
    expect(half.screens.map((s) => s.root)).toEqual(screens.map((s) => s.root));
    expect([half.routines, half.files]).toEqual([routines, files]);
    expect(half.tables.find((t) => t.id === T.hives)!.titleField).toBe(tables[0]!.titleField);
  });
  it('has nothing of what only its maker sees', () => {
    const app = whole();
    const before = structuredClone(app);
    const text = JSON.stringify(phoneHalf(app));
    for (const own of ['only the maker', '"place"', '"view"', 'base64,AAAA']) expect(text).not.toContain(own);
    // The document itself stays as it is.
    expect(app).toEqual(before);
  });
  it('has no part that nobody has decided on', () => {
    const app = { ...whole(), secrets: [{ key: 'hidden' }] } as unknown as App;
    expect(JSON.stringify(phoneHalf(app))).not.toContain('hidden');
  });
});
