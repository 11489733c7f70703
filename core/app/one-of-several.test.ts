import fc from 'fast-check';
import { expect, it } from 'vitest';
import { readSeveral, severalText } from './one-of-several.ts';

it('one more, one less and another value read back as they were written (property)', () => {
  const held = fc.constantFrom('this_t_a.f_some', 'all_t_people[item = person()][1].f_favourites');
  const value = fc.constantFrom('this_t_b', 'this_t_b.f_link', '"red"', 'r_new');
  const how = fc.constantFrom('to' as const, 'with' as const, 'without' as const);
  fc.assert(
    fc.property(held, how, value, (h, way, v) => {
      expect(readSeveral(h, severalText(h, { how: way, value: v }))).toEqual({ how: way, value: v });
    }),
  );
  // What another field holds is a value like any other.
  expect(readSeveral('this_t_a.f_some', 'union(this_t_a.f_other, [x])').how).toBe('to');
  expect(readSeveral('this_t_a.f_some', 'union(this_t_a.f_some, [x[1]])').how).toBe('to');
});
