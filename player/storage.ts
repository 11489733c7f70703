import { Dexie, type EntityTable } from 'dexie';
import type { Change, RecordState } from '../core/records/change.ts';
import type { DeviceStore } from '../core/host/link.ts';
import type { Keeper } from './keeper.ts';
import type { KeptRun } from '../core/routines/run.ts';
import type { StepTrace } from '../core/routines/state.ts';
import type { Drafts } from '../core/phone/walk.ts';
import type { Outgoing } from '../core/session/effects.ts';

interface Meta {
  key: string;
  value: unknown;
}

/** How the keys of drafts begin. */
const DRAFT = 'draft:';

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

/** How the steps of a kept run are kept. */
interface Parts {
  /** Parts that were written, those that have gone since included. */
  count: number;
  /** Steps in all of them. */
  steps: number;
  /** Steps from before they were kept in parts. */
  first: StepTrace[];
}
type StoredRun = KeptRun & { parts?: Parts };
/** Of the parts of a long run so many of the first and of the last are kept. */
/** Only runs need it, and no screen waits for one. */
const traces = () => import('../core/routines/trace.ts');
const FIRST_PARTS = 200;
const LAST_PARTS = 200;

/** Can what is kept be a run? A page that was closed in the middle, or a later version, may have left something else. */
function isRun(kept: unknown): kept is StoredRun {
  const { state, ask, trace } = (kept ?? {}) as Partial<KeptRun>;
  return (
    typeof state?.id === 'string' &&
    typeof state.routine === 'string' &&
    Array.isArray(state.frames) &&
    state.frames.length > 0 &&
    state.frames.every((f) => typeof f?.at === 'number') &&
    typeof state.results === 'object' &&
    typeof ask?.ask === 'string' &&
    Array.isArray(trace?.steps)
  );
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

/**
 * Opens what a device keeps of an app. Where that cannot be opened, memory takes its place until the page is closed, and
 * `broken` hears why in words.
 */
export async function openDevice(name: string, broken: (why: string) => void): Promise<Keeper> {
  try {
    if (!globalThis.indexedDB) throw new StorageError('This browser keeps nothing for pages.');
    const db = new DeviceDb(name);
    await db.open();
    return db;
  } catch (e) {
    broken(
      `This device cannot keep the app: ${(e as Error).message || 'its storage does not open.'} What you do is kept until you close it, and sent when there is a network.`,
    );
    const { MemoryKeeper } = await import('../core/phone/memory-keeper.ts');
    return new MemoryKeeper();
  }
}

/** What a device keeps of one app: records with their stamps, changes and mails not yet sent, and where it stands. */
export class DeviceDb extends WakefulDb implements Keeper {
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
    await inWords(this.meta.put({ key, value }));
  }

  async drafts(): Promise<Drafts> {
    const kept = await this.meta.where('key').startsWith(DRAFT).toArray();
    return Object.fromEntries(kept.map(({ key, value }) => [key.slice(DRAFT.length), value as Drafts[string]]));
  }
  async keepDraft(form: string, changed: Drafts[string] | null): Promise<void> {
    const key = DRAFT + form;
    await inWords<unknown>(changed ? this.meta.put({ key, value: changed }) : this.meta.delete(key));
  }

  async file(hash: string): Promise<Blob | null> {
    return (await this.files.get(hash))?.content ?? null;
  }
  async keepFile(hash: string, content: Blob): Promise<void> {
    await inWords(this.files.put({ hash, content, at: Date.now() }));
  }
  /** Forgets files that came before a time and are not among the used ones. */
  async forgetFiles(used: ReadonlySet<string>, before: number): Promise<void> {
    const old = await this.files.where('at').below(before).primaryKeys();
    await this.files.bulkDelete(old.filter((hash) => !used.has(hash)));
  }

  /**
   * Keeps a run of a routine that waits for something, with the steps it has taken since the last time; null forgets it.
   * Steps are written once, in parts of their own: a long run would otherwise be written whole at each of its waits.
   */
  async keepRun(id: string, run: KeptRun | null, steps: readonly StepTrace[]): Promise<void> {
    const [from, to] = [`ran:${id}:`, `ran:${id};`];
    if (!run) {
      await inWords(
        this.transaction('rw', this.meta, async () => {
          await this.meta.delete(`run:${id}`);
          await this.meta.where('key').between(from, to).delete();
          await this.meta.where('key').between(`wrote:${id}:`, `wrote:${id};`).delete();
        }),
      );
      this.parts.delete(id);
      return;
    }
    const before = this.parts.get(id) ?? (await this.partsOf(id));
    const now = { ...before, count: before.count + (steps.length ? 1 : 0), steps: before.steps + steps.length };
    const part: StepTrace[] = [];
    (await traces()).addSteps(part, steps);
    await inWords(
      this.transaction('rw', this.meta, async () => {
        const kept: StoredRun = { ...run, parts: now, trace: { ...run.trace, steps: before.first } };
        await this.meta.put({ key: `run:${id}`, value: kept });
        if (!steps.length) return;
        await this.meta.put({ key: `${from}${String(now.count).padStart(9, '0')}`, value: part });
        const old = now.count - LAST_PARTS;
        if (old > FIRST_PARTS) await this.meta.delete(`${from}${String(old).padStart(9, '0')}`);
      }),
    );
    this.parts.set(id, now);
  }
  /** How many parts of steps each run has here. */
  private readonly parts = new Map<string, Parts>();
  private async partsOf(id: string): Promise<Parts> {
    const kept = await this.get<StoredRun>(`run:${id}`);
    return kept?.parts ?? { count: 0, steps: 0, first: kept?.trace?.steps ?? [] };
  }

  /** What all runs that are kept hold, as it is kept. */
  async inRuns(): Promise<unknown> {
    return (await this.meta.where('key').startsWith('run:').toArray()).map((m) => m.value);
  }

  async runIds(): Promise<string[]> {
    const keys = await this.meta.where('key').startsWith('run:').primaryKeys();
    return keys.map((key) => key.slice(4));
  }

  async keptRun(id: string): Promise<KeptRun | 'spoilt' | null> {
    const kept = await this.get<StoredRun>(`run:${id}`);
    if (kept === undefined) return null;
    if (!isRun(kept)) return 'spoilt';
    const { parts, ...run } = kept;
    const steps = [...run.trace.steps];
    const { addSteps, leftOut } = await traces();
    const list = await this.meta.where('key').between(`ran:${id}:`, `ran:${id};`).toArray();
    const later = list.map((m) => m.value as StepTrace[]);
    const missing = (parts?.steps ?? 0) - later.flat().reduce((n, s) => n + (s.leftOut ?? 1), 0);
    for (const [i, part] of later.entries()) {
      if (i === FIRST_PARTS && missing > 0) steps.push(leftOut(missing));
      addSteps(steps, part);
    }
    return { ...run, trace: { ...run.trace, steps } };
  }

  async queueMail(m: Outgoing): Promise<void> {
    await inWords(this.outbox.put({ ...m, at: new Date().toISOString(), sent: 0 }));
  }
  unsentMail(): Promise<Outgoing[]> {
    return this.outbox.where('sent').equals(0).toArray();
  }
  mailSent(id: string): Promise<void> {
    return this.outbox.delete(id);
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

  async onlyWaiting(stays: ReadonlySet<string>): Promise<void> {
    const { meta, states, packs, files, queue, outbox } = this;
    await inWords(
      this.transaction('rw', [states, packs, meta, files, queue, outbox], async () => {
        await states.clear();
        await packs.clear();
        await meta.bulkDelete((await meta.toCollection().primaryKeys()).filter((key) => !stays.has(key)));
        const sent = JSON.stringify([await queue.toArray(), await outbox.toArray(), await meta.toArray()]);
        await files.bulkDelete((await files.toCollection().primaryKeys()).filter((hash) => !sent.includes(hash)));
      }),
    );
  }

  private packAgain(): Promise<void> {
    return inWords(
      this.transaction('rw', this.packs, this.states, async () => {
        const states = merged(await this.packs.orderBy('n').toArray(), await this.states.toArray());
        await this.packs.clear();
        await this.states.clear();
        await this.packs.bulkAdd(packed(states));
      }),
    );
  }

  async save(u: Parameters<DeviceStore['save']>[0]): Promise<void> {
    await inWords(
      this.transaction('rw', [this.states, this.packs, this.queue, this.meta], async () => {
        if (u.gone?.length) await this.letGo(new Set(u.gone));
        if (u.states && u.states.length >= BULK) await this.savePacked(u.states);
        else if (u.states?.length) await this.states.bulkPut(u.states);
        if (u.queued?.length) await this.queue.bulkAdd(u.queued.map((c) => ({ ...c })));
        if (u.sent?.length) await this.queue.where('id').anyOf(u.sent).delete();
        if (u.wrote?.length) await this.meta.bulkPut(u.wrote.map((name) => ({ key: `wrote:${name}`, value: true })));
        if (u.at !== undefined)
          await this.meta.bulkPut([
            { key: 'at', value: u.at },
            { key: 'contact', value: Date.now() },
          ]);
        if (u.view !== undefined) await this.meta.put({ key: 'view', value: u.view });
        if (u.may !== undefined) await this.meta.put({ key: 'may', value: u.may });
      }),
    );
  }

  /** Takes records out of everything in which they are kept, to the last byte: somebody may not have them any more. */
  private async letGo(ids: ReadonlySet<string>): Promise<void> {
    await this.states.bulkDelete([...ids]);
    for (const pack of await this.packs.toArray()) {
      const all = JSON.parse(pack.json) as RecordState[];
      const left = all.filter((s) => !ids.has(s.id));
      if (left.length === all.length) continue;
      if (left.length) await this.packs.put({ ...pack, json: JSON.stringify(left) });
      else await this.packs.delete(pack.n!);
    }
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
async function inWords<T>(work: PromiseLike<T>): Promise<T> {
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
