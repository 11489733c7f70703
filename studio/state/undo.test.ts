// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Written } from '../../core/host/undo.ts';
import type { Draft } from '../../core/records/change.ts';
import { hiveApp } from '../../core/records/fixture.ts';

const keptNow = vi.hoisted(() => ({ steps: null as unknown }));
vi.mock('./registry.ts', () => ({
  registry: {
    apps: { put: async () => undefined },
    steps: { put: async (kept: unknown) => void (keptNow.steps = structuredClone(kept)) },
    transaction: async (_mode: string, _apps: unknown, _steps: unknown, work: () => Promise<void>) => work(),
  },
  leaveUnwritten: () => undefined,
}));
const { useStudio } = await import('./studio.ts');
const { readSteps } = await import('./kept-steps.ts');
const { useSaving } = await import('./saving.ts');

const V = 'f_value00001';
const textOf = (d: unknown): string => (d as { cells: Record<string, string> }).cells[V]!;

/** An engine that keeps one value by record, and takes as long to write as it is told to. */
function engine() {
  const cells = new Map<string, string>();
  const waiting: (() => void)[] = [];
  let fails = false;
  const edit = async (drafts: Draft[]): Promise<Written> => {
    // The grid sees a change before the answer comes.
    const back = drafts.map((d) => ({ ...d, cells: { [V]: cells.get(d.record) ?? '' } }) as Draft);
    if (fails) throw new Error('The storage is full.');
    for (const d of drafts) cells.set(d.record, textOf(d));
    await new Promise<void>((resolve) => {
      waiting.push(resolve);
    });
    return { made: drafts.map((d) => ({ ...d, id: 'c', stamp: '0abcdefgh-0000-devices' })) as never, back };
  };
  const takeBack = async ({ made, back }: Written): Promise<Written | { changed: string }> => {
    const changed = made.find((c) => cells.get(c.record) !== textOf(c));
    return changed ? { changed: 'V of a was changed meanwhile.' } : edit(back);
  };
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 30; i++) {
      waiting.shift()?.();
      await new Promise((r) => {
        setTimeout(r, 0);
      });
    }
  };
  return {
    cells,
    editing: { edit, takeBack },
    settle,
    change: async () => undefined,
    fail: (now: boolean) => void (fails = now),
  };
}
const draft = (record: string, v: string): Draft => ({ do: 'set', table: 't', record, cells: { [V]: v } });
const { getState: s } = useStudio;
let e: ReturnType<typeof engine>;

beforeEach(() => {
  e = engine();
  const app = hiveApp();
  useStudio.setState({ app, shown: app, kept: { id: 'k', app } as never, engine: e as never, past: [], future: [] });
  useSaving.setState({ problem: null });
});

