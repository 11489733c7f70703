import { display } from './format.ts';
import { readKey, type Changes } from './changes.ts';
import type { LinkEnd } from './model.ts';
import type { Row } from './row.ts';
import type { Records, TableStore } from './store.ts';

let ages = 0;

/**
 * The words of each record of a table, ready to be searched: everything a person could read of it, titles of the
 * records it links to among them. They are put together when first needed and forgotten when something in them changes.
 */
export class SearchWords {
  /** Words of another age are not believed. Ages are counted for all tables, so that none is used twice. */
  private age = ++ages;
  private readonly links: { end: LinkEnd; title: string }[] = [];
  private readonly stop: (() => void)[];
  private prepared = 0;

  constructor(private readonly store: TableStore) {
    const { records, model } = store;
    for (const end of model.links) {
      const title = records.model.tables.get(end.target)?.table.titleField;
      if (end.back || !title) continue;
      this.links.push({ end, title: readKey(end.target, title) });
    }
    this.stop = [
      records.watch(searchKeys(records, store.id)),
      records.subscribe((_, changes) => this.forget(changes), true),
    ];
  }

  close(): void {
    for (const stop of this.stop) stop();
  }

  /** Does any of the record's words hold this text, given in small letters? */
  holds(row: Row, wanted: string): boolean {
    return this.of(row).includes(wanted);
  }

  /** Everything a person could read of a record, in small letters. */
  of(row: Row): string {
    if (row.words !== null && row.wordsAt === this.age) return row.words;
    const texts: string[] = [];
    for (const member of row.store.model.members) {
      if (member.type.k === 'list') continue;
      const value = member.get(row);
      if (value !== null) texts.push(display(value));
    }
    // Joined, a text is in one piece, which is searched far faster than one put together bit by bit.
    row.words = texts.join('\n').toLowerCase();
    row.wordsAt = this.age;
    return row.words;
  }

  /** Puts words together for so many milliseconds. Gives true when all are. */
  prepare(until: number): boolean {
    const { rows } = this.store;
    for (; this.prepared < rows.length; this.prepared++) {
      this.of(rows[this.prepared]!);
      if ((this.prepared & 31) === 0 && performance.now() > until) return false;
    }
    return true;
  }

  private forget(changes: Changes): void {
    if (changes.all || (changes.clock && changes.tables.has(this.store.id))) {
      this.age = ++ages;
      this.prepared = 0;
      return;
    }
    if (!changes.tables.has(this.store.id) && !this.links.some((l) => changes.rows.has(l.title))) return;
    for (const m of this.store.model.members)
      for (const row of changes.rows.get(readKey(this.store.id, m.id)) ?? []) row.words = null;
    const { records } = this.store;
    for (const { end, title } of this.links) {
      const back = records.model.tables.get(end.target)?.links.find((l) => l.field === end.field && l.back);
      if (!back) continue;
      for (const target of changes.rows.get(title) ?? [])
        for (const row of records.followAll(target, back)) row.words = null;
    }
  }
}

/** The fields that decide what a record of a table is found by. */
export function searchKeys(records: Records, table: string): string[] {
  const model = records.model.tables.get(table);
  if (!model) return [];
  return [
    ...model.members.map((m) => readKey(table, m.id)),
    ...model.links.flatMap((end) => {
      const title = records.model.tables.get(end.target)?.table.titleField;
      return end.back || !title ? [] : [readKey(end.target, title)];
    }),
  ];
}

/** The search words of a table, made once for all who search it. */
export function searchWords(records: Records, table: string): SearchWords | null {
  const store = records.stores.get(table);
  if (!store) return null;
  const known = made.get(store);
  if (known?.model === store.model) return known.words;
  known?.words.close();
  const fresh = { model: store.model, words: new SearchWords(store) };
  made.set(store, fresh);
  return fresh.words;
}
const made = new WeakMap<TableStore, { model: TableStore['model']; words: SearchWords }>();
