import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell } from '../fields/lists.ts';
import { merge, type AppRow, type BaseRow, type FileRow, type MergeInput, type MergeResult } from './merge.ts';

const row = (...texts: string[]): FileRow => ({
  texts,
  cells: texts.map((t) => (t === '' ? null : t === '?' ? undefined : t)),
});
const rec = (id: string, ...cells: Cell[]): AppRow => ({ id, cells });
const base = (record: string, ...texts: string[]): BaseRow => ({
  record,
  texts,
  cells: texts.map((t) => (t === '' ? null : t)),
});
let n = 0;
const run = (more: Partial<MergeInput>): MergeResult =>
  merge({
    width: 2,
    keys: [0],
    base: [],
    file: [],
    app: [],
    first: 'file',
    fileTime: 1000,
    appTime: () => 0,
    textOf: (cell) => (cell === null ? '' : String(cell)),
    newId: () => `new${++n}`,
    ...more,
  });

/** What file and app hold after a merge. */
function apply(
  input: Pick<MergeInput, 'file' | 'app' | 'base'>,
  r: MergeResult,
): { file: string[][]; app: Map<string, Cell[]> } {
  const app = new Map(input.app.map((x) => [x.id, [...x.cells]]));
  for (const c of r.changes) {
    if (c.do === 'remove') app.delete(c.record);
    else if (c.do === 'restore') app.set(c.record, [...c.cells.values()]);
    else if (c.do === 'set') {
      const cells = app.get(c.record) ?? r.written.find((b) => b.record === c.record)!.cells.map(() => null);
      for (const [p, cell] of c.cells) cells[p] = cell;
      app.set(c.record, cells);
    }
  }
  const file: (string[] | null)[] = input.file.map((f) => [...f.texts]);
  for (const e of r.edits) {
    if (e.do === 'cell') file[e.row]![e.place] = e.cell === null ? '' : String(e.cell);
    else if (e.do === 'remove') file[e.row] = null;
    else file.push(e.cells.map((c) => (c === null ? '' : String(c))));
  }
  return { file: file.filter((f) => f !== null), app };
}

