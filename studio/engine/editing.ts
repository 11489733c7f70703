import type { App } from '../../core/app/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { Device } from '../../core/host/device.ts';
import { cellsBefore, type Replica } from '../../core/host/replica.ts';
import { bring } from '../../core/host/bring.ts';
import { ChangedSince, takeBack, writeWithUndo, type Written } from '../../core/host/undo.ts';
import { completed } from '../../core/records/begin.ts';
import type { Draft } from '../../core/records/change.ts';
import { checkCell } from '../../core/records/check-cell.ts';
import { Claims, recordProblem } from '../../core/records/checks.ts';
import { isKeptFile } from '../../core/records/format.ts';
import { cellsAfter } from '../../core/records/raise.ts';
import type { Records } from '../../core/records/store.ts';
import { linkedCell, Titles } from '../../core/records/titles.ts';
import type { Files } from '../../core/phone/files.ts';

/** A file in a cell that is longer than this, in characters, is kept beside the records. */
const LARGE_CELL = 8000;

/** Changes to records that a maker makes: checked, with large files beside them, and ready to be undone. */
export class Editing {
  constructor(
    private readonly records: Records,
    private readonly replica: Replica,
    private readonly device: Device,
    private readonly files: Files,
    private readonly app: () => App,
  ) {}

  /** Why a change cannot be made, or null. */
  wrongWith(d: Draft, claims?: Claims): string | null {
    if (d.do === 'remove') return null;
    const cells =
      d.do === 'restore' ? (d.cells ?? cellsBefore(this.replica.state(d.record)!)) : cellsAfter(this.records, d);
    const table = this.app().tables.find((t) => t.id === d.table);
    for (const f of table?.fields ?? []) {
      const wrong = d.do !== 'restore' && f.id in cells ? checkCell(f, cells[f.id]) : null;
      if (wrong) return wrong;
    }
    const refused =
      recordProblem(this.records, d.table, d.record, cells) ?? claims?.claim(d.table, d.record, cells) ?? null;
    return refused?.said ?? null;
  }

  /** Drafts whose files are kept beside the records: a program or a file may give them with their content. */
  private async beside(drafts: readonly Draft[]): Promise<Draft[]> {
    const light: Draft[] = [];
    for (const d of drafts) light.push(d.do === 'set' ? { ...d, cells: await this.lighter(d.table, d.cells) } : d);
    return light;
  }
  /** Cells whose large files are kept beside the records. */
  async lighter(table: string, cells: Record<string, Cell>): Promise<Record<string, Cell>> {
    if (!Object.values(cells).some((c) => typeof c === 'string' && c.length > LARGE_CELL)) return cells;
    const light = { ...cells };
    for (const f of this.app().tables.find((t) => t.id === table)?.fields ?? []) {
      const cell = cells[f.id];
      if (typeof cell === 'string' && cell.length > LARGE_CELL && isKeptFile(cell, f.type))
        light[f.id] = await this.files.keepAddress(cell);
    }
    return light;
  }

  /** Makes changes, and gives what takes them back. Throws in words when one of them cannot be made. */
  async edit(given: readonly Draft[], together = false): Promise<Written> {
    const drafts = completed(this.records, await this.beside(given));
    const claims = new Claims(this.records);
    for (const d of drafts) {
      const wrong = this.wrongWith(d, claims);
      if (wrong) throw new Error(wrong);
    }
    return writeWithUndo(this.device, drafts, together);
  }

  /**
   * Takes back what was written, all of it or nothing, and gives what does it again. Where somebody has changed it since,
   * it gives in words what.
   */
  async takeBack(written: Written): Promise<Written | { changed: string }> {
    try {
      return await takeBack(this.device, written);
    } catch (e) {
      if (e instanceof ChangedSince) return { changed: e.message };
      throw e;
    }
  }

  /** Takes many new records at once. */
  async bring(
    records: { table: string; id: string; cells: Record<string, Cell> }[],
    progress: (kept: number) => void,
  ): Promise<void> {
    for (const r of records) r.cells = await this.lighter(r.table, r.cells);
    return bring(this.device, records, progress);
  }

  /** Cells of a picked link from titles as they were pasted; undefined where there is no such record. */
  linkCells(table: string, field: string, texts: string[]): (Cell | undefined)[] {
    const def = this.app()
      .tables.find((t) => t.id === table)!
      .fields.find((f) => f.id === field)!;
    const titles = new Titles(this.records);
    return texts.map((t) => (t.trim() === '' ? null : linkedCell(def, t, titles)));
  }
}
