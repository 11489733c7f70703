import { describe, expect, it } from 'vitest';
import { AppSchema } from '../core/app/schema.ts';
import { checkChange } from '../core/host/check.ts';
import { walkElements, walkSteps } from '../core/document/walk.ts';
import { ELEMENTS } from '../kinds/elements/index.ts';
import { STEPS } from '../kinds/steps/index.ts';
import { TRIGGERS } from '../kinds/triggers/index.ts';
import { preflight } from '../core/preflight/preflight.ts';
import { Records } from '../core/records/store.ts';
import { drawn } from '../core/session/fixture.ts';
import { recordProblem } from '../core/records/checks.ts';
import { makeDemo } from './heatherfield.ts';

const today = new Date('2026-11-23T10:00:00');
const { app, records } = makeDemo(today);
const open = (): Records => {
  const r = new Records(app, () => Date.UTC(2026, 10, 23, 12));
  for (const t of app.tables)
    r.load(
      t.id,
      records.filter((x) => x.table === t.id).map((x) => ({ ...x, cells: { ...x.cells } })),
    );
  return r;
};
const table = (name: string) => app.tables.find((t) => t.name === name)!;

describe('the demo', () => {
  it('is a valid app with nothing to look at', () => {
    expect(AppSchema.safeParse(app).success).toBe(true);
    expect(preflight(app)).toEqual([]);
  });
  it('uses every kind of element, step and trigger', () => {
    const steps = new Set<string>();
    for (const r of app.routines) walkSteps(r.steps, (s) => void steps.add(s.do));
    const elements = new Set<string>();
    for (const s of [...app.screens, ...app.parts!]) walkElements([s.root], (e) => void elements.add(e.kind));
    const starts = new Set(app.routines.flatMap((r) => r.starts ?? []).map((t) => t.on));
    // Nobody signs in here, by a service or by rules: so nobody signs out, and none but the maker looks back.
    expect(STEPS.map((d) => d.do).filter((d) => !steps.has(d))).toEqual(['look back', 'sign in', 'sign out']);
    expect(ELEMENTS.map((d) => d.kind).filter((d) => !elements.has(d))).toEqual([]);
    // A tap is kept with its element, and being run with the step that does it.
    const kept = TRIGGERS.filter((d) => 'begin' in d).map((d) => d.on as string);
    expect(kept.filter((d) => !starts.has(d as never))).toEqual([]);
  });
  it('comes out the same from the same seed', () => {
    expect(makeDemo(today)).toEqual({ app, records });
  });
  it('has a believable size', () => {
    const count = (name: string): number => records.filter((r) => r.table === table(name).id).length;
    expect(app.tables).toHaveLength(15);
    expect([count('Hives'), count('Visits'), count('Keepers'), count('Moves')]).toEqual([204, 1500, 60, 4860]);
  });
  it('holds only what its fields allow', () => {
    const r = open();
    for (const x of records) {
      expect(checkChange(app, { do: 'set', table: x.table, record: x.id, cells: x.cells })).toBeNull();
      expect(recordProblem(r, x.table, x.id, x.cells)).toBeNull();
    }
  });
  it('finds a hive for every visit and goods for every move', () => {
    const r = open();
    for (const name of ['Visits', 'Moves', 'Stock'])
      for (const row of r.rows(table(name).id)) expect(row.get(name === 'Visits' ? 'Hive' : 'Goods')).not.toBeNull();
  });
  it('has stock that is the sum of its moves', () => {
    const r = open();
    for (const goods of r.rows(table('Goods').id)) {
      const stock = (goods.get('Stock') as { get(n: string): unknown }[]).reduce(
        (n, s) => n + Number(s.get('Quantity')),
        0,
      );
      expect(goods.get('In all')).toBe(stock);
    }
  });
  it('draws every screen without a problem', () => {
    const r = open();
    for (const s of app.screens) {
      // What is fetched is not here.
      if (app.tables.some((t) => t.id === s.given && t.fetched)) continue;
      const page = drawn(app, r, s.id, s.given ? r.rows(s.given)[0]!.id : null);
      expect(page.problems, s.name).toEqual([]);
      expect(page.missing, s.name).toBeNull();
    }
  });
  it('names nobody outside: every mail address ends in .example', () => {
    const mails = JSON.stringify(records).match(/[\w.+-]+@[\w.-]+/g)!;
    expect(mails.filter((m) => !m.endsWith('.example'))).toEqual([]);
  });
});
