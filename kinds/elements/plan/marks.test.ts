import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newContext, type Value } from '../../../core/formula/values.ts';
import type { Row } from '../../../core/records/row.ts';
import { onMap, onPlan } from './marks.ts';

const rows = (places: Value[]): { rows: Row[]; at: (r: Row) => Value } => ({
  rows: places.map((_, i) => ({ id: String(i) }) as unknown as Row),
  at: (r) => places[Number(r.id)]!,
});
const earth = (latitude: number, longitude: number): Value => newContext(Object.entries({ latitude, longitude }));
const map = (...places: Value[]) => {
  const { rows: all, at } = rows(places);
  return onMap(all, at, (r) => r.id);
};

describe('marks on a map', () => {
  it('all stand inside it, north above south and east right of west, in true proportion (property)', () => {
    const place = fc.tuple(
      fc.double({ min: -80, max: 80, noNaN: true }),
      fc.double({ min: -60, max: 60, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(place, { minLength: 1, maxLength: 20 }), (places) => {
        const { marks, ground } = map(...places.map(([a, o]) => earth(a, o)));
        expect(marks).toHaveLength(places.length);
        marks.forEach((m, i) => {
          expect(m.x).toBeGreaterThan(0);
          expect(m.x).toBeLessThan(1);
          expect(m.y).toBeGreaterThan(0);
          expect(m.y).toBeLessThan(1);
          const [first] = marks;
          if (places[i]![0] > places[0]![0] + 1e-6) expect(m.y).toBeLessThan(first!.y);
          if (places[i]![1] > places[0]![1] + 1e-6) expect(m.x).toBeGreaterThan(first!.x);
        });
        expect(ground.scale!.share).toBeGreaterThan(0.05);
        expect(ground.scale!.share).toBeLessThanOrEqual(0.25 + 1e-9);
      }),
    );
  });
  it('say how far it is: a degree of latitude is 111 km', () => {
    const { marks, ground } = map(earth(50, 0), earth(51, 0));
    const height = (marks[0]!.y - marks[1]!.y) / ground.ratio;
    const km = Number(ground.scale!.said.replace(' km', ''));
    expect((height / ground.scale!.share) * km).toBeCloseTo(111.3, 0);
  });
  it('lie beside each other across the 180th meridian', () => {
    const { marks } = map(earth(-17, 179.9), earth(-17, -179.9));
    expect(marks[0]!.x).toBeLessThan(marks[1]!.x);
    expect(map(earth(0, 0)).marks[0]).toMatchObject({ x: 0.5, y: 0.5 });
    expect(map(null).marks).toEqual([]);
  });
});

it('marks on a plan stand where their shares say', () => {
  const { rows: all, at } = rows([newContext(Object.entries({ x: 0.25, y: 0.5 })), null, 'near the door']);
  expect(onPlan(all, at, () => 'Store')).toEqual([{ record: '0', label: 'Store', x: 0.25, y: 0.5 }]);
});
