import type { Value } from '../formula/values.ts';
import { readKey, type Changes } from './changes.ts';
import type { AskingPlace, FetchState } from './fetching.ts';
import { WHOLE } from './model.ts';
import { compareKeys, type SortKey } from './order.ts';
import { SHORT, wantedOf, type CompiledQuery, type QueryPart } from './query.ts';
import type { Row } from './row.ts';
import { searchKeys, searchWords } from './search.ts';
import { sortInSlices } from './slices.ts';
import { addTouched } from './touched.ts';
import { touches } from './touches.ts';

interface Entry {
  row: Row;
  /** Of records with equal keys the earlier stands first. */
  at: number;
  keys: SortKey[];
}

/** More records than this at once are cheaper found anew than one by one. */
const MANY = 500;

/**
 * A query at one place of a screen, whose answer is kept and mended as records change: a changed record costs two
 * searches by halves, not a pass over all of them. The first screenful of an ordered list is found in one pass; the
 * whole order is made in slices while nothing else is to be done (see {@link prepare}).
 */
export class LiveQuery {
  private readonly frame: Value[];
  /** Everything that fits, in the order it was found, until the whole order is there. */
  private found: Row[] | null = null;
  private first: Row[] | null = null;
  private sorted: Entry[] | null = null;
  private entries: Map<Row, Entry> | null = null;
  private sorting: Generator<void, Entry[]> | null = null;
  private searched: { wanted: string; rows: Row[] } | null = null;
  private texts: { rows: readonly Row[]; texts: readonly string[] } | null = null;
  private wanted = '';
  /** Where its records are fetched, how it asks for them. */
  private readonly asks: AskingPlace | null;
  /** The places of things among the values, for what is read from them. */
  private readonly values: readonly Value[];

  constructor(
    readonly query: CompiledQuery,
    values: readonly Value[],
    /** People look for words in it, so these are made ready too. */
    private readonly isSearched = false,
  ) {
    this.values = [...values];
    this.frame = query.frame(values);
    this.asks = query.inputs?.place(this.frame, () => query.records.fetcher) ?? null;
  }

  /** The fields whose changes must be told to {@link changed}. */
  static keys(query: CompiledQuery, searchable = false): string[] {
    return [
      ...[...query.reads, ...query.viaReads].map((d) => readKey(d.table, d.field)),
      readKey(query.table, WHOLE),
      ...(searchable ? searchKeys(query.records, query.table) : []),
    ];
  }

  /** How many of them count. */
  most(): number {
    return this.query.most(this.values);
  }

  /** Part of the records, with how many there are; `search` narrows them. */
  part(from: number, count: number, search?: unknown): QueryPart {
    this.wants(search);
    if (this.wanted && !this.query.inputs?.search) {
      const rows = this.search(this.wanted);
      return { total: rows.length, rows: rows.slice(from, from + count) };
    }
    this.searched = null;
    const found = (this.found ??= this.find());
    if (from + count >= found.length) this.asks?.wantsMore(this.wanted);
    if (this.sorted) return { total: this.sorted.length, rows: slice(this.sorted, from, count) };
    if (!this.query.isOrdered) return { total: found.length, rows: found.slice(from, from + count) };
    if (from + count <= SHORT) {
      this.first ??= this.query.begin(found, this.frame);
      return { total: found.length, rows: this.first.slice(from, from + count) };
    }
    return { total: found.length, rows: slice(this.order(), from, count) };
  }

  /** Takes what is looked for. Where the service looks for it, other words are another question. */
  private wants(search: unknown): void {
    this.wanted = wantedOf(search);
    if (this.asks?.differs(this.wanted)) this.forget();
  }

  /** All of them in order, those with the words looked for. The array is only good until records change. */
  all(search?: unknown): readonly Row[] {
    this.wants(search);
    if (this.wanted && !this.query.inputs?.search) return this.search(this.wanted);
    this.searched = null;
    if (!this.query.isOrdered) return (this.found ??= this.find());
    return this.order().map((e) => e.row);
  }

  /** What is known of the answer that it shows; null where its records are not fetched. */
  fetchState(): FetchState | null {
    return this.asks?.state(this.wanted) ?? null;
  }

  private find(): Row[] {
    const { query, frame } = this;
    const source = this.asks?.rows(this.wanted) ?? query.source(frame);
    const found: Row[] = [];
    for (const row of source) if (query.fits(row, frame)) found.push(row);
    return found;
  }

  private search(wanted: string): Row[] {
    if (this.searched?.wanted === wanted) return this.searched.rows;
    const { rows, texts } = this.searchable();
    const found: Row[] = [];
    for (let i = 0; i < texts.length; i++) if (texts[i]!.includes(wanted)) found.push(rows[i]!);
    this.searched = { wanted, rows: found };
    return found;
  }

  /** The records in order with their words beside them: going through a list of texts is many times as fast. */
  private searchable(): { rows: readonly Row[]; texts: readonly string[] } {
    if (!this.texts) {
      const words = searchWords(this.query.records, this.query.table);
      const rows = this.query.isOrdered ? this.order().map((e) => e.row) : [...(this.found ??= this.find())];
      this.texts = { rows, texts: rows.map((row) => words?.of(row) ?? '') };
    }
    return this.texts;
  }

