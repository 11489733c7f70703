import { describe, expect, it } from 'vitest';
import type { Patch } from '../core/screens/live-screen.ts';
import { ScreenStore } from './screen-store.ts';

const patch = (set: string[], gone: string[] = [], more: Partial<Patch> = {}): Patch =>
  ({
    root: 'a',
    title: 'Hives',
    missing: null,
    gone,
    set: set.map((key) => ({ key, kind: 'text', id: key })),
    ...more,
  }) as unknown as Patch;

describe('what a page knows of a screen', () => {
  it('is told to whoever shows the part that changed, and to nobody else', () => {
    const store = new ScreenStore();
    const heard: string[] = [];
    store.take('one', patch(['a', 'b', 'c']));
    const stop = store.hearNode('a', () => heard.push('a'));
    store.hearNode('b', () => heard.push('b'));
    store.hearNode('c', () => heard.push('c'));
    const stopFrame = store.hearFrame(() => heard.push('frame'));
    store.take('one', patch(['a'], ['c']));
    expect(heard).toEqual(['a', 'c', 'frame'].sort((x, y) => heard.indexOf(x) - heard.indexOf(y)));
    expect([store.node('c'), store.node('b')?.key, store.version]).toEqual([undefined, 'b', 2]);
    stop();
    stopFrame();
    heard.length = 0;
    store.take('one', patch(['a', 'b']));
    expect(heard).toEqual(['b']);
  });
  it('is nothing of the screen before, when another is opened in its place', () => {
    const store = new ScreenStore();
    const heard: string[] = [];
    store.take('one', patch(['a', 'b']));
    store.hearNode('b', () => heard.push('b'));
    store.take('two', patch(['a'], [], { title: 'Hive' }));
    expect(heard).toEqual(['b']);
    expect([...store.all()].map((n) => n.key)).toEqual(['a']);
    expect(store.shown()).toEqual({ showing: 'two', root: 'a', title: 'Hive', missing: null });
  });
});
