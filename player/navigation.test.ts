import { expect, it } from 'vitest';
import { hashOf, placeOfHash } from './navigation.ts';

it('a place in the address comes back as it went', () => {
  for (const place of [
    { screen: 's_hives00000', record: null },
    { screen: 's_hive000000', record: 'r_abc-DEF_9' },
  ])
    expect(placeOfHash(hashOf(place))).toEqual(place);
});
it('an address that names no screen is none', () => {
  for (const hash of ['', '#', '#/', '#/x_other', '#/s_a/../b', '#/s_abc/<script>'])
    expect(placeOfHash(hash)).toBeNull();
});
