import { readyRule, type ReadyRule } from '../app/access-rules.ts';
import type { May } from '../app/access-schema.ts';
import type { App } from '../app/schema.ts';
import type { Tap } from '../document/pieces.ts';
import { compile, type CompileOptions } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import { SELF_SLOT } from '../records/model.ts';
import type { Draft } from '../records/change.ts';
import { valueOf, type KeptValue } from '../records/kept-value.ts';
import type { MayHere, Offers, RefusedOf } from '../records/may-here.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { PhoneRules } from './phone-rules.ts';
import { allOf, refusedBy } from './refused-by.ts';
import { refusesTap } from './refused-taps.ts';

const NOTHING: ReadonlySet<string> = new Set();
const NO_CONDITIONS = { match: 'all' as const, conditions: [] };

/**
 * What a person may do, by the rules that their phone was told. The host decides; this hides what it would refuse, and
 * says so before anything is sent. What is not known here is taken to be allowed.
 */
export class RulesHere implements MayHere {
  private readonly roles: ReadonlySet<string>;
  private model: Records['model'] | null = null;
  private rules: ReadyRule[] = [];

  constructor(
    private readonly records: Records,
    private readonly toldRules: PhoneRules,
    private readonly app: () => App,
  ) {
    this.roles = new Set(toldRules.roles);
  }

  private fitting = (may: May, row: Row): ReadyRule[] => {
    const frame = [this.records.runtime as unknown as Value];
    // Whatever is here is seen.
    if (may === 'see') return this.ready().slice(0, 1);
    const own = this.records.personRecord?.record;
    return this.rulesOf(may, row.tableId).filter(({ owned, hold }) =>
      owned?.link ? own !== undefined && owned.link.isTo(own, row, frame) && owned.rest(row, frame) : hold(row, frame),
    );
  };

  private rulesOf(may: May, table: string): ReadyRule[] {
    return this.ready().filter((r) => r.rule.table === table && r.rule.may.includes(may));
  }

  private ready(): ReadyRule[] {
    const { model } = this.records;
    if (model !== this.model) {
      this.model = model;
      this.rules = this.toldRules.rules.map(({ where, ...rule }) =>
        readyRule(model, { ...rule, id: '', who: 'anybody', where: where ?? NO_CONDITIONS }),
      );
    }
    return this.rules;
  }

  /** All fields of a table that rules say nothing about: a fetched one, which is its service's. Null for others. */
  private free(table: string): ReadonlySet<string> | null {
    const model = this.records.model.tables.get(table);
    return model?.table.fetched ? new Set(model.fields.keys()) : null;
  }

  refusal(draft: Draft): string | null {
    const table = this.records.model.tables.get(draft.table)?.table;
    if (!table || table.fetched || !this.records.stores.has(draft.table)) return null;
    // A change of nothing is never sent.
    if (draft.do === 'set' && !Object.keys(draft.cells).length && this.records.row(draft.table, draft.record))
      return null;
    // What comes back was there before: the host knows whose it is.
    return draft.do === 'restore' ? null : refusedBy(this.records, table, draft, this.fitting);
  }

  changes(row: Row): ReadonlySet<string> {
    const rules = this.fitting('change', row);
    return this.free(row.tableId) ?? (rules.length ? allOf(rules) : NOTHING);
  }
  removes(row: Row): boolean {
    return this.free(row.tableId) !== null || this.fitting('remove', row).length > 0;
  }
  looksBack(row: Row): boolean {
    return this.fitting('look back', row).length > 0;
  }
  refusesTap(tap: Tap, frame: readonly Value[]): boolean {
    const rows = frame.filter((v): v is Row => v instanceof Row).reverse();
    const at = (table?: string | null): Row | null =>
      rows.find((r) => table === undefined || r.tableId === table) ?? null;
    return refusesTap(this.app(), this, tap, at);
  }
  refusedOf(rows: readonly Row[], { swipe, several, ordered }: Offers, frame: readonly Value[]): RefusedOf {
    const where = (refused: (row: Row) => boolean): string[] => rows.filter(refused).map((r) => r.id);
    const tapped = (tap: Tap) => where((row) => this.refusesTap(tap, [...frame, row]));
    return {
      ...(swipe && { swipe: tapped(swipe) }),
      ...(several && { several: tapped(several) }),
      ...(ordered && { ordered: where((row) => !this.changes(row).has(ordered)) }),
    };
  }
  hides(formula: string, frame: Value[], options: CompileOptions): boolean {
    const at = formula.lastIndexOf('.');
    const field = formula.slice(at + 1).trim();
    const way = formula.slice(0, Math.max(at, 0)).trim();
    const row = way ? compile(way, options).run([...frame]) : frame[SELF_SLOT];
    return row instanceof Row && (row.hidden?.has(field) ?? false);
  }
  told(kept: KeptValue): Value {
    return valueOf(kept, this.records);
  }
  isClosed(id: string): boolean {
    const { roles } = this.app().screens.find((s) => s.id === id) ?? {};
    return roles !== undefined && !roles.some((r) => this.roles.has(r));
  }
  adds(table: string): ReadonlySet<string> | null {
    const rules = this.rulesOf('add', table);
    return this.free(table) ?? (rules.length ? allOf(rules) : null);
  }
}
