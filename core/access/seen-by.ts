import type { ReadyRule } from '../app/access-rules.ts';
import { grouped } from '../document/grouped.ts';
import type { RecordState } from '../records/change.ts';
import { RecordValue, type Value } from '../formula/values.ts';
import { Touched } from '../records/touched.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { SeenRecord } from './access.ts';

/** Whoever asks: their rules, who they are, and how formulas see them. */
export interface Asker {
  rules: ReadonlySet<ReadyRule>;
  person: string | null;
  /** Does a rule hold for a record when they ask? */
  holds(rule: ReadyRule, row: Row): boolean;
}

/** The records of which one rule holds. */
class Holds {
  /** Whoever asks. */
  readonly all = new Set<string>();
  /** For a person, by their id. */
  readonly owned = new Map<string, Set<string>>();
  private readonly owners = new Map<string, readonly string[]>();
  /** Who is to be asked about, each by themselves. */
  readonly open = new Set<string>();

  constructor(
    readonly rule: ReadyRule,
    readonly people: string | undefined,
  ) {}

  drop(id: string): void {
    this.all.delete(id);
    this.open.delete(id);
    for (const person of this.owners.get(id) ?? []) {
      const theirs = this.owned.get(person)!;
      theirs.delete(id);
      if (theirs.size === 0) this.owned.delete(person);
    }
    this.owners.delete(id);
  }

  ownersOf(id: string): readonly string[] {
    return this.owners.get(id) ?? [];
  }

  put(row: Row, frame: Value[]): void {
    const { rule } = this;
    if (!rule.askPerson) {
      if (rule.hold(row, frame)) this.all.add(row.id);
      return;
    }
    if (!rule.owned) return void this.open.add(row.id);
    if (!rule.owned.rest(row, frame)) return;
    const value = rule.owned.value(row, frame);
    const values = Array.isArray(value) ? value : [value];
    // What is no record of the table of people may be a person by name or address.
    if (values.some((v) => v !== null && !(v instanceof RecordValue && v.tableId === this.people)))
      return void this.open.add(row.id);
    const owners = values.flatMap((v) => (v instanceof RecordValue ? [v.id] : []));
    if (owners.length) this.owners.set(row.id, owners);
    for (const person of owners) {
      const theirs = this.owned.get(person);
      if (theirs) theirs.add(row.id);
      else this.owned.set(person, new Set([row.id]));
    }
  }
}

const nameOfRule = ({ rule }: ReadyRule): string => `rule ${rule.id}`;
const nameOfPerson = (id: string): string => `person ${id}`;

/**
 * Which records the rules of seeing let be seen, and by whom. It is worked out once for each record, not for each person,
 * and again only where something is another that a rule reads.
 */
export class SeenBy {
  private readonly touched: Touched;
  private holds: Holds[] = [];
  private byTable = new Map<string, Holds[]>();
  /** Records looked at again since somebody asked which; null for all. */
  private again: Set<string> | null = null;

  constructor(
    private readonly records: Records,
    /** Asks something as nobody in particular. */
    private readonly asNobody: (work: (frame: Value[]) => void) => void,
  ) {
    this.touched = new Touched(records);
  }

  close(): void {
    this.touched.close();
  }

  /** Takes the rules that count from now on. */
  setRules(rules: readonly ReadyRule[], people: string | undefined): void {
    this.holds = rules.map((rule) => new Holds(rule, people));
    this.touched.watch(rules.map((r) => ({ table: r.rule.table, reads: r.reads, volatile: r.askTime })));
    this.touched.take();
    this.rebuild();
  }

  private rebuild(): void {
    this.again = null;
    this.holds = this.holds.map((h) => new Holds(h.rule, h.people));
    this.byTable = grouped(this.holds, (h) => h.rule.rule.table);
    this.asNobody((frame) => {
      for (const [table, holds] of this.byTable)
        for (const row of this.records.rows(table)) for (const h of holds) h.put(row, frame);
    });
  }

  private sync(): void {
    if (this.touched.isEmpty) return;
    const ids = this.touched.take();
    if (ids === null) return this.rebuild();
    this.asNobody((frame) => {
      for (const id of ids) {
        this.again?.add(id);
        for (const [table, holds] of this.byTable) {
          const row = this.records.row(table, id);
          for (const h of holds) {
            h.drop(id);
            if (row) h.put(row, frame);
          }
        }
      }
    });
  }

  /** The records that were looked at again since this was asked last; null for all. */
  takeTouched(): ReadonlySet<string> | null {
    this.sync();
    const { again } = this;
    this.again = new Set();
    return again;
  }

  /** The rules by which somebody sees a record. */
  rulesFor(asker: Asker, table: string, id: string): ReadyRule[] {
    this.sync();
    const row = this.records.row(table, id);
    return row ? (this.byTable.get(table) ?? []).flatMap((h) => (this.sees(asker, h, row) ? [h.rule] : [])) : [];
  }

  private sees(asker: Asker, holds: Holds, row: Row): boolean {
    if (!asker.rules.has(holds.rule)) return false;
    if (holds.all.has(row.id)) return true;
    if (asker.person !== null && holds.owned.get(asker.person)?.has(row.id)) return true;
    return holds.open.has(row.id) && asker.holds(holds.rule, row);
  }

  /** All that somebody sees, with the fields of each. */
  *allFor(asker: Asker): Generator<SeenRecord> {
    this.sync();
    for (const [table, holds] of this.byTable) {
      const theirs = holds.filter((h) => asker.rules.has(h.rule));
      const seen = new Map<string, ReadonlySet<string>>();
      const see = (id: string, { fields }: ReadyRule): void => {
        const before = seen.get(id);
        seen.set(id, before ? this.both(before, fields) : fields);
      };
      for (const h of theirs) {
        for (const id of h.all) see(id, h.rule);
        for (const id of (asker.person !== null && h.owned.get(asker.person)) || [])
          if (!h.all.has(id)) see(id, h.rule);
        for (const id of h.open) {
          const row = this.records.row(table, id);
          if (row && asker.holds(h.rule, row)) see(id, h.rule);
        }
      }
      for (const [id, fields] of seen) yield { table, id, fields };
    }
  }

  /** The people and rules by whom a record is seen; null where it hangs on who asks. */
  seenUnder({ table, id }: Pick<RecordState, 'table' | 'id'>): string[] | null {
    this.sync();
    const names: string[] = [];
    for (const h of this.byTable.get(table) ?? []) {
      if (h.open.has(id)) return null;
      if (h.all.has(id)) names.push(nameOfRule(h.rule));
      for (const person of h.ownersOf(id)) names.push(nameOfPerson(person));
    }
    return names;
  }

  /** The names of somebody among those of {@link seenUnder}. */
  namesOf({ person, rules }: Asker): string[] {
    return [...Array.from(rules, nameOfRule), ...(person === null ? [] : [nameOfPerson(person)])];
  }

  /** The fields of two rules together; the same set whenever it is asked for. */
  both(a: ReadonlySet<string>, b: ReadonlySet<string>): ReadonlySet<string> {
    if (a === b) return a;
    let known = this.unions.get(a);
    if (!known) this.unions.set(a, (known = new Map()));
    let union = known.get(b);
    if (!union) {
      const has = [...b].every((f) => a.has(f));
      known.set(b, (union = has ? a : new Set([...a, ...b])));
    }
    return union;
  }
  private readonly unions = new WeakMap<ReadonlySet<string>, Map<ReadonlySet<string>, ReadonlySet<string>>>();
}
