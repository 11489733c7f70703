import { untitled } from '../document/names.ts';
import { RecordValue, type Value } from '../formula/values.ts';
import { display } from './format.ts';
import type { KeptValue } from './kept-value.ts';
import type { LinkEnd, TableModel } from './shape.ts';
import type { Cell } from '../fields/lists.ts';

/** Stands in a row's place for a formula field that must be worked out again. */
export const DIRTY = Symbol('dirty') as unknown as Value;

/** What a record knows of the table that holds it. */
export interface RowHome {
  readonly id: string;
  readonly model: TableModel;
  readonly records: {
    readonly linksAt: number;
    /** Whose record the person who uses the app is. */
    readonly personRecord: { table: string; record: string } | null;
    followAll(row: Row, end: LinkEnd): Row[];
  };
  /** Works a formula field out and keeps the value. */
  workOut(row: Row, slot: number): Value;
}

/** A record in memory: its cells as stored and the values read from them, formula fields among them. */
export class Row extends RecordValue {
  /** Values by slot. A formula field's place may hold {@link DIRTY}; use {@link read} for those. */
  v: Value[] = [];
  /** Where its links lead, by place; kept by the store. */
  linked: Row[][] = [];
  linkedAt = -1;
  /** Everything a person could read of it, in small letters; kept by the search of its table. */
  words: string | null = null;
  wordsAt = -1;
  /** Fields that whoever uses the app may not see. */
  hidden: ReadonlySet<string> | null = null;
  /** Values of formula fields that were worked out elsewhere, from records that are not here; by field. */
  told: Readonly<Record<string, KeptValue>> | null = null;
  /** `order` counts up as records come, so that of several that match a link the first stays the first. */
  constructor(
    readonly id: string,
    readonly store: RowHome,
    public cells: Record<string, Cell>,
    readonly order: number,
  ) {
    super();
  }

  get tableId(): string {
    return this.store.id;
  }

  read(slot: number): Value {
    const v = this.v[slot]!;
    return v === DIRTY ? this.store.workOut(this, slot) : v;
  }

  follow(end: LinkEnd): Value {
    return this.followAll(end)[0] ?? null;
  }

  followAll(end: LinkEnd): Row[] {
    const { records } = this.store;
    // What is remembered is read here, without a detour: formulas along links do little else.
    return (this.linkedAt === records.linksAt && this.linked[end.place]) || records.followAll(this, end);
  }

  get(name: string): Value {
    const member = this.store.model.members.find((m) => m.id === name || m.name === name);
    return member ? member.get(this) : null;
  }

  override isPerson(name: string): boolean {
    const { table } = this.store.model;
    const own = this.store.records.personRecord;
    if (own?.table === table.id) return own.record === this.id;
    const wanted = name.trim().toLowerCase();
    const texts = table.fields.filter((f) => f.type === 'mail' || f.type === 'person').map((f) => this.cells[f.id]);
    return [this.title(), ...texts].some((t) => typeof t === 'string' && t.trim().toLowerCase() === wanted);
  }

  title(): string {
    const { titleField } = this.store.model.table;
    const v = titleField ? this.get(titleField) : null;
    return v instanceof RecordValue && v.tableId === this.tableId
      ? v.id
      : display(v) || untitled(this.store.model.table.one);
  }
}
