import type { Access } from '../access/access.ts';
import type { Change, RecordState } from '../records/change.ts';
import { together, type Compared, type Have, type News } from './protocol.ts';
import { isRemoved, type Replica } from './replica.ts';
import { PageOfStates } from './pages.ts';
import { firstAfter } from './sorted.ts';
import type { Told, ToldValues } from './told.ts';
import { versionOf } from './version-of.ts';

/** News that are kept for those who come later, counted in changes and records. */
const KEPT_NEWS = 20_000;

/** Nothing has happened for those who hear it. */
export const isEmpty = (n: News): boolean => n.changes.length === 0 && !n.forget && !n.given && n.was === undefined;

/** The fields of a record that are hidden, in one text; null for a record that is hidden whole. */
type Hidden = string | null;

/** As much of a host as its views read. */
export interface Viewed {
  readonly replica: Replica;
  readonly access: Access;
  /** The fields of a table, by id. */
  fieldsOf(table: string): readonly string[];
}

/** A record, as far as some may read it who do not see the fields of this text. */
function without(s: RecordState, hidden: string, fields: readonly string[]): RecordState {
  const seen = new Set(fields);
  for (const f of hidden.split(' ')) seen.delete(f);
  const only = <T>(all: Record<string, T>): Record<string, T> =>
    Object.fromEntries(Object.entries(all).filter(([f]) => seen.has(f)));
  const { table, id, stamp, removed, restored } = s;
  return {
    table,
    id,
    stamp,
    cells: only(s.cells),
    ...(s.stamps && { stamps: only(s.stamps) }),
    ...(removed !== undefined && { removed }),
    ...(restored !== undefined && { restored }),
  };
}

/**
 * What those with some rights may read of a record now; null for nothing. Without values that the host works out: they
 * come with the news, one after the other.
 */
export function seenWith(on: Viewed, rights: string, s: RecordState): RecordState | null {
  const hidden = hiddenFrom(on, rights, s);
  return hidden === null ? null : without(s, hidden, on.fieldsOf(s.table));
}

function hiddenFrom(on: Viewed, rights: string, s: RecordState): Hidden {
  if (isRemoved(s) || !on.access.mayRead(rights, s)) return null;
  return on
    .fieldsOf(s.table)
    .filter((f) => !on.access.mayReadField(rights, s, f))
    .join(' ');
}

function changedIds(
  changes: readonly Change[],
  touched: ReadonlySet<string>,
  told: ReadonlyMap<string, unknown>,
): Set<string> {
  return new Set([...changes.map((c) => c.record), ...touched, ...told.keys()]);
}

/** The records with these ids, as far as there are any. */
function* found(replica: Replica, ids: Iterable<string>): Generator<RecordState> {
  for (const id of ids) {
    const s = replica.state(id);
    if (s) yield s;
  }
}

/**
 * What those with the same rights see of the records, and how that changes. It knows what it has told, so that it can
 * say what is to be forgotten, and what is given anew.
 */
export class View {
  private readonly seen = new Map<string, string>();
  private recent: News[] = [];
  private kept = 0;
  private ids: string[] | null = null;
  /** The fields that the host works out for this view, by table. */
  private readonly toldFields = new Map<string, readonly string[]>();

  constructor(
    /** Devices say by it which view they know. */
    readonly name: string,
    private readonly on: Viewed,
    private readonly rights: string,
    /** Values that the host works out, as they were told last. */
    private readonly worksOut: Told,
    /** Number of the change from which on it knows what has happened. */
    private since: number,
  ) {
    const { replica, access } = on;
    const candidates = access.candidates ? found(replica, access.candidates(rights)) : replica.all();
    for (const s of candidates) {
      const hidden = hiddenFrom(on, rights, s);
      if (hidden !== null) this.seen.set(s.id, hidden);
    }
  }

  /** A record as it is seen here, with the values that the host works out. */
  private shows(s: RecordState, hidden: string): RecordState {
    const state = without(s, hidden, this.on.fieldsOf(s.table));
    const told = this.toldOf(s, hidden);
    return told ? { ...state, told } : state;
  }

  private toldOf(s: RecordState, hidden: string): ToldValues | null {
    let fields = this.toldFields.get(s.table);
    if (!fields) this.toldFields.set(s.table, (fields = this.on.access.told(this.rights, s.table)));
    if (fields.length === 0) return null;
    const all = this.worksOut.of(s.table, s.id);
    const notSeen = hidden ? new Set(hidden.split(' ')) : null;
    const seen = fields.filter((f) => !notSeen?.has(f));
    return all && seen.length ? Object.fromEntries(seen.map((f) => [f, all[f] ?? null])) : null;
  }

