import { expect, it } from 'vitest';
import { makeDemo } from '../../demo/heatherfield.ts';
import { BOX, curve, layout } from './diagram-layout.ts';

const demo = () => makeDemo(new Date('2026-11-23')).app;

it('no two tables of the demo lie upon each other, and what is linked to stands further left', () => {
  const { tables } = layout(demo());
  for (const a of tables) {
    for (const b of tables)
      if (a !== b) expect(Math.abs(a.x - b.x) < BOX.width && Math.abs(a.y - b.y) < BOX.height).toBe(false);
  }
  const x = (name: string): number => tables.find((p) => p.table.name === name)!.x;
  expect(x('Apiaries')).toBeLessThan(x('Hives'));
  expect(x('Hives')).toBeLessThan(x('Visits'));
});
it('no line of the demo goes through a table that it does not belong to', () => {
  const app = demo();
  const { tables, routes } = layout(app);
  for (const t of app.tables)
    for (const f of t.fields) {
      const route = routes.get(f.id);
      if (!route) continue;
      for (let i = 1; i < route.length; i++)
        for (let s = 0; s <= 1; s += 0.1) {
          const [a, b] = [route[i - 1]!, route[i]!];
          const at = { x: a.x + (b.x - a.x) * s, y: a.y + (b.y - a.y) * s };
          for (const o of tables) {
            if (o.table.id === t.id || o.table.id === f.link!.table) continue;
            const isIn = at.x > o.x + 2 && at.x < o.x + BOX.width - 2 && at.y > o.y + 2 && at.y < o.y + BOX.height - 2;
            expect(isIn ? `${t.name}.${f.name} through ${o.table.name}` : '').toBe('');
          }
        }
    }
});
it('a table that was moved stays where it was put', () => {
  const app = demo();
  app.tables[0]!.place = { x: 500, y: 7 };
  expect(layout(app).tables[0]).toMatchObject({ x: 500, y: 7, moved: true });
});
it('a line goes through the ends of its way', () => {
  expect(curve([])).toBe('');
  expect(
    curve([
      { x: 0, y: 0 },
      { x: 5, y: 5 },
      { x: 9, y: 0 },
    ]),
  ).toBe('M0 0C2.5 0 2.5 5 5 5C7 5 7 0 9 0');
});
