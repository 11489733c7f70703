import { describe, expect, it } from 'vitest';
import type { Where } from '../document/pieces.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { givesRole } from './gives-role.ts';

const STATE = 'f_state000';
const app = { ...hiveApp({ keepers: [{ id: STATE, name: 'State', type: 'choice', choices: [] }] }), people: T.keepers };
const cells = (...conditions: Where['conditions']) =>
  givesRole(app, { id: 'r_role00000', name: 'Role', where: { match: 'all', conditions } });

describe('what gives somebody a role', () => {
  it('is what its conditions ask of fields of their record', () => {
    expect(cells({ left: F.nearby, op: 'holds', right: '' })).toEqual({ [F.nearby]: true });
    expect(cells({ left: F.nearby, op: 'is', right: 'true' })).toEqual({ [F.nearby]: true });
    expect(
      cells({ left: STATE, op: 'is', right: '"In \\"charge\\""' }, { left: F.nearby, op: 'holds', right: '' }),
    ).toEqual({
      [STATE]: 'In "charge"',
      [F.nearby]: true,
    });
  });
  it('is nothing where they ask for more', () => {
    expect(cells()).toBeNull();
    expect(cells({ left: F.nearby, op: 'is', right: 'false' })).toBeNull();
    expect(cells({ left: STATE, op: 'is', right: `${F.mail}` })).toBeNull();
    expect(cells({ left: STATE, op: 'is not', right: '"x"' })).toBeNull();
    expect(cells({ left: `${F.keeper}.${F.nearby}`, op: 'holds', right: '' })).toBeNull();
    expect(cells({ left: F.nearby, op: 'holds', right: '' }, { left: F.nearby, op: 'holds', right: '' })).toBeNull();
    const where = { match: 'any' as const, conditions: [{ left: F.nearby, op: 'holds' as const, right: '' }] };
    expect(givesRole(app, { id: 'r_role00000', name: 'Role', where })).toEqual({ [F.nearby]: true });
  });
});
