import { expect, it } from 'vitest';
import type { Cell } from '../core/fields/lists.ts';
import { PageDrafts } from './drafts.ts';

it('what is typed and not saved is kept when it changes, and given back to its form alone', () => {
  const kept: [string, Record<string, Cell>][] = [];
  const drafts = new PageDrafts((form, changed) => kept.push([form, changed]));
  drafts.take({ 's_hive/e_form': { f_name: 'Clov' } });
  expect([drafts.at('s_hive/e_form'), drafts.at('s_visit/e_form')]).toEqual([{ f_name: 'Clov' }, {}]);
  drafts.set('s_hive/e_form', { f_name: 'Clov' });
  expect(kept).toEqual([]);
  drafts.set('s_hive/e_form', { f_name: 'Clover' });
  drafts.set('s_visit/e_form', { f_fed: true });
  expect(kept).toEqual([
    ['s_hive/e_form', { f_name: 'Clover' }],
    ['s_visit/e_form', { f_fed: true }],
  ]);
  drafts.drop(['s_hive/']);
  expect([drafts.at('s_hive/e_form'), drafts.at('s_visit/e_form')]).toEqual([{}, { f_fed: true }]);
});