  private order(): Entry[] {
    while (!this.sorted) this.orderSome(Infinity);
    return this.sorted;
  }

  private orderSome(until: number): boolean {
    if (this.sorted || !this.query.isOrdered) return true;
    this.sorting ??= this.sortedEntries();
    for (;;) {
      const step = this.sorting.next();
      if (step.done) {
        this.sorted = step.value;
        this.entries = new Map(step.value.map((e) => [e.row, e]));
        this.sorting = null;
        this.first = null;
        return true;
      }
      if (performance.now() > until) return false;
    }
  }

  private *sortedEntries(): Generator<void, Entry[]> {
    const found = (this.found ??= this.find());
    const entries: Entry[] = new Array(found.length);
    for (let at = 0; at < found.length; at++) {
      entries[at] = this.entry(found[at]!, at);
      if ((at & 255) === 255) yield;
    }
    return yield* sortInSlices(entries, this.compare);
  }

  private entry(row: Row, at: number): Entry {
    return { row, at: this.query.isVia ? at : row.order, keys: this.query.keys(row, this.frame) };
  }

  private readonly compare = (a: Entry, b: Entry): number =>
    compareKeys(a.keys, b.keys, this.query.directions) || a.at - b.at;

  /**
   * Makes the whole order and the words that are searched, until a time as `performance.now()` tells it. Gives true
   * when nothing is left to do.
   */
  prepare(until: number): boolean {
    if (!this.orderSome(until)) return false;
    if (!this.isSearched || this.texts) return true;
    if (!(searchWords(this.query.records, this.query.table)?.prepare(until) ?? true)) return false;
    this.searchable();
    return true;
  }

  /** Takes in what happened to records. Gives true when the answer may be another. */
  changed(changes: Changes): boolean {
    const { query } = this;
    if (changes.all || (changes.clock && query.volatile)) return this.forget();
    if (query.viaReads.some((d) => touches(d, changes, query, this.values))) return this.forget();
    const rows = new Set<Row>(changes.rows.get(readKey(query.table, WHOLE)) ?? []);
    for (const d of query.reads) {
      if (d.origin.from === 'self') addTouched(query.records, query.table, d, changes, rows);
      else if (touches(d, changes, query, this.values)) return this.forget();
    }
    const searchedAnew = this.wanted !== '' && !query.inputs?.search && changes.tables.size > 0;
    if (searchedAnew) this.searched = null;
    if (changes.tables.size > 0) this.texts = null;
    if (rows.size === 0) return searchedAnew;
    // Where a formula gives the records, only it knows which they are.
    if (query.isVia || rows.size > MANY || !this.found) return this.forget();
    return this.mend(rows) || searchedAnew;
  }

  private forget(): true {
    this.found = null;
    this.first = null;
    this.sorted = null;
    this.entries = null;
    this.sorting = null;
    this.searched = null;
    this.texts = null;
    return true;
  }

  private mend(rows: Iterable<Row>): boolean {
    const { query, frame } = this;
    if (query.isOrdered && !this.sorted) return this.forget();
    let differs = false;
    for (const row of rows) {
      const fits = query.records.row(query.table, row.id) === row && query.fits(row, frame);
      differs = (this.sorted ? this.mendSorted(row, fits) : this.mendFound(row, fits)) || differs;
    }
    return differs;
  }

  private mendFound(row: Row, fits: boolean): boolean {
    const found = this.found!;
    const at = lowest(found.length, (i) => found[i]!.order >= row.order);
    const there = found[at] === row;
    if (there === fits) return false;
    if (fits) found.splice(at, 0, row);
    else found.splice(at, 1);
    return true;
  }

  private mendSorted(row: Row, fits: boolean): boolean {
    const sorted = this.sorted!;
    const before = this.entries!.get(row);
    const after = fits ? this.entry(row, row.order) : null;
    if (before && after && this.compare(before, after) === 0) return false;
    if (before) {
      sorted.splice(this.placeOf(before), 1);
      this.entries!.delete(row);
    }
    if (after) {
      sorted.splice(this.placeOf(after), 0, after);
      this.entries!.set(row, after);
    }
    if (!before !== !after) this.mendFound(row, fits);
    return Boolean(before ?? after);
  }

  private placeOf(entry: Entry): number {
    const sorted = this.sorted!;
    return lowest(sorted.length, (i) => this.compare(sorted[i]!, entry) >= 0);
  }
}

const slice = (entries: readonly Entry[], from: number, count: number): Row[] =>
  entries.slice(from, from + count).map((e) => e.row);

/** The lowest number below `n` for which a condition holds that holds from some number on; `n` when for none. */
function lowest(n: number, holds: (i: number) => boolean): number {
  let low = 0;
  let high = n;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (holds(mid)) high = mid;
    else low = mid + 1;
  }
  return low;
}
