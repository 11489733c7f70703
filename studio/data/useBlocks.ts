import type { ClipboardEvent, RefObject } from 'react';
import { toast } from 'sonner';
import type { Table } from '../../core/tables/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { newRecordId } from '../../core/host/device.ts';
import type { GridAsk } from '../../core/records/grid.ts';
import type { GridRow } from '../engine/looking.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { askFirst } from '../ui/ask.tsx';
import { blockText, cellsOf, clearDrafts, fillDrafts, pasteDrafts, writtenOver, type Block } from './blocks.ts';
import type { Column } from './fields.ts';

const plural = (n: number, one: string, many = `${one}s`): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** From so many records on it is asked before a paste writes over them. */
const MANY = 20;

/** Copying, cutting, pasting, filling and emptying blocks of the grid; each is one undoable edit. */
export function useBlocks(
  table: Table,
  columns: readonly Column[],
  ask: GridAsk,
  block: Block,
  active: RefObject<HTMLElement | null>,
  rowAt: (line: number) => GridRow | undefined,
  onPasted: (rows: number, columns: number, added: boolean) => void,
) {
  const engine = useEngine();
  const editRecords = useStudio((s) => s.editRecords);
  const several = block.top !== block.bottom || block.left !== block.right;
  const cellsWord = (): string => {
    const n = (block.bottom - block.top + 1) * (block.right - block.left + 1);
    return n === 1 ? 'a cell' : `${n.toLocaleString('en-GB')} cells`;
  };
  /** The records of the block, fetched when they are out of view. */
  const rowsOf = async (b: Block): Promise<GridRow[]> =>
    (await engine.looking.page(table.id, ask, b.top, b.bottom - b.top + 1)).rows.filter((r) => !r.group);
  const clear = (verb: string): void =>
    void rowsOf(block).then((rows) => editRecords(`${verb} ${cellsWord()}`, clearDrafts(table, columns, rows, block)));

  const onCopy = (e: ClipboardEvent, cut = false): void => {
    if (e.target !== active.current) return;
    e.preventDefault();
    const rows = Array.from({ length: block.bottom - block.top + 1 }, (_, i) => rowAt(block.top + i));
    if (rows.every((r) => r !== undefined)) e.clipboardData.setData('text/plain', blockText(columns, rows, block));
    else void rowsOf(block).then((all) => navigator.clipboard.writeText(blockText(columns, all, block)));
    toast(`Copied ${cellsWord()}.`);
    if (cut) clear('Cut');
  };

  const onPaste = (e: ClipboardEvent): void => {
    if (e.target !== active.current) return;
    e.preventDefault();
    const cells = cellsOf(e.clipboardData.getData('text/plain'));
    if (cells.length === 0) return;
    // One cell pasted into several goes into each of them.
    const spread = cells.length === 1 && cells[0]!.length === 1 && several;
    const rows = spread
      ? Array.from({ length: block.bottom - block.top + 1 }, () =>
          Array<string>(block.right - block.left + 1).fill(cells[0]![0]!),
        )
      : cells;
    void paste(rows);
  };

  const paste = async (rows: string[][]): Promise<void> => {
    // Lines over groups take no cells; enough is asked for to pass over them.
    const there = (await rowsOf({ ...block, bottom: block.top + rows.length * (ask.group ? 2 : 1) - 1 })).slice(
      0,
      rows.length,
    );
    const links = new Map<number, (Cell | undefined)[]>();
    const wide = Math.max(...rows.map((r) => r.length));
    for (let k = 0; k < wide; k++) {
      const field = columns[block.left + k]?.field;
      if (field?.link?.kind === 'picked')
        links.set(
          k,
          await engine.editing.linkCells(
            table.id,
            field.id,
            rows.map((r) => r[k] ?? ''),
          ),
        );
    }
    const make = (ids: readonly string[]) => pasteDrafts(table, columns, rows, ids, block.left, newRecordId, links);
    let pasted = make(there.map((r) => r.id));
    const over = writtenOver(columns, there, pasted.drafts);
    if (over.records >= MANY) {
      const choice = await askFirst({
        title: `Write over ${plural(over.records, 'record')}?`,
        words: `Pasted here, these ${plural(rows.length, 'row')} replace ${plural(over.cells, 'filled cell')} in ${plural(over.records, 'record')} of ${table.name}. They can also be added as new records.`,
        choices: [
          { value: 'over', label: 'Write over them' },
          { value: 'new', label: 'Add as new records', main: true },
        ],
      });
      if (choice === null) return;
      if (choice === 'new') pasted = make([]);
    }
    if (pasted.drafts.length === 0) {
      toast(
        'Nothing of this fits here. Formula fields take no values, and a link takes the name of a record there is.',
      );
      return;
    }
    const before = useStudio.getState().past.length;
    await editRecords(`Pasted ${plural(rows.length, 'row')} into ${table.name}`, pasted.drafts);
    if (useStudio.getState().past.length === before) return; // it was refused, and the bar says why
    const left = pasted.left
      ? ` ${plural(pasted.left, 'cell does', 'cells do')} not fit and ${pasted.left === 1 ? 'is' : 'are'} left out.`
      : '';
    toast(
      `Pasted ${plural(rows.length, 'row')}${pasted.added ? `, ${pasted.added.toLocaleString('en-GB')} of them new` : ''}.${left}`,
    );
    onPasted(rows.length, wide, pasted.added > 0);
  };

  const fill = (): void =>
    void rowsOf(block).then((rows) =>
      editRecords(`Filled ${cellsWord()} down`, fillDrafts(table, columns, rows, block)),
    );
  return { several, rowsOf, onCopy, onPaste, fill, empty: () => clear('Cleared') };
}
