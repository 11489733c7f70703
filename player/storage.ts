import { Dexie, type EntityTable } from 'dexie';
import type { Change, RecordState } from '../core/records/change.ts';
import type { DeviceStore } from '../core/host/link.ts';
import type { KeptRun } from '../core/routines/run.ts';
import type { Outgoing } from '../core/session/effects.ts';

interface Meta {
  key: string;
  value: unknown;
}

/** The browser's store is full, or storing is switched off. */
export class StorageError extends Error {
  override name = 'StorageError';
}

/** A record that was changed by itself; `gone` when the device must forget it. */
type Single = RecordState & { gone?: true };
/** Many records in one entry: a text of JSON is written and read far faster than as many entries. */
interface Pack {
  n?: number;
  json: string;
}

/** The content of a file that a record holds, or will. */
interface KeptContent {
  hash: string;
  content: Blob;
  /** When it came, in milliseconds. */
  at: number;
}

/** So many records at once are packed; fewer are entries of their own. */
const BULK = 200;
const PACK = 2000;
/** More single entries than this are packed when the app is opened. */
const MANY_SINGLES = 5000;

/**
 * A page that is left while it opens a database would be put to sleep by the browser, to be shown again by “back”, and
 * would keep everyone else from that database. A page that holds a lock is not put to sleep.
 */
export class WakefulDb extends Dexie {
  override open(): ReturnType<Dexie['open']> {
    const opened = super.open();
    const done = opened.then(
      () => {},
      () => {},
    );
    // Plain http from another machine has no locks, nor has Node.js; where none can be had, it opens as before.
    globalThis.navigator?.locks?.request(`opening ${this.name}`, { mode: 'shared' }, () => done).catch(() => {});
    return opened;
  }
}

/** What a device keeps of one app: records with their stamps, changes and mails not yet sent, and where it stands. */
export class DeviceDb extends WakefulDb implements DeviceStore {
  private readonly states!: EntityTable<Single, 'id'>;
  private readonly packs!: EntityTable<Pack, 'n'>;
  readonly queue!: EntityTable<Change & { order?: number }, 'order'>;
  readonly outbox!: EntityTable<Outgoing & { at: string; sent: 0 | 1; eml?: string; address?: string }, 'id'>;
  readonly meta!: EntityTable<Meta, 'key'>;
  private readonly files!: EntityTable<KeptContent, 'hash'>;

  constructor(name: string) {
    super(name);
    this.version(1).stores({ states: 'id', queue: '++order,id', outbox: 'id,sent,at', meta: 'key' });
    this.version(2).stores({ packs: '++n' });
    this.version(3).stores({ files: 'hash,at' });
  }

  async get<T>(key: string): Promise<T | undefined> {
    return (await this.meta.get(key))?.value as T | undefined;
  }
  async put(key: string, value: unknown): Promise<void> {
    await told(this.meta.put({ key, value }));
  }

  async file(hash: string): Promise<Blob | null> {
    return (await this.files.get(hash))?.content ?? null;
  }
  async keepFile(hash: string, content: Blob): Promise<void> {
    await told(this.files.put({ hash, content, at: Date.now() }));
  }
  /** Forgets files that came before a time and are not among the used ones. */
  async forgetFiles(used: ReadonlySet<string>, before: number): Promise<void> {
    const old = await this.files.where('at').below(before).primaryKeys();
    await this.files.bulkDelete(old.filter((hash) => !used.has(hash)));
  }

  /** Keeps a run of a routine that waits for something; null forgets it. */
  async keepRun(id: string, run: KeptRun | null): Promise<void> {
    if (run) await told(this.meta.put({ key: `run:${id}`, value: run }));
    else await told(this.meta.delete(`run:${id}`));
  }
  /** The runs that were put away. */
  async keptRuns(): Promise<KeptRun[]> {
    return (await this.meta.where('key').startsWith('run:').toArray()).map((m) => m.value as KeptRun);
  }

  async queueMail(m: Outgoing): Promise<void> {
    await told(this.outbox.put({ ...m, at: new Date().toISOString(), sent: 0 }));
  }
  unsentMail(): Promise<Outgoing[]> {
    return this.outbox.where('sent').equals(0).toArray();
  }

  /** Every record that is kept. What was changed by itself is newer than what is packed, a later pack newer than an earlier. */
  async allStates(): Promise<RecordState[]> {
    const [packs, singles] = await this.transaction('r', this.packs, this.states, () =>
      Promise.all([this.packs.orderBy('n').toArray(), this.states.toArray()]),
    );
    const states = merged(packs, singles);
    if (singles.length > MANY_SINGLES) await this.packAgain();
    return states;
  }

  private packAgain(): Promise<void> {
    return told(
      this.transaction('rw', this.packs, this.states, async () => {
        const states = merged(await this.packs.orderBy('n').toArray(), await this.states.toArray());
        await this.packs.clear();
        await this.states.clear();
        await this.packs.bulkAdd(packed(states));
      }),
    );
  }

  async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    await told(
      this.transaction('rw', [this.states, this.packs, this.queue, this.meta], async () => {
        if (u.gone?.length)
          await this.states.bulkPut(u.gone.map((id) => ({ id, table: '', cells: {}, stamp: '', gone: true as const })));
        if (u.states && u.states.length >= BULK) await this.savePacked(u.states);
        else if (u.states?.length) await this.states.bulkPut(u.states);
        if (u.queued?.length) await this.queue.bulkAdd(u.queued.map((c) => ({ ...c })));
        if (u.sent?.length) await this.queue.where('id').anyOf(u.sent).delete();
        if (u.at !== undefined) await this.meta.put({ key: 'at', value: u.at });
      }),
    );
  }

  private async savePacked(states: readonly RecordState[]): Promise<void> {
    const fresh = new Set(states.map((s) => s.id));
    // An older single entry must not stand before the newer pack.
    const stale = (await this.states.toCollection().primaryKeys()).filter((id) => fresh.has(id));
    if (stale.length) await this.states.bulkDelete(stale);
    await this.packs.bulkAdd(packed(states));
  }

  async queued(): Promise<Change[]> {
    return (await this.queue.orderBy('order').toArray()).map(({ order: _order, ...c }) => c as Change);
  }
}

function packed(states: readonly RecordState[]): Pack[] {
  const packs: Pack[] = [];
  for (let i = 0; i < states.length; i += PACK) packs.push({ json: JSON.stringify(states.slice(i, i + PACK)) });
  return packs;
}

function merged(packs: readonly Pack[], singles: readonly Single[]): RecordState[] {
  const all = new Map<string, RecordState>();
  for (const p of packs) for (const s of JSON.parse(p.json) as RecordState[]) all.set(s.id, s);
  for (const { gone, ...s } of singles) {
    if (gone) all.delete(s.id);
    else all.set(s.id, s);
  }
  return [...all.values()];
}

/** Turns the browser's storage errors into words. */
async function told<T>(work: PromiseLike<T>): Promise<T> {
  try {
    return await work;
  } catch (e) {
    const inner = (e as { inner?: Error }).inner ?? (e as Error);
    if (inner.name === 'QuotaExceededError' || (e as Error).name === 'QuotaExceededError') {
      throw new StorageError(
        'This device’s storage for the app is full, so the last change is not kept. Free some space, then try again.',
      );
    }
    throw e;
  }
}
