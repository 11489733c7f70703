// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { show } from '../fixture.tsx';
import { NameField } from './NameField.tsx';

const field = (): HTMLInputElement => screen.getByLabelText('Name of the table');
async function type(keys: string) {
  const onChange = vi.fn();
  const { rerender } = show(<NameField value="Hives" label="Name of the table" onChange={onChange} />);
  await userEvent.tripleClick(field());
  await userEvent.keyboard(keys);
  return { onChange, rerender };
}

it.each([
  ['Enter keeps it', 'Colonies{Enter}', ['Colonies'], 'Colonies'],
  ['going elsewhere keeps it', 'Colonies{Tab}', ['Colonies'], 'Colonies'],
  ['without the spaces around it', '  Colonies  {Enter}', ['Colonies'], '  Colonies  '],
  ['Escape takes it back', 'Colonies{Escape}', [], 'Hives'],
  ['an empty name is not kept', '{Backspace}{Enter}', [], 'Hives'],
  ['nor is one of spaces', '   {Enter}', [], 'Hives'],
  ['the same name is no change', 'Hives{Enter}', [], 'Hives'],
])('%s', async (_what, keys, kept, shown) => {
  const { onChange } = await type(keys);
  expect(onChange.mock.calls.flat()).toEqual(kept);
  expect(field().value).toBe(shown);
});
it('after Escape the next change is kept again', async () => {
  const { onChange } = await type('Colonies{Escape}');
  await userEvent.tripleClick(field());
  await userEvent.keyboard('Stocks{Enter}');
  expect(onChange.mock.calls.flat()).toEqual(['Stocks']);
});
it('a name that was changed elsewhere is shown', async () => {
  const { rerender } = await type('{Escape}');
  rerender(<NameField value="Stocks" label="Name of the table" onChange={() => undefined} />);
  expect(field().value).toBe('Stocks');
});