  /**
   * What these changes are for those who see it. `touched` are other records that may be read otherwise now, null for
   * all; `told` the fields by record of which the host works out another value now.
   */
  after(
    from: number,
    at: number,
    changes: readonly Change[],
    touched: ReadonlySet<string> | null,
    told: ReadonlyMap<string, readonly string[]>,
  ): News {
    const { replica } = this.on;
    const removed = new Set(changes.flatMap((c) => (c.do === 'remove' ? [c.record] : [])));
    const news = { changes: [] as Change[], forget: [] as string[], given: [] as RecordState[] };
    /** Records that are seen as before. */
    const same = new Set<string>();
    const again = touched === null ? replica.all() : found(replica, changedIds(changes, touched, told));
    for (const s of again) {
      const was = this.seen.get(s.id) ?? null;
      const is = hiddenFrom(this.on, this.rights, s);
      if (was === is && !this.hears(s, is, told.get(s.id))) same.add(s.id);
      else if (is !== null) {
        this.seen.set(s.id, is);
        news.given.push(this.shows(s, is));
      } else {
        this.seen.delete(s.id);
        // Who had it hears that it was removed; of what is only hidden nothing is told.
        if (isRemoved(s) && removed.has(s.id)) same.add(s.id);
        else news.forget.push(s.id);
      }
      if (was !== is) this.ids = null;
    }
    for (const c of changes) if (same.has(c.record)) news.changes.push(...this.told(c));
    return this.keep({
      from,
      at,
      view: this.name,
      changes: news.changes,
      ...(news.forget.length && { forget: news.forget }),
      ...(news.given.length && { given: news.given }),
    });
  }

  /** Is one of these values told to those who see this? */
  private hears(s: RecordState, hidden: Hidden, fields: readonly string[] | undefined): boolean {
    const told = fields && hidden !== null ? this.toldOf(s, hidden) : null;
    return told !== null && fields!.some((f) => f in told);
  }

  /** As much of a change as is seen. */
  private told(c: Change): Change[] {
    const { author: _author, sent: _sent, ...change } = c;
    const hidden = this.seen.get(c.record);
    // One that was brought back later than it was removed is there: nothing is to be told.
    if (change.do === 'remove') return hidden === undefined ? [change] : [];
    if (hidden === undefined) return [];
    const fields = new Set(this.on.fieldsOf(c.table));
    for (const f of hidden.split(' ')) fields.delete(f);
    const cells = Object.fromEntries(Object.entries(change.cells ?? {}).filter(([f]) => fields.has(f)));
    if (change.do === 'restore') return [{ ...change, cells }];
    if (change.do !== 'set') return [];
    const { amounts: _amounts, ...set } = change;
    // An amount comes to nothing where the field was set later, and whoever added it must hear that.
    const counts = Object.keys(change.amounts ?? {}).some((f) => fields.has(f));
    return Object.keys(cells).length || counts ? [{ ...set, cells }] : [];
  }

  private keep(news: News): News {
    // What goes by the time alone comes behind the last change, and many times nothing does.
    if (isEmpty(news) && news.from === news.at) return news;
    this.recent.push(news);
    const size = (n: News): number => 1 + n.changes.length + (n.forget?.length ?? 0) + (n.given?.length ?? 0);
    this.kept += size(news);
    while (this.kept > KEPT_NEWS && this.recent.length > 1) {
      const gone = this.recent.shift()!;
      this.kept -= size(gone);
      this.since = gone.at;
    }
    return news;
  }

  /** What has happened since a change; null when that is not known any more. */
  newsSince(since: number, at: number): News | null {
    const none: News = { from: since, at, view: this.name, changes: [] };
    if (since < this.since || since > at) return null;
    const first = this.recent.findIndex((n) => n.from >= since);
    if (first < 0) return since === (this.recent.at(-1)?.at ?? this.since) ? none : null;
    if (this.recent[first]!.from !== since) return null;
    return { ...this.recent.slice(first).reduce(together), from: since, at, view: this.name };
  }

  /** What those who had another view until now must be told; `last` is what that one told just now. */
  instead(before: View, last: News | undefined, from: number, at: number): News {
    const given: RecordState[] = [];
    for (const [id, hidden] of this.seen) {
      const s = this.on.replica.state(id)!;
      given.push(this.shows(s, hidden));
    }
    const had = new Set([
      ...before.seen.keys(),
      ...(last?.forget ?? []),
      ...(last?.changes ?? []).map((c) => c.record),
    ]);
    const forget = [...had].filter((id) => !this.seen.has(id));
    return { from, at, view: this.name, was: before.name, changes: [], forget, given };
  }

  /** Compares what a device has with what it may have. Ids go by their letters, as the device sorts them. */
  compare({ after, upTo, records }: Have, at: number): Compared {
    this.ids ??= [...this.seen.keys()].sort();
    const has = new Map(records);
    const page = new PageOfStates();
    let end: string | null = null;
    for (let i = after === null ? 0 : firstAfter(this.ids, after); i < this.ids.length; i++) {
      const id = this.ids[i]!;
      if (upTo !== null && id > upTo) break;
      const s = this.on.replica.state(id)!;
      const seen = this.shows(s, this.seen.get(id)!);
      if (has.get(id) === versionOf(seen)) continue;
      if (page.isFull) {
        end = page.states.at(-1)!.id;
        break;
      }
      page.add(seen);
    }
    const reached = end ?? upTo;
    const forget = records.flatMap(([id]) => ((reached === null || id <= reached) && !this.seen.has(id) ? [id] : []));
    return { at, view: this.name, states: page.states, forget, upTo: reached };
  }
}