describe('a file and its table', () => {
  const agreed = [base('a', 'Bramble', '14'), base('b', 'Clover', '9')];
  const file = [row('Bramble', '14'), row('Clover', '9')];
  const app = [rec('a', 'Bramble', '14'), rec('b', 'Clover', '9')];
  it('that agree have nothing to do', () => {
    expect(run({ base: agreed, file, app })).toMatchObject({ changes: [], edits: [], conflicts: [], written: agreed });
  });
  it('an edit of the file goes to the app, an edit of the app to the file', () => {
    const r = run({ base: agreed, file: [row('Bramble', '15'), file[1]!], app: [app[0]!, rec('b', 'Clover', '8')] });
    expect(r.changes).toEqual([{ do: 'set', record: 'a', cells: new Map([[1, '15']]) }]);
    expect(r.edits).toEqual([{ do: 'cell', row: 1, place: 1, cell: '8' }]);
    expect(r.conflicts).toEqual([]);
  });
  it('two edits of one cell: the later stands, and both are told', () => {
    const both = { base: agreed, file: [row('Bramble', '15'), file[1]!], app: [rec('a', 'Bramble', '16'), app[1]!] };
    const later = run({ ...both, appTime: () => 500 });
    expect(later.changes).toEqual([{ do: 'set', record: 'a', cells: new Map([[1, '15']]) }]);
    expect(later.conflicts).toEqual([{ record: 'a', place: 1, file: '15', app: '16', kept: 'file' }]);
    const earlier = run({ ...both, appTime: () => 5000 });
    expect(earlier.edits).toEqual([{ do: 'cell', row: 0, place: 1, cell: '16' }]);
    expect(earlier.conflicts[0]!.kept).toBe('app');
  });
  it('the same edit on both sides is no conflict', () => {
    const r = run({ base: agreed, file: [row('Bramble', '15'), file[1]!], app: [rec('a', 'Bramble', '15'), app[1]!] });
    expect([r.changes, r.edits, r.conflicts]).toEqual([[], [], []]);
    expect(r.written[0]!.cells).toEqual(['Bramble', '15']);
  });
  it('rows come and go on both sides', () => {
    const r = run({
      base: agreed,
      file: [row('Clover', '9'), row('Fern', '3')],
      app: [app[0]!, app[1]!, rec('c', 'Sorrel', '4')],
    });
    expect(r.changes).toEqual([
      {
        do: 'set',
        record: expect.stringMatching(/^new/) as string,
        cells: new Map([
          [0, 'Fern'],
          [1, '3'],
        ]),
      },
      { do: 'remove', record: 'a' },
    ]);
    expect(r.edits).toEqual([{ do: 'append', record: 'c', cells: ['Sorrel', '4'] }]);
  });
  it('a record removed in the app takes its row along, unless the row was changed', () => {
    expect(run({ base: agreed, file, app: [app[1]!] }).edits).toEqual([{ do: 'remove', row: 0 }]);
    const back = run({ base: agreed, file: [row('Bramble', '15'), file[1]!], app: [app[1]!] });
    expect(back.changes).toEqual([
      { do: 'restore', record: 'a', cells: new Map(agreed[0]!.cells.entries()) },
      { do: 'set', record: 'a', cells: new Map([[1, '15']]) },
    ]);
    expect(back.edits).toEqual([]);
  });
  it('a row removed from the file comes back when its record was changed', () => {
    const r = run({ base: agreed, file: [file[1]!], app: [rec('a', 'Bramble', '16'), app[1]!] });
    expect(r.changes).toEqual([]);
    expect(r.edits).toEqual([{ do: 'append', record: 'a', cells: ['Bramble', '16'] }]);
    expect(r.conflicts).toHaveLength(1);
  });
  it('a text that does not fit stays in the file, and the app keeps its value', () => {
    const r = run({ base: agreed, file: [row('Bramble', '?'), file[1]!], app });
    expect([r.changes, r.edits, r.misfits]).toEqual([[], [], [{ row: 0, place: 1 }]]);
  });
  it('a name that is changed in the file is the same row still', () => {
    const r = run({ base: agreed, file: [row('Bramble II', '14'), file[1]!], app });
    expect(r.changes).toEqual([{ do: 'set', record: 'a', cells: new Map([[0, 'Bramble II']]) }]);
  });
  it('a cell that the file works out is not written', () => {
    const locked = { ...file[0]!, locked: [false, true] };
    const r = run({ base: agreed, file: [locked, file[1]!], app: [rec('a', 'Bramble', '99'), app[1]!] });
    expect(r.edits).toEqual([]);
    expect(r.changes).toEqual([{ do: 'set', record: 'a', cells: new Map([[1, '14']]) }]);
    expect(r.conflicts[0]).toMatchObject({ kept: 'file', app: '99' });
  });
  it('meet the first time by key: filled beats empty, then whoever was chosen', () => {
    const first = {
      base: null,
      file: [row('bramble', '15'), row('Fern', '')],
      app: [rec('a', 'Bramble', '14'), rec('f', 'Fern', '2')],
    };
    expect(run({ ...first, first: 'file' }).changes).toEqual([
      {
        do: 'set',
        record: 'a',
        cells: new Map([
          [0, 'bramble'],
          [1, '15'],
        ]),
      },
    ]);
    const mine = run({ ...first, first: 'app' });
    expect(mine.changes).toEqual([]);
    expect(mine.edits).toEqual([
      { do: 'cell', row: 0, place: 0, cell: 'Bramble' },
      { do: 'cell', row: 0, place: 1, cell: '14' },
      { do: 'cell', row: 1, place: 1, cell: '2' },
    ]);
  });

  const word = fc.constantFrom('', 'a', 'b', 'c', 'd');
  const name = fc.constantFrom('n1', 'n2', 'n3', 'n4', 'n5');
  const rows = fc.uniqueArray(fc.tuple(name, word), { maxLength: 5, selector: ([x]) => x });
  it('agree afterwards, whatever happened on both sides (property)', () => {
    fc.assert(
      fc.property(rows, rows, rows, fc.boolean(), (was, inFile, inApp, fileLater) => {
        const input = {
          base: was.map(([a, b]) => base(`r-${a}`, a, b)),
          file: inFile.map(([a, b]) => row(a, b)),
          app: inApp.map(([a, b]) => rec(`r-${a}`, a, b || null)),
          appTime: () => (fileLater ? 0 : 5000),
        };
        const r = run(input);
        const after = apply(input, r);
        const shown = (list: (Cell | string)[][]): string[] => list.map((x) => x.map((c) => c ?? '').join('|')).sort();
        expect(shown(after.file)).toEqual(shown([...after.app.values()]));
        // And then there is nothing more to do.
        const again = run({
          ...input,
          base: r.written,
          file: after.file.map((t) => row(...t)),
          app: [...after.app].map(([id, cells]) => rec(id, ...cells)),
        });
        expect([again.changes, again.edits, again.conflicts]).toEqual([[], [], []]);
      }),
      { numRuns: 2000 },
    );
  });
  it('lose nothing when the file cannot be written: the next time the same is written (property)', () => {
    fc.assert(
      fc.property(rows, rows, rows, (was, inFile, inApp) => {
        const input = {
          base: was.map(([a, b]) => base(`r-${a}`, a, b)),
          file: inFile.map(([a, b]) => row(a, b)),
          app: inApp.map(([a, b]) => rec(`r-${a}`, a, b || null)),
          appTime: () => 5000,
        };
        const r = run(input);
        const app = [...apply(input, r).app].map(([id, cells]) => rec(id, ...cells));
        const later = run({ ...input, base: r.unwritten, app });
        expect(later.changes).toEqual([]);
        const shown = (x: MergeResult): string[][] => apply(input, x).file.sort();
        expect(shown(later)).toEqual(shown(r));
      }),
      { numRuns: 2000 },
    );
  });
});
