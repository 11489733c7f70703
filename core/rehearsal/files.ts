import { keptIn } from '../fields/kept-file.ts';
import type { RecordState } from '../records/change.ts';
import { MemoryFiles } from '../released/memory.ts';

/** The files of a rehearsal: its own, and those of the app’s records, which are lent when somebody looks at them. */
export class LentFiles extends MemoryFiles {
  /** Bytes, by hash. */
  private readonly known = new Map<string, number>();

  constructor(
    states: readonly RecordState[],
    /** The content of a file of the app; null where it is not here. */
    private readonly lend: (hash: string) => Promise<Blob | null>,
    now: () => number,
  ) {
    super(now);
    for (const s of states) for (const { hash, size } of keptIn(s.cells)) this.known.set(hash, size);
  }

  override sizeOf(hash: string): number | null {
    return super.sizeOf(hash) ?? this.known.get(hash) ?? null;
  }
  override async content(hash: string): Promise<Uint8Array | null> {
    const own = await super.content(hash);
    if (own || !this.known.has(hash)) return own;
    const lent = await this.lend(hash);
    return lent && new Uint8Array(await lent.arrayBuffer());
  }
}
