// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { KeptApp } from './registry.ts';

const put = vi.hoisted(() => vi.fn(async (_kept: unknown) => undefined as unknown));
const leave = vi.hoisted(() => vi.fn());
const putSteps = vi.hoisted(() => vi.fn(async (_kept: unknown) => undefined));
const clear = vi.hoisted(() => vi.fn(async () => undefined));
vi.mock('./registry.ts', () => ({
  registry: {
    apps: { put },
    steps: { put: putSteps, clear },
    transaction: async (_mode: string, _apps: unknown, _steps: unknown, work: () => Promise<void>) => work(),
  },
  leaveUnwritten: leave,
}));
const { keepDocument, lastSave, useSaving } = await import('./saving.ts');

const kept = (changed: string): KeptApp => ({ id: 'k', changed }) as KeptApp;
const written = (): string[] => put.mock.calls.map(([k]) => (k as KeptApp).changed);
beforeEach(() => {
  vi.useFakeTimers();
  put.mockClear();
  leave.mockClear();
  putSteps.mockClear();
  clear.mockClear();
  put.mockImplementation(async () => undefined);
});
afterEach(() => {
  lastSave();
  vi.useRealTimers();
});

it('keys that come together are written once, the newest, and then it is kept', async () => {
  void keepDocument(kept('1'));
  const all = keepDocument(kept('2'));
  expect([written(), useSaving.getState().saved]).toEqual([[], false]);
  await vi.runAllTimersAsync();
  await all;
  expect([written(), useSaving.getState().saved]).toEqual([['2'], true]);
});
it('what came while it was written is written after it', async () => {
  put.mockImplementationOnce(async () => void keepDocument(kept('2')));
  const all = keepDocument(kept('1'));
  await vi.runAllTimersAsync();
  await all;
  expect(written()).toEqual(['1', '2']);
});
it('an app that is closed has its last change written at once, and only once', async () => {
  void keepDocument(kept('1'));
  lastSave();
  expect(written()).toEqual(['1']);
  await vi.runAllTimersAsync();
  lastSave();
  expect([written(), useSaving.getState().saved]).toEqual([['1'], true]);
});
it('a tab that closes leaves what is not written yet, and nothing when all is', async () => {
  void keepDocument(kept('1'));
  dispatchEvent(new Event('pagehide'));
  expect(leave.mock.calls.map(([k]) => (k as KeptApp).changed)).toEqual(['1']);
  await vi.runAllTimersAsync();
  dispatchEvent(new Event('pagehide'));
  expect(leave).toHaveBeenCalledTimes(1);
});
it('what could be undone gives room to the document where both do not fit', async () => {
  putSteps.mockRejectedValueOnce(Object.assign(new Error('no room'), { name: 'QuotaExceededError' }));
  const all = keepDocument(kept('1'));
  await vi.runAllTimersAsync();
  await all;
  expect([clear.mock.calls.length, written().at(-1), useSaving.getState().saved]).toEqual([1, '1', true]);
});
it('an app whose document is as it was has its steps written alone', async () => {
  const same = kept('1');
  for (let i = 0; i < 2; i++) {
    const all = keepDocument(same);
    await vi.runAllTimersAsync();
    await all;
  }
  expect([written(), putSteps.mock.calls.length]).toEqual([['1'], 2]);
});
it('what cannot be written is said, with what to do when the storage is full', async () => {
  put.mockRejectedValue(Object.assign(new Error('no room'), { name: 'QuotaExceededError' }));
  const all = keepDocument(kept('1'));
  await vi.runAllTimersAsync();
  await all;
  expect(useSaving.getState()).toMatchObject({ saved: false, problem: expect.stringContaining('Export the app') });
});
