import type { App } from '../app/schema.ts';
import { fieldKind } from '../fields/kinds.ts';
import { readKeptAddress, type KeptFile } from '../fields/kept-address.ts';
import { keptIn } from '../fields/kept-file.ts';
import type { Change, RecordState } from '../records/change.ts';
import { tableOf } from '../tables/names.ts';
import { checkChange } from './check.ts';
import { FileUses } from './file-uses.ts';
import type { FilesPort } from './host-ports.ts';
import type { Replica } from './replica.ts';

/** The files that the records of a host hold, as far as its changes and those who read them ask for that. */
export class HostFiles {
  private readonly uses = new FileUses();

  constructor(
    private readonly replica: Replica,
    private readonly files: FilesPort,
  ) {}

  /** Takes note of the files in cells. */
  note(record: string, cells: RecordState['cells']): void {
    this.uses.note(record, cells);
  }

  /** The files that a change puts into fields for files. What stands in others is what people wrote. */
  private filesOf(app: App, c: Change): KeptFile[] {
    if (c.do === 'remove') return [];
    const cells = { ...(c.do === 'raise' && c.makes), ...c.cells };
    const fields = tableOf(app, c.table)?.fields.filter((f) => fieldKind(f.type).holdsFile) ?? [];
    return fields.flatMap((f) => readKeptAddress(cells[f.id]) ?? []);
  }

  /** Hashes of files that changes name and that are not here, where the changes could be made otherwise. */
  missing(app: App, unit: readonly Change[], reasons: () => (string | null)[]): string[] {
    const away = unit.flatMap((c) => this.filesOf(app, c).filter((f) => this.files.sizeOf(f.hash) !== f.size));
    if (away.length === 0 || unit.some((c) => checkChange(app, c))) return [];
    return reasons().some((r) => r !== null) ? [] : away.map((f) => f.hash);
  }

  /** Does a record hold the file, as far as it is seen? */
  isSeen(hash: string, seen: (state: RecordState) => RecordState | null): boolean {
    for (const s of this.uses.of(hash, (id) => this.replica.state(id))) {
      const part = seen(s);
      if (part && keptIn(part.cells).some((f) => f.hash === hash)) return true;
    }
    return false;
  }

  /** Does any record hold the file? */
  isUsed(hash: string): boolean {
    return !this.uses.of(hash, (id) => this.replica.state(id)).next().done;
  }
}
