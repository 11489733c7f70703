import { describe, expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { saidCondition } from './said-condition.ts';

const app = hiveApp({
  hives: [
    {
      id: 'f_second0000',
      name: 'Second keeper',
      type: 'link',
      link: { kind: 'picked', table: T.keepers, backName: 'Second hives' },
    },
  ],
});
const options = new Model(app).optionsFor(T.hives);

describe('a condition in words, where a formula is typed', () => {
  it.each([
    ['Second keeper is filled in', 'Second keeper != null'],
    ['second keeper is not filled in', 'Second keeper = null'],
    ['Keeper is empty', 'Keeper = null'],
    ['Weight is over 20', 'Weight > 20'],
    ['weight is at most 20', 'Weight <= 20'],
    ['Status is retired', 'Status = "retired"'],
    ['Status is not “Retired”', 'Status != "Retired"'],
    ['Name contains heather', 'contains(Name, "heather")'],
    ['Name is Tag code', 'Name = Tag code'],
    ['Weight is over 20 and Status is Active', 'Weight > 20 and Status = "Active"'],
    ['Keeper is empty or Second keeper is filled in', 'Keeper = null or Second keeper != null'],
    ['Keeper.Mail is filled in', 'Keeper.Mail != null'],
    ['Keeper.Lives nearby is yes', 'Keeper.Lives nearby = true'],
  ])('%s', (said, formula) => expect(saidCondition(said, options)).toBe(formula));

  it.each([
    'Wieght is over 20',
    'Weight is over heavy',
    'Weight',
    'Weight + 1',
    'Weight is over 20 and nonsense',
    '',
    'is',
  ])('not: %s', (said) => expect(saidCondition(said, options)).toBeNull());
  it('knows the fields by the names they have', () => {
    expect(app.tables[0]!.fields.some((f) => f.id === F.weight && f.name === 'Weight')).toBe(true);
  });
});
