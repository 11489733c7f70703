import { keptIn } from '../fields/kept-file.ts';
import type { KeptFile } from '../fields/kept-address.ts';
import type { Change, RecordState } from '../records/change.ts';

/** The kept files that a change names. */
export const filesOf = (c: Change): KeptFile[] => (c.do === 'remove' ? [] : keptIn(c.cells ?? {}));

/** Which records hold which kept files. Holding one in the past is noted too, so whoever asks looks at the record. */
export class FileUses {
  private readonly records = new Map<string, Set<string>>();

  note(record: string, cells: RecordState['cells']): void {
    for (const { hash } of keptIn(cells)) {
      const known = this.records.get(hash);
      if (known) known.add(record);
      else this.records.set(hash, new Set([record]));
    }
  }

  /** The records that hold a file now, given a way to look at them. */
  *of(hash: string, state: (id: string) => RecordState | undefined): Generator<RecordState> {
    for (const id of this.records.get(hash) ?? []) {
      const s = state(id);
      if (s && keptIn(s.cells).some((f) => f.hash === hash)) yield s;
    }
  }
}
