// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Cell } from '../../core/fields/lists.ts';
import { F, T, hiveApp } from '../../core/records/fixture.ts';
import type { Field } from '../../core/tables/schema.ts';
import { openApp, show } from '../fixture.tsx';
import { useStudio } from '../state/studio.ts';
import { CellEditor } from './CellEditor.tsx';

const text: Field = { id: F.name, name: 'Name', type: 'text' };
const weight: Field = { id: F.weight, name: 'Weight', type: 'number' };
const status: Field = {
  id: F.status,
  name: 'Status',
  type: 'choice',
  choices: [
    { name: 'Active', colour: 0 },
    { name: 'Retired', colour: 1 },
  ],
};
/** Opens the editor of a cell as a key, or Enter, would, and types. */
async function edit(of: Field, raw: Cell, keys: string, typed: string | null = null) {
  const onKeep = vi.fn();
  const onDone = vi.fn();
  show(
    <CellEditor field={of} cell={{ raw, shown: String(raw ?? '') }} typed={typed} onKeep={onKeep} onDone={onDone} />,
  );
  await userEvent.keyboard(keys);
  return { onKeep, onDone, kept: () => onKeep.mock.calls.map((c) => c[0] as Cell) };
}

describe('a line of text', () => {
  it.each<[string, Field, Cell, string, string | null, Cell[], [number, number][]]>([
    ['Enter keeps it and goes down', text, 'Fern', ' 2{Enter}', null, ['Fern 2'], [[1, 0]]],
    ['Tab keeps it and goes right', text, 'Fern', '!{Tab}', null, ['Fern!'], [[0, 1]]],
    ['Shift and Tab go left', text, 'Fern', '!{Shift>}{Tab}{/Shift}', null, ['Fern!'], [[0, -1]]],
    ['a key begins anew', text, 'Fern', 'oss{Enter}', 'M', ['Moss'], [[1, 0]]],
    ['Escape leaves it as it was', text, 'Fern', '!{Escape}', null, [], [[0, 0]]],
    ['what did not change is not written', text, 'Fern', '{Enter}', null, [], [[1, 0]]],
    ['emptied is nothing, not an empty text', text, 'Fern', '{Backspace>4}{Enter}', null, [null], [[1, 0]]],
    ['a decimal comma', weight, 3, ',5{Enter}', '1', [1.5], [[1, 0]]],
    ['what does not fit stays open', weight, 3, 'eavy{Enter}', 'h', [], []],
  ])('%s', async (_what, of, raw, keys, typed, kept, done) => {
    const e = await edit(of, raw, keys, typed);
    expect(e.kept()).toEqual(kept);
    expect(e.onDone.mock.calls).toEqual(done);
  });
  it('says what does not fit, and keeps it once it is mended', async () => {
    const e = await edit(weight, 3, 'eavy{Enter}', 'h');
    expect(screen.getByRole('alert').textContent).toBe('“heavy” is not a number');
    await userEvent.keyboard('{Backspace>5}12{Enter}');
    expect(screen.queryByRole('alert')).toBeNull();
    expect(e.kept()).toEqual([12]);
  });
  it('keeps a long number to its last digit', async () => {
    const e = await edit(weight, 0.1 + 0.2, '{Enter}');
    expect(e.onKeep).not.toHaveBeenCalled();
  });
});

describe('one of a list', () => {
  it.each<[string, string, string | null, Cell[]]>([
    ['opened and left by Enter it stays as it was', '{Enter}', null, []],
    ['the first that fits', 'ret{Enter}', null, ['Retired']],
    ['begun by a key', 'et{Enter}', 'r', ['Retired']],
    ['by arrow keys', '{ArrowDown}{ArrowDown}{Enter}', null, ['Active']],
    ['nothing, when it is picked out', '{ArrowDown}{Enter}', null, [null]],
    ['arrow keys stop at the ends', '{ArrowUp}{ArrowDown>9}{Enter}', null, ['Retired']],
    ['Escape keeps nothing', 'ret{Escape}', null, []],
  ])('%s', async (_what, keys, typed, kept) => {
    const e = await edit(status, 'Active', keys, typed);
    expect(e.kept()).toEqual(kept);
  });
  it('a new word is kept where words of one’s own are allowed', async () => {
    const e = await edit(status, 'Active', 'Sold{Enter}');
    expect(e.kept()).toEqual(['Sold']);
  });
  it('and never taken for nothing where they are not', async () => {
    const e = await edit({ ...status, only: true }, 'Active', 'Sold{Enter}');
    expect(e.kept()).toEqual([]);
    expect(e.onDone).not.toHaveBeenCalled();
    expect(screen.getByRole('status').textContent).toBe('Nothing found. Try other letters.');
  });
});

