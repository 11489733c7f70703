import type { App } from '../../core/app/schema.ts';
import type { Cell } from '../../core/fields/lists.ts';
import type { Device } from '../../core/host/device.ts';
import { cellsBefore, type Replica } from '../../core/host/replica.ts';
import { writeWithUndo, type Written } from '../../core/host/undo.ts';
import { completed } from '../../core/records/begin.ts';
import type { Draft } from '../../core/records/change.ts';
import { checkCell } from '../../core/records/check-cell.ts';
import { Claims, recordProblem } from '../../core/records/checks.ts';
import { isKeptFile } from '../../core/records/format.ts';
import { cellsAfter } from '../../core/records/raise.ts';
import type { Records } from '../../core/records/store.ts';
import type { Files } from '../../player/files.ts';

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
}
