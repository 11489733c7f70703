// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { show } from '../fixture.tsx';
import { NumberBox, TextBox } from './TypedBox.tsx';

const box = (): HTMLInputElement => screen.getByLabelText('Height');

describe('a box for a number', () => {
  async function type(keys: string, props: Partial<Parameters<typeof NumberBox>[0]> = {}) {
    const onChange = vi.fn();
    const { rerender } = show(
      <NumberBox label="Height" value={120} least={40} most={500} onChange={onChange} {...props} />,
    );
    await userEvent.tripleClick(box());
    await userEvent.keyboard(keys);
    return { onChange, rerender };
  }
  it.each([
    ['lets a number be typed whose beginning is too small', '80', [80], '80', false],
    ['tells each number that is within its limits', '400', [40, 400], '400', false],
    ['keeps to itself what is too large, and says so', '900', [90], '900', true],
    ['goes back to what is kept when it is left', '7{Tab}', [], '120', false],
    ['takes no emptiness for a number', '{Backspace}', [], '', true],
  ])('%s', async (_what, keys, told, shown, wrong) => {
    const { onChange } = await type(keys);
    expect(onChange.mock.calls.flat()).toEqual(told);
    expect(box().value).toBe(shown);
    expect(screen.queryByRole('alert')?.textContent ?? '').toBe(wrong ? 'A number from 40 to 500' : '');
  });
  it('without decimals where there may be none', async () => {
    const { onChange } = await type('41.5', { whole: true });
    expect(onChange.mock.calls.flat()).toEqual([41]);
    expect(screen.getByRole('alert').textContent).toBe('A whole number from 40 to 500');
  });
  it('may be empty where it is said so', async () => {
    const { onChange } = await type('{Backspace}', { optional: true });
    expect(onChange.mock.calls).toEqual([[undefined]]);
    expect(screen.queryByRole('alert')).toBeNull();
  });
  it('is as it was before when it is left with what cannot be, also where that began with what can', async () => {
    const { onChange, rerender } = await type('900');
    rerender(<NumberBox label="Height" value={90} least={40} most={500} onChange={onChange} />);
    expect(box().value).toBe('900');
    await userEvent.tab();
    expect([box().value, onChange.mock.calls.flat()]).toEqual(['120', [90, 120]]);
  });
  it('shows what was changed elsewhere, and does not write over what means the same', async () => {
    const { rerender } = await type('80');
    rerender(<NumberBox label="Height" value={80} least={40} most={500} onChange={() => undefined} />);
    expect(box().value).toBe('80');
    rerender(<NumberBox label="Height" value={300} least={40} most={500} onChange={() => undefined} />);
    expect(box().value).toBe('300');
  });
});

describe('a box for words', () => {
  it('tells every letter, and shows what was changed elsewhere', async () => {
    const onChange = vi.fn();
    const { rerender } = show(<TextBox label="Height" value="ab" onChange={onChange} />);
    await userEvent.type(box(), 'cd');
    expect(onChange.mock.calls.flat()).toEqual(['abc', 'abcd']);
    expect(box().value).toBe('abcd');
    // The desk is behind: what it shows first is older than what stands here.
    rerender(<TextBox label="Height" value="abc" onChange={onChange} />);
    expect(box().value).toBe('abcd');
    rerender(<TextBox label="Height" value="ab!" onChange={onChange} />);
    expect(box().value).toBe('ab!');
  });
});
