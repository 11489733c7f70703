import { expect, it } from 'vitest';
import { ElementMaker } from '../core/app/make.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { factsOf } from './facts.ts';

it('the kinds of an app are told, so that phones have them without a network: those of screens, parts, fields, variables and routines', () => {
  const app = hiveApp();
  const make = new ElementMaker();
  const fresh = (kind: 'badge' | 'countdown') => make.make(kind, {});
  const root = (...children: ReturnType<typeof fresh>[]) => make.box('down', children);
  app.screens = [{ id: 's_home00000', name: 'Home', given: null, icon: 'house', root: root(fresh('badge')) }];
  app.parts = [
    { id: 'g_part00000', name: 'Part', given: null, icon: 'house', inputs: [], root: root(fresh('countdown')) },
  ];
  app.variables = [{ id: 'v_wait00000', name: 'Wait', type: 'duration', lasts: 'app', first: '' }];
  app.routines = [
    {
      id: 'q_routine000',
      name: 'Save',
      given: null,
      starts: [{ on: 'app started' }],
      steps: [{ id: 'p_save00000', do: 'message', words: 'Saved' }],
    },
  ];
  const { kinds } = factsOf(app);
  expect(kinds).toEqual(
    expect.arrayContaining([
      'elements/box',
      'elements/badge',
      'elements/countdown',
      'fields/text',
      'fields/duration',
      'steps/message',
      'triggers/app-started',
    ]),
  );
  expect(kinds.filter((k) => /^(elements|steps|triggers)/.test(k))).toHaveLength(5);
});
