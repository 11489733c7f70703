import { expect, it, vi, type Mock } from 'vitest';
import type { PhoneApi } from '../../core/phone/api.ts';
import { previewOf } from './preview.ts';

const all = [
  'show',
  'leave',
  'look',
  'file',
  'titles',
  'choices',
  'tapped',
  'answered',
  'moved',
  'typed',
  'saveForm',
  'keepFile',
];
const engine = (): Record<string, Mock> => Object.fromEntries(all.map((name) => [name, vi.fn(async () => undefined)]));
const preview = (api: Record<string, Mock>): PhoneApi => previewOf(api as unknown as PhoneApi);

it('a picture of a screen is shown as one that nobody opened, and can be looked at', async () => {
  const api = engine();
  const take = async (): Promise<void> => undefined;
  await preview(api).show('v', 's', 'r', take, { key: 'o1', open: ['o1'] });
  expect(api['show']!.mock.calls).toEqual([['v', 's', 'r', take]]);
  await preview(api).look('v', 'k', { from: 40 });
  await preview(api).leave('v');
  expect([api['look']!.mock.calls, api['leave']!.mock.calls]).toEqual([[['v', 'k', { from: 40 }]], [['v']]]);
});
it.each(['tapped', 'answered', 'moved', 'typed', 'saveForm', 'keepFile'] as const)(
  '%s changes nothing from there',
  async (name) => {
    const api = engine();
    await expect((preview(api)[name] as () => Promise<unknown>)()).rejects.toThrow('picture of the screen');
    expect(api[name]).not.toHaveBeenCalled();
  },
);
