import '../given/all.ts';
import { expect, it } from 'vitest';
import type { App, Routine } from '../../core/app/schema.ts';
import { noConditions } from '../../core/document/queries.ts';
import { Model } from '../../core/records/model.ts';
import { F, hiveApp, T } from '../../core/records/fixture.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { make, routine } from '../../core/runs/fixture.ts';
import { hostRoutines } from './host-routines.ts';

const said = (routines: Routine[], change: (app: App) => void = () => undefined): string[] => {
  const app = hiveApp();
  app.routines.push(...routines);
  change(app);
  return hostRoutines.find({ app, model: new Model(app), steps: stepKinds } as never).map((n) => n.said);
};
const note = make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: '"x"' }] });

it('says which step of a routine of the server needs a phone, also in one that it runs', () => {
  const inner: Routine = {
    id: 'q_inner000',
    name: 'Inner',
    given: null,
    steps: [make.step('message', { words: 'Hi' })],
  };
  const outer = routine('Outer', 'record changed', {}, [note, make.step('run', { routine: inner.id })]);
  expect(said([inner])).toEqual([]);
  expect(said([inner, outer])).toEqual([
    'Outer: it starts on the server, where there is no phone for the step “Show a message”.',
  ]);
});

it('says what is given otherwise than it is needed, and times that are none', () => {
  expect(said([routine('A', 'clock', {}, [note])])).toEqual([
    'A: it works with a hive, and what starts it on the server gives none.',
  ]);
  const each = { for: { table: T.hives, where: noConditions(), order: [], limit: null } };
  expect(said([routine('A', 'clock', each, [note])])).toEqual([]);
  expect(said([routine('A', 'record changed', { table: T.visits }, [note])])).toEqual([
    'A: it works with a hive, and what starts it on the server gives a visit.',
  ]);
  expect(said([routine('A', 'record changed', { how: 'removed' }, [note])])[0]).toContain('not there any more');
  expect(said([routine('A', 'clock', { time: '25:61' }, [note], { given: null })])[0]).toContain('is not a time');
});

it('says values that only phones have', () => {
  const variable = { id: 'v_count000', name: 'Count', type: 'number' as const, first: '' };
  const names = make.step('add', { table: T.visits, values: [{ field: F.fed, value: 'v_count000 + 1' }] });
  expect(said([routine('A', 'record changed', {}, [names])], (app) => (app.variables = [variable] as never))).toEqual([
    'A: it starts on the server, where the variable Count has no value.',
  ]);
});

it('says which step needs the server where a routine starts on a phone, and that nobody comes to an app that is open to all', () => {
  const ask = make.step('ask somebody', { to: '"Ines"', words: 'May it?' });
  const onPhone = routine('Tapped', 'form', { table: T.hives, how: 'saved' }, [ask]);
  expect(said([onPhone])).toEqual([
    'Tapped: it starts on phones, which are closed before anybody answers the step “Ask somebody”. Start it on the server: when a record is changed, say.',
  ]);
  expect(said([routine('Asks', 'record changed', {}, [ask])])).toEqual([]);
  const came = routine('Came', 'person came', {}, [note], { given: T.keepers });
  expect(said([came])).toEqual([
    'Came: it starts when people come, and nobody signs in to an app that is open to all. Choose in People who may open it.',
  ]);
  const signsIn = (app: App): void => {
    app.people = T.keepers;
    app.access = { opens: 'people', mail: F.mail, roles: [], rules: [] } as never;
  };
  expect(said([came], signsIn)).toEqual([]);
});
