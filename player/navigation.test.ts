// @vitest-environment jsdom
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { entryOf, hashOf, placeOfHash, useNavigation, type Leaving } from './navigation.ts';

it('a place in the address comes back as it went', () => {
  for (const place of [
    { screen: 's_hives00000', record: null },
    { screen: 's_hive000000', record: 'r_abc-DEF_9' },
  ])
    expect(placeOfHash(hashOf(place))).toEqual(place);
});
it('an address that names no screen is none', () => {
  for (const hash of ['', '#', '#/', '#/x_other', '#/s_a/../b', '#/s_abc/<script>'])
    expect(placeOfHash(hash)).toBeNull();
});
it('what stands in a history counts only when it is ours and fits the address', () => {
  const stack = [{ screen: 's_list', record: null }];
  expect(entryOf({ at: 1, stack }, '#/s_list')).toEqual({ at: 1, stack, below: null });
  for (const [state, hash] of [
    [null, '#/s_list'],
    [{ at: 1, stack }, '#/s_other'],
    [{ at: 1, stack: [] }, '#/s_list'],
    [{ at: 'x', stack }, '#/s_list'],
    [{ at: 1, stack: [null] }, '#/s_list'],
    [{ at: 1, stack: [{ screen: '<b>', record: null }] }, '#/<b>'],
  ] as const)
    expect(entryOf(state, hash)).toBeNull();
});

describe('in the address', () => {
  beforeEach(() => history.pushState(null, '', '/a/bees/'));
  afterEach(cleanup);
  const settle = () => act(() => new Promise<void>((r) => setTimeout(r, 40)));
  const LIST = { screen: 's_list', record: null };
  const one = (record: string) => ({ screen: 's_one', record });
  const open = (leaving?: Leaving) => {
    const { result } = renderHook(() => useNavigation(LIST, true, null, leaving));
    const nav = () => result.current;
    return {
      nav,
      at: () => nav().where.stack.map((p) => `${p.screen.slice(2)} ${p.record ?? ''}${p.sheet ?? ''}`.trim()),
      push: async (p: Parameters<ReturnType<typeof nav>['push']>[0]) => {
        act(() => nav().push(p));
        await settle();
      },
      device: async (steps = -1) => {
        history.go(steps);
        await settle();
      },
    };
  };

  it('back in the app and back on the device lead the same way, and do not open what was left again', async () => {
    const o = open();
    await o.push(one('a'));
    await o.push(one('b'));
    expect(o.at()).toEqual(['list', 'one a', 'one b']);
    act(() => o.nav().back());
    await settle();
    expect([o.at(), location.hash]).toEqual([['list', 'one a'], '#/s_one/a']);
    await o.device();
    expect([o.at(), location.hash]).toEqual([['list'], '#/s_list']);
    await o.device(1);
    expect(o.at()).toEqual(['list', 'one a']);
  });
  it('a sheet is a sheet again after a reload, with what lies below it', async () => {
    const first = open();
    await first.push(one('a'));
    await first.push({ screen: 's_form', record: null, sheet: 'half' });
    cleanup();
    const again = open();
    expect(again.at()).toEqual(['list', 'one a', 'form half']);
    act(() => again.nav().back());
    await settle();
    expect(again.at()).toEqual(['list', 'one a']);
    await again.device();
    expect(again.at()).toEqual(['list']);
  });
  it('asks before the device’s back throws away what was typed, and stays until that is wanted', async () => {
    let dirty = true;
    let go: (() => void) | null = null;
    const o = open({ isDirty: () => dirty, ask: (then) => void (go = then) });
    await o.push({ screen: 's_form', record: null });
    await o.device();
    expect([o.at(), location.hash]).toEqual([['list', 'form'], '#/s_form']);
    expect(go).not.toBeNull();
    dirty = false;
    go!();
    await settle();
    expect([o.at(), location.hash]).toEqual([['list'], '#/s_list']);
  });
  it('an address that is typed opens its screen upon the others', async () => {
    const o = open();
    location.hash = '#/s_one/c';
    await settle();
    expect(o.at()).toEqual(['list', 'one c']);
    await o.push(one('d'));
    act(() => o.nav().back());
    await settle();
    expect(o.at()).toEqual(['list', 'one c']);
  });
  it('what is opened in place of another is so in the history too', async () => {
    const o = open();
    await o.push(one('a'));
    act(() => o.nav().instead(one('b')));
    await settle();
    expect([o.at(), location.hash]).toEqual([['list', 'one b'], '#/s_one/b']);
    await o.device();
    expect(o.at()).toEqual(['list']);
  });
});
