import { describe, expect, it } from 'vitest';
import { preflight } from '../preflight/preflight.ts';
import { hiveApp } from '../records/fixture.ts';
import { addCases } from './cases.ts';
import { AppSchema } from './schema.ts';

describe('cases that come by mail', () => {
  it('are made of tables, screens and routines in which nothing is to be looked at', () => {
    const app = hiveApp();
    const routine = addCases(app);
    expect(AppSchema.safeParse(app).success).toBe(true);
    expect(preflight(app)).toEqual([]);
    expect(routine.starts).toEqual([{ on: 'mail came', by: 'person' }]);
    expect(app.tabs.map((t) => t.name)).toEqual(expect.arrayContaining(['Cases']));
  });
  it('find names that are free, also beside others', () => {
    const app = hiveApp();
    addCases(app);
    addCases(app);
    expect(AppSchema.safeParse(app).success).toBe(true);
    const names = [
      ...app.tables.map((t) => t.name),
      ...app.routines.map((r) => r.name),
      ...app.screens.map((s) => s.name),
    ];
    expect(app.tables.map((t) => t.name)).toEqual(expect.arrayContaining(['Cases', 'Cases 2', 'Messages 2']));
    for (const list of [app.tables, app.routines, app.screens])
      expect(new Set(list.map((x) => x.name)).size).toBe(list.length);
    expect(names.length).toBeGreaterThan(10);
  });
  it('are due by the opening hours where there are any', () => {
    const app = hiveApp();
    app.work = { days: Array.from({ length: 7 }, () => [[540, 1020]]), free: [] };
    expect(JSON.stringify(addCases(app))).toContain('after working time');
  });
});
