// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { hiveApp } from '../core/records/fixture.ts';
import type { Go, NewPlace } from '../core/phone/places.ts';
import { Walk, type PhonePage } from '../core/phone/walk.ts';
import { Address, entryOf, hashOf, placeOfHash } from './address.ts';

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
  let bar: Address | null = null;
  beforeEach(() => history.pushState(null, '', '/a/bees/'));
  afterEach(() => bar?.close());
  const settle = () => new Promise<void>((r) => setTimeout(r, 40));
  const one = (record: string): NewPlace => ({ screen: 's_one', record });

  /** A page of an app with a list, whose address follows a walk through it. */
  async function open() {
    bar?.close();
    const app = hiveApp();
    app.screens = ['s_list', 's_one', 's_form'].map((id) => ({
      id,
      name: id,
      given: null,
      icon: 'box',
      root: {},
    })) as never;
    app.tabs = [];
    const walk = new Walk({
      app: () => app,
      show: async () => true,
      leave: async () => undefined,
      say: () => undefined,
      keepDraft: () => undefined,
      isFirst: () => false,
      begun: () => undefined,
    });
    const address = new Address((to) => walk.go(to));
    bar = address;
    const asked = { leaving: 0 };
    let stack: NewPlace[] = [];
    const page: PhonePage = {
      where: (w) => {
        stack = w.stack;
        address.moved(w);
      },
      draw: async () => undefined,
      asks: () => undefined,
      does: async () => undefined,
      leaving: () => void asked.leaving++,
    };
    await walk.begin(page, { room: 'narrow', ...Address.begins() });
    await settle();
    const go = async (to: Parameters<Walk['go']>[0]): Promise<void> => {
      await walk.go(to);
      await settle();
    };
    return {
      walk,
      asked,
      address,
      go,
      push: (place: NewPlace) => go({ to: 'push', place }),
      back: () => go({ to: 'back' }),
      at: () => stack.map((p) => `${p.screen.slice(2)} ${p.record ?? ''}${p.sheet ?? ''}`.trim()),
      device: async (steps = -1) => {
        const there = new Promise((moved) => addEventListener('popstate', moved, { once: true }));
        history.go(steps);
        await there;
        await settle();
      },
    };
  }

  it('an address that is opened before the app has begun leads there', async () => {
    const gone: Go[] = [];
    bar?.close();
    bar = new Address(async (to) => (gone.push(to), true));
    history.replaceState(null, '', '#/s_one/a');
    dispatchEvent(new PopStateEvent('popstate', { state: null }));
    expect(gone).toEqual([{ to: 'history', stack: [{ screen: 's_one', record: 'a' }] }]);
  });

  it('back in the app and back on the device lead the same way, and do not open what was left again', async () => {
    const o = await open();
    await o.push(one('a'));
    await o.push(one('b'));
    expect(o.at()).toEqual(['list', 'one a', 'one b']);
    await o.back();
    expect([o.at(), location.hash]).toEqual([['list', 'one a'], '#/s_one/a']);
    await o.device();
    expect([o.at(), location.hash]).toEqual([['list'], '#/s_list']);
    await o.device(1);
    expect(o.at()).toEqual(['list', 'one a']);
  });
  it('a sheet is a sheet again after a reload, with what lies below it', async () => {
    const first = await open();
    await first.push(one('a'));
    await first.push({ screen: 's_form', record: null, sheet: 'half' });
    const again = await open();
    expect(again.at()).toEqual(['list', 'one a', 'form half']);
    await again.back();
    expect(again.at()).toEqual(['list', 'one a']);
    await again.device();
    expect(again.at()).toEqual(['list']);
  });
  it('asks before the device’s back throws away what was typed, and stays until that is wanted', async () => {
    const o = await open();
    await o.push({ screen: 's_form', record: null });
    await o.walk.drafted('s_form//e_form/', { f_name000: 'Half' });
    await o.device();
    expect([o.at(), location.hash, o.asked.leaving]).toEqual([['list', 'form'], '#/s_form', 1]);
    await o.walk.leaveAnyway();
    o.address.leave();
    await settle();
    expect([o.at(), location.hash]).toEqual([['list'], '#/s_list']);
  });
  it('an address that is typed opens its screen upon the others', async () => {
    const o = await open();
    location.hash = '#/s_one/c';
    await settle();
    expect(o.at()).toEqual(['list', 'one c']);
    await o.push(one('d'));
    await o.back();
    expect(o.at()).toEqual(['list', 'one c']);
  });
  it('what is opened in place of another is so in the history too', async () => {
    const o = await open();
    await o.push(one('a'));
    await o.go({ to: 'instead', place: one('b') });
    expect([o.at(), location.hash]).toEqual([['list', 'one b'], '#/s_one/b']);
    await o.device();
    expect(o.at()).toEqual(['list']);
  });
  it('a screen as a sheet is another place than the same one whole', async () => {
    const o = await open();
    await o.push({ screen: 's_form', record: null });
    await o.go({ to: 'instead', place: { screen: 's_form', record: null, sheet: 'half' } });
    const again = await open();
    expect(again.at()).toEqual(['list', 'form half']);
  });
});
