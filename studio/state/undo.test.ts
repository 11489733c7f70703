// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Written } from '../../core/host/undo.ts';
import type { Draft } from '../../core/records/change.ts';
import { hiveApp } from '../../core/records/fixture.ts';

vi.mock('./registry.ts', () => ({
  registry: { apps: { put: async () => undefined } },
  leaveUnwritten: () => undefined,
}));
const { useStudio } = await import('./studio.ts');
const { useSaving } = await import('./saving.ts');

/** An engine that keeps one value by record, and takes as long to write as it is told to. */
function engine() {
  const cells = new Map<string, string>();
  const waiting: (() => void)[] = [];
  let fails = false;
  const edit = async (drafts: Draft[]): Promise<Written> => {
    // The grid sees a change before the answer comes.
    const back = drafts.map((d) => ({ ...d, cells: { v: cells.get(d.record) ?? '' } }) as Draft);
    if (fails) throw new Error('The storage is full.');
    for (const d of drafts) cells.set(d.record, (d as unknown as { cells: { v: string } }).cells.v);
    await new Promise<void>((resolve) => {
      waiting.push(resolve);
    });
    return { made: drafts as never, back };
  };
  const takeBack = async ({ made, back }: Written): Promise<Written | { changed: string }> => {
    const changed = made.find((c) => cells.get(c.record) !== (c as never as { cells: { v: string } }).cells.v);
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
  return { cells, edit, takeBack, settle, change: async () => undefined, fail: (now: boolean) => void (fails = now) };
}
const draft = (record: string, v: string): Draft => ({ do: 'set', table: 't', record, cells: { v } });
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
