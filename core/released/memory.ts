import { hashOf } from '../fields/keep-file.ts';
import type { HostSnapshot } from '../host/host.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { FilesDisk, StoredFile } from './kept-files.ts';
import type { MessagesPort } from './outbox.ts';
import type { FoldedLog, KeptHost } from './ports.ts';

/** A host's log in memory, which can be made to fail. */
export class MemoryLog implements FoldedLog {
  readonly kept: Change[] = [];
  fail = false;
  /** Is it to be folded after the next change? */
  isLong = false;
  /** What was folded last, and how much of the log came before it. */
  private folded: { states: RecordState[]; at: number; from: number; known: Partial<HostSnapshot> } = {
    states: [],
    at: 0,
    from: 0,
    known: {},
  };
  /** Where the part that was begun last begins. */
  private begun = { at: 0, from: 0 };

  async append(changes: readonly Change[]): Promise<void> {
    if (this.fail) throw new Error('disk full');
    this.kept.push(...changes);
  }

  async turn(at: number): Promise<void> {
    this.begun = { at, from: this.kept.length };
  }
  async fold({ states, ...known }: HostSnapshot): Promise<void> {
    this.folded = { states: structuredClone([...states]), ...this.begun, known };
    this.isLong = false;
  }

  async changesOf(record: string): Promise<Change[]> {
    return structuredClone(this.kept.filter((c) => c.record === record));
  }

  async rewrite(of: Parameters<FoldedLog['rewrite']>[0]): Promise<void> {
    // Their places stay, since parts are counted by them.
    const stays = this.kept.map((c) => of.change(c) ?? ({ ...c, cells: {} } as Change));
    this.kept.splice(0, Infinity, ...stays);
  }

  /** What a host begins with that was started anew. */
  whole(): KeptHost {
    const { states, at, from, known } = structuredClone(this.folded);
    const changes = structuredClone(this.kept.slice(from));
    return { ...known, states, changes, at: at + changes.length };
  }
}

/** The files of an app in memory. */
export class MemoryFiles implements FilesDisk {
  private readonly whole = new Map<string, { content: Uint8Array; at: number }>();
  private readonly halves = new Map<string, { content: Uint8Array; at: number }>();

  constructor(private readonly now: () => number = Date.now) {}

  /** The content of a whole file; null when it is not here. */
  read(hash: string): Uint8Array | null {
    return this.whole.get(hash)?.content ?? null;
  }
  async content(hash: string): Promise<Uint8Array | null> {
    return this.read(hash);
  }
  sizeOf(hash: string): number | null {
    return this.read(hash)?.length ?? null;
  }
  async halfOf(hash: string): Promise<number> {
    return this.halves.get(hash)?.content.length ?? 0;
  }
  async write(hash: string, offset: number, piece: Uint8Array): Promise<void> {
    const before = this.halves.get(hash)?.content ?? new Uint8Array();
    const content = new Uint8Array(offset + piece.length);
    content.set(before.subarray(0, offset));
    content.set(piece, offset);
    this.halves.set(hash, { content, at: this.now() });
  }
  async hashOfHalf(hash: string): Promise<string> {
    return hashOf(this.halves.get(hash)?.content ?? new Uint8Array());
  }
  async makeWhole(hash: string): Promise<void> {
    this.whole.set(hash, { content: this.halves.get(hash)!.content, at: this.now() });
    this.halves.delete(hash);
  }
  async drop(hash: string, isWhole: boolean): Promise<void> {
    (isWhole ? this.whole : this.halves).delete(hash);
  }
  async list(): Promise<StoredFile[]> {
    const of = (files: MemoryFiles['whole'], isWhole: boolean): StoredFile[] =>
      Array.from(files, ([hash, { content, at }]) => ({ hash, isWhole, size: content.length, at }));
    return [...of(this.whole, true), ...of(this.halves, false)];
  }
}

/** The messages of an outbox in memory. */
export class MemoryMessages implements MessagesPort {
  private readonly all = new Map<string, { text: string; at: number }>();

  constructor(private readonly now: () => number = Date.now) {}

  async list(): Promise<{ name: string; at: number; bytes: number }[]> {
    return Array.from(this.all, ([name, { text, at }]) => ({
      name,
      at,
      bytes: new TextEncoder().encode(text).length,
    })).sort((a, b) => a.at - b.at);
  }
  async keep(name: string, text: string): Promise<void> {
    if (this.all.has(name)) throw new Error(`There is a message ${name} already.`);
    this.all.set(name, { text, at: this.now() });
  }
  async read(name: string): Promise<string> {
    return this.all.get(name)!.text;
  }
  async replace(name: string, text: string): Promise<void> {
    this.all.set(name, { ...this.all.get(name)!, text });
  }
  async drop(name: string): Promise<void> {
    this.all.delete(name);
  }
}