describe('undo', () => {
  it('takes back the last step, also while that is still being written', async () => {
    void s().editRecords('Filled down', [draft('a', 'one')]);
    await e.settle();
    void s().editRecords('Emptied', [draft('a', '')]);
    const undone = s().undo();
    await e.settle();
    expect([await undone, e.cells.get('a')]).toEqual(['Emptied', 'one']);
    const more = [s().undo(), s().redo(), s().redo()];
    await e.settle();
    expect(await Promise.all(more)).toEqual(['Filled down', 'Filled down', 'Emptied']);
    expect(e.cells.get('a')).toBe('');
  });
  it('takes back what an edit of the document did to records too, and keeps steps in the order they were made', async () => {
    const rename = (to: string, drafts: Draft[] = []): Promise<void> =>
      s().edit(`Called it ${to}`, (a) => void (a.name = to), { merge: 'name', drafts });
    void s().editRecords('First', [draft('a', 'one')]);
    void rename('Second', [draft('a', 'two')]);
    void rename('Third');
    expect(s().past.map((x) => x.label)).toEqual(['First', 'Called it Second', 'Called it Third']);
    const undone = [s().undo(), s().undo()];
    await e.settle();
    expect(await Promise.all(undone)).toEqual(['Called it Third', 'Called it Second']);
    expect([s().app!.name, e.cells.get('a')]).toEqual(['Hives', 'one']);
  });
  it('is one step for a word that is typed letter by letter, and another after an undo', async () => {
    const typed = (name: string, merge: string | undefined = 'name'): Promise<void> =>
      s().edit(`Called it ${name}`, (a) => void (a.name = name), merge === undefined ? {} : { merge });
    for (const name of ['N', 'Ne', 'New']) await typed(name);
    expect(s().past).toHaveLength(1);
    // What is typed elsewhere, or changed otherwise, is a step of its own.
    await typed('Newer', 'other');
    await typed('Newest', 'name');
    expect(s().past).toHaveLength(3);
    await s().undo();
    await s().redo();
    await typed('Newest of all');
    expect(s().past).toHaveLength(4);
    await s().undo();
    expect(s().app!.name).toBe('Newest');
    await s().undo();
    await typed('Another', 'other');
    expect(s().past).toHaveLength(3);
    await s().undo();
    expect(s().app!.name).toBe('Newer');
  });
  it('goes on after the app is opened anew: what is kept fits the document, and undoes and does again', async () => {
    void s().edit('Called it One', (a) => void (a.name = 'One'));
    void s().editRecords('Filled in', [draft('a', 'one')]);
    await e.settle();
    await s().edit('Called it Two', (a) => void (a.name = 'Two'));
    await s().undo();
    await new Promise((r) => {
      setTimeout(r, 100);
    });
    const { app, kept } = s();
    const { past, future } = readSteps(keptNow.steps, kept!);
    expect([past.map((x) => x.label), future.map((x) => x.label)]).toEqual([
      ['Called it One', 'Filled in'],
      ['Called it Two'],
    ]);
    useStudio.setState({ app, shown: app, kept, past, future });
    const turned = [s().redo(), s().undo(), s().undo(), s().undo(), s().undo()];
    await e.settle();
    expect(await Promise.all(turned)).toEqual(['Called it Two', 'Called it Two', 'Filled in', 'Called it One', null]);
    expect([s().app!.name, e.cells.get('a')]).toEqual(['Hives', '']);
  });
  it('a kept step that would spoil the document is not taken, and that is said', async () => {
    const spoilt = { label: 'Spoilt', patches: [], inverse: [{ op: 'remove' as const, path: ['screens'] }] };
    useStudio.setState({ past: [{ ...spoilt, drafts: [], written: null, merge: null, at: 1, kept: true }] });
    expect([await s().undo(), s().past, s().app!.screens.length > 0]).toEqual([undefined, [], true]);
    expect(useSaving.getState().problem).toContain('“Spoilt” does not fit the app any more');
  });
  it('waits for no engine of an app that was closed', async () => {
    void s().editRecords('Never answered', [draft('a', 'one')]);
    s().close();
    e = engine();
    const app = hiveApp();
    useStudio.setState({ app, shown: app, kept: { id: 'm', app } as never, engine: e as never, past: [], future: [] });
    void s().editRecords('Answered', [draft('b', 'two')]);
    const undone = s().undo();
    await e.settle();
    expect([await undone, e.cells.get('b')]).toEqual(['Answered', '']);
  });
  it('leaves what somebody else has changed since, says so, and goes on to the step before', async () => {
    void s().editRecords('First', [draft('a', 'one')]);
    void s().editRecords('Second', [draft('a', 'two')]);
    await e.settle();
    e.cells.set('a', 'theirs');
    const undone = s().undo();
    await e.settle();
    expect([await undone, e.cells.get('a')]).toEqual([undefined, 'theirs']);
    expect(useSaving.getState().problem).toBe(
      '“Second” cannot be undone: V of a was changed meanwhile. It was left as it is.',
    );
    expect([s().past.map((x) => x.label), s().future]).toEqual([['First'], []]);
  });
  it('a step that could not be written is none; one that cannot be taken back stays', async () => {
    void s().editRecords('Written', [draft('a', 'one')]);
    await e.settle();
    e.fail(true);
    const edited = s().edit('Not written', (a) => void (a.name = 'Other'), { drafts: [draft('a', 'two')] });
    await e.settle();
    await edited;
    expect([s().app!.name, s().past.map((x) => x.label)]).toEqual(['Hives', ['Written']]);
    expect(useSaving.getState().problem).toBe('The storage is full.');
    expect(await s().undo()).toBeUndefined();
    expect([s().past.map((x) => x.label), s().future]).toEqual([['Written'], []]);
    e.fail(false);
    const undone = s().undo();
    await e.settle();
    expect([await undone, await s().undo(), e.cells.get('a')]).toEqual(['Written', null, '']);
  });
});

it('the button of a message takes back its own step, not one that was made since', async () => {
  const { toast } = await import('sonner');
  const { toastWithUndo } = await import('./undo-toast.ts');
  const rename = (to: string): Promise<void> => s().edit(`Called it ${to}`, (a) => void (a.name = to));
  await rename('One');
  toastWithUndo('Called it One.');
  const press = (): void => {
    const { action } = toast.getHistory().find((t) => 'title' in t && t.title === 'Called it One.') as never as {
      action: { onClick(): void };
    };
    action.onClick();
  };
  await rename('Two');
  press();
  expect(s().app!.name).toBe('Two');
  await s().undo();
  press();
  await e.settle();
  expect(s().app!.name).toBe('Hives');
  // Taken back already, it does nothing more.
  press();
  await e.settle();
  expect(s().future).toHaveLength(2);
});
