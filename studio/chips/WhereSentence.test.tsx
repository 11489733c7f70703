// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, it } from 'vitest';
import type { Where } from '../../core/document/pieces.ts';
import { F, T, hiveApp } from '../../core/records/fixture.ts';
import { openApp, show } from '../fixture.tsx';
import { WhereSentence } from './WhereSentence.tsx';

/** The sentence as a maker meets it: what it says is what is kept. */
function sentence(start: Where['conditions'] = [], app = hiveApp()) {
  openApp(app, { trying: { values: async () => [] } });
  const kept: Where[] = [];
  function Kept() {
    const [where, setWhere] = useState<Where>({ match: 'all', conditions: start });
    kept.push(where);
    return <WhereSentence where={where} onChange={setWhere} place={{ self: T.hives, things: [] }} />;
  }
  const { container } = show(<Kept />);
  return { now: () => kept.at(-1)!, says: () => container.textContent.replace(/ +/g, ' ').trim() };
}
const press = (name: string): Promise<void> => userEvent.click(screen.getByRole('button', { name }));

it('is built word by word: what, how, with what', async () => {
  const s = sentence();
  expect(s.says()).toBe('where any');
  await press('any: add a condition');
  await press('Condition 1: choose a field');
  await userEvent.keyboard('weight{Enter}');
  await press('Comparison: is');
  await userEvent.click(screen.getByText('is over'));
  await press('Compared with 1: choose a value');
  await userEvent.keyboard('15');
  await userEvent.click(screen.getByText('Use “15”'));
  expect(s.now()).toEqual({ match: 'all', conditions: [{ left: F.weight, op: 'over', right: '15' }] });
  expect(s.says()).toBe('where Weight is over 15');
});
it('joins all of them by and, or all by or', async () => {
  const s = sentence([
    { left: F.weight, op: 'over', right: '15' },
    { left: F.name, op: 'is filled', right: '' },
    { left: F.tag, op: 'is empty', right: '' },
  ]);
  expect(s.says()).toBe('where Weight is over 15 and Name is filled in and Tag code is empty');
  await userEvent.click(screen.getAllByRole('button', { name: 'Join by and or or' })[0]!);
  expect(s.now().match).toBe('any');
  expect(s.says()).toContain('15 or Name is filled in or Tag code');
});
it('takes the one away that is pressed, and is “any” without', async () => {
  const s = sentence([
    { left: F.weight, op: 'over', right: '15' },
    { left: F.name, op: 'is filled', right: '' },
  ]);
  await press('Remove condition 1');
  expect(s.now().conditions).toEqual([{ left: F.name, op: 'is filled', right: '' }]);
  await press('Remove condition 1');
  expect(s.says()).toBe('where any');
});
it('a yes or no is asked for yes at once', async () => {
  const s = sentence([{ left: '', op: 'is', right: '' }]);
  await press('Condition 1: choose a field');
  await userEvent.keyboard('lives nearby{Enter}');
  expect(s.now().conditions[0]).toEqual({ left: `${F.keeper}.${F.nearby}`, op: 'is', right: 'true' });
});
it('a second side that waits is kept when the comparison needs none, and comes back with it', async () => {
  const s = sentence([{ left: F.weight, op: 'is', right: '15' }]);
  await press('Comparison: is');
  await userEvent.click(screen.getByText('is empty'));
  expect(screen.queryByRole('button', { name: /Compared with/ })).toBeNull();
  await press('Comparison: is empty');
  await userEvent.click(screen.getByText('is at least'));
  expect(s.says()).toBe('where Weight is at least 15');
});
