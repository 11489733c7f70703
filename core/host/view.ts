import type { Access } from '../access/access.ts';
import type { PhoneRules } from '../access/phone-rules.ts';
import type { Change, RecordState } from '../records/change.ts';
import { together, type Compared, type Have, type News } from './protocol.ts';
import { isRemoved, type Replica } from './replica.ts';
import { PageOfStates } from './pages.ts';
import type { Showing } from './showing.ts';
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
  /** The fields of a table, by id; the same list each time while the table is the same. */
  fieldsOf(table: string): readonly string[];
}

/** How much is kept of news, in changes and records. */
const sizeOf = (n: News): number => 1 + n.changes.length + (n.forget?.length ?? 0) + (n.given?.length ?? 0);

const sets = new WeakMap<readonly string[], ReadonlySet<string>>();
function setOf(fields: readonly string[]): ReadonlySet<string> {
  let set = sets.get(fields);
  if (!set) sets.set(fields, (set = new Set(fields)));
  return set;
}

/** A record, as far as some may read it who do not see the fields of this text. */
function without(s: RecordState, hidden: string, fields: readonly string[]): RecordState {
  const known = setOf(fields);
  const not = hidden ? new Set(hidden.split(' ')) : null;
  // A copy in each case: what is told stays as it was told.
  const only = <T>(all: Record<string, T>): Record<string, T> => {
    const copy = { ...all };
    for (const f in copy) if (!known.has(f) || not?.has(f)) delete copy[f];
    return copy;
  };
  const { table, id, stamp, removed, restored } = s;
  return {
    table,
    id,
    stamp,
    cells: only(s.cells),
    ...(s.stamps && { stamps: only(s.stamps) }),
    ...(removed !== undefined && { removed }),
    ...(restored !== undefined && { restored }),
    ...(not && { hidden: [...not] }),
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
  if (isRemoved(s)) return null;
  const { access } = on;
  if (access.fieldsSeen) {
    const fields = access.fieldsSeen(rights, s);
    return fields && hiddenText(on, s.table, fields);
  }
  if (!access.mayRead(rights, s)) return null;
  return on
    .fieldsOf(s.table)
    .filter((f) => !access.mayReadField(rights, s, f))
    .join(' ');
}

/** What was found once for fields that are seen together. */
const hiddenBy = new WeakMap<ReadonlySet<string>, { of: readonly string[]; text: string }>();
function hiddenText(on: Viewed, table: string, seen: ReadonlySet<string>): string {
  const of = on.fieldsOf(table);
  const known = hiddenBy.get(seen);
  if (known?.of === of) return known.text;
  const text = of.filter((f) => !seen.has(f)).join(' ');
  hiddenBy.set(seen, { of, text });
  return text;
}

/** What has happened in a turn, made ready once for all views. */
export class Happened {
  /** The records that may be seen otherwise than before. */
  readonly records: RecordState[] = [];
  /** All records may be. */
  readonly all: boolean;
  readonly removed = new Set<string>();

  constructor(
    { replica }: Viewed,
    /** Number of the last change before, and of the last of these. */
    readonly from: number,
    readonly at: number,
    readonly changes: readonly Change[],
    /** Other records that may be read otherwise now; null for all. */
    touched: ReadonlySet<string> | null,
    /** The fields by record of which the host works out another value now. */
    readonly told: ReadonlyMap<string, readonly string[]>,
  ) {
    for (const c of changes) if (c.do === 'remove') this.removed.add(c.record);
    this.all = touched === null;
    const ids = touched && new Set([...changes.map((c) => c.record), ...touched, ...told.keys()]);
    for (const id of ids ?? []) {
      const state = replica.state(id);
      if (state) this.records.push(state);
    }
    if (!ids) for (const s of replica.all()) this.records.push(s);
  }
}

/**
 * What those with the same rights see of the records, and how that changes. It knows what it has told, so that it can
 * say what is to be forgotten, and what is given anew.
 */
export class View {
  private readonly seen = new Map<string, string>();
  private recent: { from: number; news: News }[] = [];
  /** Up to this change it has told what happened. */
  private toldTo: number;
  private kept = 0;
  private ids: string[] | null = null;
  /** The fields that the host works out for this view, by table. */
  private readonly toldFields = new Map<string, readonly string[]>();

  constructor(
    /** Devices say by it which view they know. */
    readonly name: string,
    private readonly on: Viewed,
    readonly rights: string,
    /** Values that the host works out, as they were told last. */
    private readonly worksOut: Told,
    private readonly showing: Showing<View>,
    /** Number of the change from which on it knows what has happened. */
    private since: number,
  ) {
    this.toldTo = since;
    showing.begin(this, on.access.namesOf?.(rights) ?? null);
    const { replica, access } = on;
    if (access.allSeen) {
      for (const { table, id, fields } of access.allSeen(rights)) this.sees(id, hiddenText(on, table, fields));
      return;
    }
    for (const s of replica.all()) {
      const hidden = hiddenFrom(on, rights, s);
      if (hidden !== null) this.sees(s.id, hidden);
    }
  }

  /** What those who see this may do. */
  private get may(): PhoneRules | null {
    return this.on.access.forPhones(this.rights);
  }

  private sees(id: string, hidden: string): void {
    this.seen.set(id, hidden);
    this.showing.add(id, this);
  }

  /** Nobody asks for it any more. */
  close(): void {
    for (const id of this.seen.keys()) this.showing.delete(id, this);
    this.showing.end(this);
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

  /** What has happened for those who see this; null where they hear nothing of it. */
  after({ from, at, changes, records, removed, told }: Happened): News | null {
    const news = { changes: [] as Change[], forget: [] as string[], given: [] as RecordState[] };
    /** Records that are seen as before. */
    const same = new Set<string>();
    for (const s of records) {
      const was = this.seen.get(s.id) ?? null;
      const is = hiddenFrom(this.on, this.rights, s);
      if (was === null && is === null) continue;
      if (was === is && !this.hears(s, is, told.get(s.id))) same.add(s.id);
      else if (is !== null) {
        this.sees(s.id, is);
        news.given.push(this.shows(s, is));
      } else {
        this.seen.delete(s.id);
        this.showing.delete(s.id, this);
        // Who had it hears that it was removed; of what is only hidden nothing is told.
        if (isRemoved(s) && removed.has(s.id)) same.add(s.id);
        else news.forget.push(s.id);
      }
      if (was !== is) this.ids = null;
    }
    for (const c of changes) if (same.has(c.record)) news.changes.push(...this.seenOf(c));
    if (!news.changes.length && !news.forget.length && !news.given.length) return null;
    return this.keep(from, {
      from: this.toldTo,
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
  private seenOf(c: Change): Change[] {
    const { author: _author, owner: _owner, sent: _sent, ...change } = c;
    const hidden = this.seen.get(c.record);
    // One that was brought back later than it was removed is there: nothing is to be told.
    if (change.do === 'remove') return hidden === undefined ? [change] : [];
    if (hidden === undefined) return [];
    const fields = new Set(this.on.fieldsOf(c.table));
    if (hidden) for (const f of hidden.split(' ')) fields.delete(f);
    const cells = Object.fromEntries(Object.entries(change.cells ?? {}).filter(([f]) => fields.has(f)));
    if (change.do === 'restore') return [{ ...change, cells }];
    if (change.do !== 'set') return [];
    const { amounts: _amounts, ...set } = change;
    // An amount comes to nothing where the field was set later, and whoever added it must hear that.
    const counts = Object.keys(change.amounts ?? {}).some((f) => fields.has(f));
    return Object.keys(cells).length || counts ? [{ ...set, cells }] : [];
  }

  /** Lets go of what was told: whoever comes later has to compare. */
  forgetNews(): void {
    [this.recent, this.kept, this.since] = [[], 0, this.toldTo];
  }

  private keep(from: number, news: News): News {
    this.toldTo = news.at;
    this.recent.push({ from, news });
    this.kept += sizeOf(news);
    while (this.kept > KEPT_NEWS && this.recent.length > 1) {
      const gone = this.recent.shift()!.news;
      this.kept -= sizeOf(gone);
      this.since = gone.at;
    }
    return news;
  }

  /**
   * What has happened since a change; null when that is not known any more. What the time alone has changed comes behind
   * the last change, and is told again to whoever asks from there.
   */
  newsSince(since: number, at: number): News | null {
    if (since < this.since || since > at) return null;
    const first = this.recent.findIndex(({ from, news }) => news.at > since || from === since);
    if (first < 0) return { from: since, at, view: this.name, changes: [] };
    const later = this.recent.slice(first);
    if (later[0]!.from < since) return null;
    return { ...later.map((n) => n.news).reduce(together), from: since, at, view: this.name };
  }

  /** What those who had another view until now must be told; `last` is what that one told just now. */
  instead(before: View, last: News | undefined, at: number): News {
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
    // Whoever sees the other view has heard nothing since that told something.
    const from = last ? last.from : before.toldTo;
    return { from, at, view: this.name, was: before.name, may: this.may, changes: [], forget, given };
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
      if (has.has(id) && has.get(id) === versionOf(seen)) continue;
      if (page.isFull) {
        end = page.states.at(-1)!.id;
        break;
      }
      page.add(seen);
    }
    const reached = end ?? upTo;
    const forget = records.flatMap(([id]) => ((reached === null || id <= reached) && !this.seen.has(id) ? [id] : []));
    return { at, view: this.name, may: this.may, states: page.states, forget, upTo: reached };
  }
}