describe('a linked record', () => {
  const keepers = [
    { id: 'odile', title: 'Odile' },
    { id: 'orla', title: 'Orla' },
    { id: 'bea', title: 'Bea' },
  ];
  const keeper = hiveApp().tables[0]!.fields.find((f) => f.id === F.keeper)!;
  const find = (words: string) => keepers.filter((k) => k.title.toLowerCase().includes(words.toLowerCase()));

  it('is found by its title', async () => {
    openApp(hiveApp(), { phone: { choices: async (_table: string, words: string) => find(words) } });
    const e = await edit(keeper, 'bea', 'orl{Enter}');
    expect(e.kept()).toEqual(['orla']);
  });
  it('typed faster than the search, Enter waits for what was typed last', async () => {
    const waiting: (() => void)[] = [];
    const choices = (_table: string, words: string) =>
      new Promise((resolve) => {
        waiting.push(() => resolve(find(words)));
      });
    openApp(hiveApp(), { phone: { choices } });
    const e = await edit(keeper, null, 'be{Enter}');
    expect(e.onKeep).not.toHaveBeenCalled();
    // The answers come in another order than the questions.
    await act(async () => waiting.at(-1)!());
    await act(async () => waiting.slice(0, -1).forEach((answer) => answer()));
    expect(e.kept()).toEqual(['bea']);
  });
  it('that is not there is not taken for none', async () => {
    openApp(hiveApp(), { phone: { choices: async (_table: string, words: string) => find(words) } });
    const e = await edit(keeper, 'bea', 'zzz{Enter}');
    expect(e.kept()).toEqual([]);
  });
  it('that is not there is added by its name, when that is chosen', async () => {
    const known = [...keepers];
    const editRecords = vi.fn(async (_said: string, [d]: { record: string; cells: Record<string, string> }[]) => {
      known.push({ id: d!.record, title: d!.cells[F.keeperName]! });
    });
    openApp(hiveApp(), {
      phone: { choices: async () => [] },
      looking: { record: async (_table: string, id: string) => known.find((k) => k.id === id) ?? null },
    });
    useStudio.setState({ editRecords: editRecords as never });
    const e = await edit(keeper, 'bea', 'Zoe ');
    await screen.findByText('New keeper “Zoe”');
    await userEvent.keyboard('{Enter}');
    expect([e.kept(), editRecords.mock.calls.length]).toEqual([[], 0]);
    await userEvent.keyboard('{ArrowDown}{ArrowDown}{Enter}');
    await vi.waitFor(() => expect(e.kept()).toEqual([known.at(-1)!.id]));
    expect([editRecords.mock.calls[0]![0], known.at(-1)!.title]).toEqual(['Added a keeper', 'Zoe']);
  });
  it('that could not be added is not linked', async () => {
    openApp(hiveApp(), { phone: { choices: async () => [] }, looking: { record: async () => null } });
    useStudio.setState({ editRecords: async () => undefined });
    const e = await edit(keeper, 'bea', 'Zoe');
    await userEvent.click(await screen.findByText('New keeper “Zoe”'));
    await new Promise((resolve) => {
      setTimeout(resolve, 20);
    });
    expect(e.kept()).toEqual([]);
  });
  it('of a matched link gives the value it is found by', async () => {
    const app = hiveApp();
    const hive = app.tables[1]!.fields.find((f) => f.id === F.hive)!;
    const at = app.tables[0]!.fields.findIndex((f) => f.id === F.tag);
    openApp(app, {
      phone: { choices: async () => [{ id: 'bramble', title: 'Bramble' }] },
      looking: {
        record: async (table: string, id: string) =>
          table === T.hives && id === 'bramble'
            ? { cells: app.tables[0]!.fields.map((_, i) => ({ raw: i === at ? 'HB-1' : 'else' })) }
            : null,
      },
    });
    const e = await edit(hive, null, 'bram{Enter}');
    expect(e.onKeep.mock.calls).toEqual([[null, 'HB-1']]);
  });
});
