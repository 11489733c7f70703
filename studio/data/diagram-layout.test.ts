import { expect, it } from 'vitest';
import { makeDemo } from '../../demo/heatherfield.ts';
import { BOX, layout } from './diagram-layout.ts';

it('no two tables of the demo lie upon each other, and what is linked to stands further left', () => {
  const { app } = makeDemo(new Date('2026-11-23'));
  const placed = layout(app);
  for (const a of placed) {
    for (const b of placed)
      if (a !== b) expect(Math.abs(a.x - b.x) < BOX.width && Math.abs(a.y - b.y) < BOX.height).toBe(false);
  }
  const x = (name: string): number => placed.find((p) => p.table.name === name)!.x;
  expect(x('Apiaries')).toBeLessThan(x('Hives'));
  expect(x('Hives')).toBeLessThan(x('Visits'));
});
it('a table that was moved stays where it was put', () => {
  const { app } = makeDemo(new Date('2026-11-23'));
  app.tables[0]!.place = { x: 500, y: 7 };
  expect(layout(app)[0]).toMatchObject({ x: 500, y: 7 });
});
