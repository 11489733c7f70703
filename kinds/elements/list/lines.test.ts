import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Group } from '../../../core/records/groups.ts';
import type { Row } from '../../../core/records/row.ts';
import { linesOf } from './lines.ts';

it('the parts of a list under heads give the whole, whichever parts are asked for (property)', () => {
  const groups = fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 6 }).map((sizes) => {
    let n = 0;
    return sizes.map((size, g): Group => ({
      key: `g${g}`,
      label: `g${g}`,
      rank: null,
      rows: Array.from({ length: size }, () => `r${n++}` as unknown as Row),
    }));
  });
  fc.assert(
    fc.property(groups, fc.integer({ min: 1, max: 7 }), (all, step) => {
      const whole = all.flatMap((g) => [g.key, ...(g.rows as unknown as string[])]);
      const parts: string[] = [];
      for (let from = 0; from < whole.length; from += step) {
        const part = linesOf(all, from, step, (rows) => String(rows.length));
        expect(part.total).toBe(whole.length);
        const rows = [...(part.rows as unknown as string[])];
        for (let at = from; at < Math.min(whole.length, from + step); at++) {
          const head = part.heads.find((h) => h.at === at);
          parts.push(head ? head.key : rows.shift()!);
          if (head) expect(head.sum).toBe(String(head.count));
        }
        expect(rows).toEqual([]);
      }
      expect(parts).toEqual(whole);
    }),
  );
});
