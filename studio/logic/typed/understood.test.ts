import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../../core/app/make.ts';
import type { App, Routine } from '../../../core/app/schema.ts';
import { Model } from '../../../core/records/model.ts';
import { F, hiveApp, T } from '../../../core/records/fixture.ts';
import { understood } from './understood.ts';

const make = new ElementMaker();
const app: App = {
  ...hiveApp(),
  screens: [{ id: 's_visit00000', name: 'Visit form', given: null, icon: 'list', root: make.box('down', []) }],
  variables: [{ id: 'v_score00000', name: 'Score', type: 'number', lasts: 'app', first: '0' }],
};
const routine: Routine = { id: 'q_routine000', name: 'Go', given: T.hives, steps: [] };
app.routines = [routine, { id: 'q_other00000', name: 'Tell everybody', given: T.hives, steps: [] }];
const model = new Model(app);
const first = (typed: string) => understood(typed, app, model, routine, make)[0];

describe('a step is understood from typed words', () => {
  it.each([
    ['mail keeper thank you', 'Send mail to this hive › Keeper › Mail: “Thank you”'],
    ['send a mail to the keeper about the honey', 'Send mail to this hive › Keeper › Mail: “The honey”'],
    ['show Well done', 'Show “Well done”'],
    ['raise weight by 5', 'Raise this hive: Weight by 5'],
    ['increase the weight by 2.5', 'Raise this hive: Weight by 2.5'],
    ['lower weight by 1', 'Lower this hive: Weight by 1'],
    ['raise weight', 'Raise this hive: Weight by 1'],
    ['add 5 to weight', 'Raise this hive: Weight by 5'],
    ['take 2 from its weight', 'Lower this hive: Weight by 2'],
    ['set weight to weight + 1', 'Raise this hive: Weight by 1'],
    ['set weight to weight - 3', 'Lower this hive: Weight by 3'],
    ['set status to retired', 'Set this hive: Status to Retired'],
    ['set weight to 12.5', 'Set this hive: Weight to 12.5'],
    ['set Score to 0', 'Set Score to 0'],
    ['set Score to Score * 2', 'Set Score to Score * 2'],
    ['add 2 to score', 'Add 2 to Score'],
    ['clear score', 'Clear Score'],
    ['open visit form', 'Open Visit form'],
    ['for each visit', 'For each: Visits'],
    ['for each visit 5 at once', 'For each: Visits, up to 5 at once'],
    ['for each visit 500 at once', 'For each: Visits'],
    ['if status is not retired', 'If this hive › Status is not Retired'],
    ['if weight is over 20, then', 'If this hive › Weight is over 20'],
    ['if count(all Visits) = 0', 'If count(all Visits) is 0'],
    ['if keeper is empty', 'If this hive › Keeper is empty'],
    ['wait 5 minutes', 'Wait 5 minutes'],
    ['ask if it is fed', 'Ask yes or no: “It is fed?”'],
    ['ask for the weight', 'Ask for a value: “The weight?”'],
    ['menu photo, gallery or neither', 'Menu: Photo, Gallery, Neither'],
    ['menu of the visits', 'Menu: one of Visits'],
    ['run tell everybody', 'Run Tell everybody'],
    ['remove', 'Remove this hive'],
    ['take a photo', 'Take a photo or pick a picture'],
    ['buzz', 'Buzz'],
  ])('%s', (typed, said) => expect(first(typed)?.said).toBe(said));
  it('what is not understood is told, and nothing is offered in its place', () => {
    expect(first('set status to retired')!.steps).toMatchObject([
      { values: [{ field: F.status, value: '"Retired"' }] },
    ]);
    expect(first('mail the moon')).toMatchObject({ steps: [{ do: 'mail', to: '' }], left: 'the moon' });
    for (const typed of [
      'add honey to weight',
      'set Score to much',
      'if the moon is full, go back',
      'open the moon',
      'xyzzy',
      'm',
    ])
      expect(first(typed), typed).toBeUndefined();
    expect(first('go back '.repeat(100))).toBeUndefined();
  });
  it('braces that were typed are values where they name one, and words where they do not', () => {
    const words = (typed: string) => (first(typed)!.steps[0] as { words: string }).words;
    expect(words('show {Weight} in all')).toBe(`{this_${T.hives}.${F.weight}} in all`);
    expect(words('show {Honey} in all')).toBe('{{Honey} in all');
    expect(first('set name to {Weight}')!.steps).toMatchObject([{ values: [{ value: '"{Weight}"' }] }]);
  });
  it('a text by which a link is matched takes what the record has there, and a person is no word', () => {
    const matched = hiveApp();
    const visit: Routine = { ...routine, given: T.visits };
    matched.routines = [visit];
    const of = (typed: string) => understood(typed, matched, new Model(matched), visit, make)[0];
    expect(of('set hive tag to HB-1')!.said).toBe('Set this visit: Hive tag to HB-1');
    expect(of('set hive tag to me')).toBeUndefined();
    expect(first('set name to me')).toBeUndefined();
  });
  it('a sentence without end is not read for ever', () => {
    let asked = 0;
    const counting = new Proxy(model, {
      get: (of, key) => {
        if (key === 'members') asked++;
        const got = Reflect.get(of, key, of) as unknown;
        return typeof got === 'function' ? got.bind(of) : got;
      },
    });
    understood(
      `if weight is over 20 ${'and mail keeper '.repeat(20)} then weigh it and look`,
      app,
      counting,
      routine,
      make,
    );
    expect(asked).toBeLessThan(100_000);
  });
});
