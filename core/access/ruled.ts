import type { AppAccess, May } from '../app/access-schema.ts';
import { isSameMail } from '../document/addresses.ts';
import type { Value } from '../formula/values.ts';
import type { Cell } from '../fields/lists.ts';
import type { Change, RecordState } from '../records/change.ts';
import { trialRow } from '../records/checks.ts';
import type { RecordsRuntime } from '../records/model.ts';
import { cellsAfter } from '../records/raise.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import type { Table } from '../tables/schema.ts';
import type { Access, Who } from './access.ts';
import { readyConditions, readyRule, type ReadyRole, type ReadyRule } from '../app/access-rules.ts';

/** What is read of an app: who may do what, and its tables. */
export interface Ruled {
  access?: AppAccess | undefined;
  people?: string | undefined;
  tables: readonly Table[];
}

const OWNER_RIGHTS = 'owner';
const NOTHING = 'nothing';
const ANYBODY = 'anybody';
/** Rights of somebody who has signed in: their roles, and who they are where a rule asks for it. As JSON, since an id may hold any letter. */
const inRoles = (roles: readonly string[], person: string | null): string => JSON.stringify([roles, person]);
const SIGN_IN = 'Sign in to do this.';

/** Rights as they are asked with. */
interface Context {
  rules: readonly ReadyRule[];
  frame: Value[];
  own: { table: string; record: string } | null;
}

/**
 * The rules of an app over its records. Rules add up, and what none allows is not possible. The holder of the app's key
 * may do everything. Rights are the roles that somebody has now, with who they are where a rule asks for it, so that
 * those of the same rights read the same.
 */
export class RuledAccess implements Access {
  readonly isOpen = false;
  private model: Records['model'] | null = null;
  private app: Ruled | null = null;
  private rules: ReadyRule[] = [];
  private roles: ReadyRole[] = [];
  private far = new Set<string>();
  private readonly contexts = new Map<string, Context>();

  constructor(
    private readonly records: Records,
    private readonly appNow: () => Ruled,
  ) {}

  /** Takes what the rules are now. */
  private ready(): AppAccess {
    const app = this.appNow();
    const { model } = this.records;
    const access = app.access ?? { opens: 'people' as const, roles: [], rules: [] };
    if (model === this.model && app === this.app) return access;
    this.model = model;
    this.app = app;
    this.contexts.clear();
    this.last = null;
    this.rules = access.rules.map((rule) => readyRule(model, rule));
    this.roles = app.people
      ? access.roles.map((role) => {
          const ready = readyConditions(model, app.people!, role.where);
          // A role is the same whoever asks.
          return ready.askPerson ? { ...ready, role, hold: () => false } : { ...ready, role };
        })
      : [];
    this.far = new Set(this.rules.filter((r) => r.rule.may.includes('see')).flatMap((r) => [...r.far]));
    return access;
  }

  get asksTime(): boolean {
    this.ready();
    return [...this.rules, ...this.roles].some((r) => r.askTime);
  }

  reaches(changes: readonly Change[]): boolean {
    this.ready();
    return changes.some((c) => this.far.has(c.table));
  }

  personOf(who: Who): string | null {
    const { mail, approved } = this.ready();
    const { people } = this.app!;
    if (who.kind !== 'somebody' || who.person === null || !people || !mail) return null;
    const row = this.records.row(people, who.person);
    if (!row || !isSameMail(row.cells[mail], who.mail)) return null;
    return approved !== undefined && row.cells[approved] !== true ? null : row.id;
  }

  /** The roles that a person of the table of people has. */
  rolesOf(person: string): string[] {
    this.ready();
    const row = this.app!.people ? this.records.row(this.app!.people, person) : undefined;
    if (!row) return [];
    const frame = [this.runtimeFor(null)] as unknown as Value[];
    return this.asked(null, () => this.roles.filter((r) => r.hold(row, frame)).map((r) => r.role.id));
  }

  rights(who: Who): string {
    const { opens } = this.ready();
    if (who.kind === 'owner') return OWNER_RIGHTS;
    const person = this.personOf(who);
    if (person === null) return opens === 'anybody' ? ANYBODY : NOTHING;
    const roles = this.rolesOf(person).sort();
    const isPersonal = this.rules.some((r) => r.askPerson && r.rule.may.includes('see') && isFor(r, roles));
    return inRoles(roles, isPersonal ? person : null);
  }

  private context(rights: string): Context {
    this.ready();
    let known = this.contexts.get(rights);
    if (!known) {
      known = this.made(rights);
      if (this.contexts.size > 5000) this.contexts.clear();
      this.contexts.set(rights, known);
    }
    return known;
  }

  private made(rights: string): Context {
    const { people } = this.app!;
    const frameFor = (person: string | null): Value[] => [this.runtimeFor(person) as unknown as Value];
    if (rights === ANYBODY)
      return { rules: this.rules.filter((r) => r.rule.who === 'anybody'), frame: frameFor(null), own: null };
    if (!rights.startsWith('[')) return { rules: [], frame: frameFor(null), own: null };
    const [roles, person] = JSON.parse(rights) as [string[], string | null];
    return {
      rules: this.rules.filter((r) => isFor(r, roles)),
      frame: frameFor(person),
      own: person !== null && people ? { table: people, record: person } : null,
    };
  }

  /** What formulas read of the world when this person asks. What they keep until the next change is kept apart for each. */
  private runtimeFor(person: string | null): RecordsRuntime {
    const { records } = this;
    let stamp = {};
    let version = -1;
    return {
      now: () => records.runtime.now(),
      person: () => (person === null ? null : this.mailOf(person)),
      get stamp() {
        if (version !== records.version) [stamp, version] = [{}, records.version];
        return stamp;
      },
      all: (table) => records.runtime.all(table),
    };
  }
  private mailOf(person: string): string | null {
    const { people, access } = this.app!;
    const mail = people && access?.mail ? this.records.row(people, person)?.cells[access.mail] : null;
    return typeof mail === 'string' && mail.trim() ? mail.trim() : null;
  }

  /** Asks something of the records as if this person used the app here. */
  private asked<T>(own: Context['own'], work: () => T): T {
    const { records } = this;
    const before = records.personRecord;
    records.personRecord = own;
    try {
      return work();
    } finally {
      records.personRecord = before;
    }
  }

  /** The rules that let somebody do something with a record as it is here. */
  private fitting({ rules, frame, own }: Context, may: May, row: Row): ReadyRule[] {
    return this.asked(own, () =>
      rules.filter((r) => r.rule.table === row.tableId && r.rule.may.includes(may) && r.hold(row, frame)),
    );
  }

  // Reading. A record is asked for whole and then field by field; what was found out of it serves all of them.
  private last: { rights: string; id: string; version: number; at: number; fields: ReadonlySet<string> | null } | null =
    null;

  private seen(rights: string, { table, id }: RecordState): ReadonlySet<string> | null {
    const { version } = this.records;
    const at = this.records.runtime.now();
    const { last } = this;
    if (last && last.rights === rights && last.id === id && last.version === version && last.at === at)
      return last.fields;
    const row = this.records.row(table, id);
    const rules = row ? this.fitting(this.context(rights), 'see', row) : [];
    const fields = rules.length ? allOf(rules) : null;
    this.last = { rights, id, version, at, fields };
    return fields;
  }

  /** The ids of the rules by which a record is seen with some rights; none where it is not. */
  rulesBy(rights: string, { table, id }: RecordState): string[] {
    const row = this.records.row(table, id);
    return row ? this.fitting(this.context(rights), 'see', row).map((r) => r.rule.id) : [];
  }

  mayRead(rights: string, record: RecordState): boolean {
    return rights === OWNER_RIGHTS || this.seen(rights, record) !== null;
  }
  mayReadField(rights: string, record: RecordState, field: string): boolean {
    return rights === OWNER_RIGHTS || (this.seen(rights, record)?.has(field) ?? false);
  }

  // Writing

  refusal(who: Who, change: Change): string | null {
    if (who.kind === 'owner') return null;
    const { opens } = this.ready();
    const person = this.personOf(who);
    if (person === null && opens !== 'anybody') return SIGN_IN;
    const store = this.records.stores.get(change.table);
    const table = this.app!.tables.find((t) => t.id === change.table);
    if (!store || !table) return 'There is no such table.';
    // Who they are counts for every rule of writing, whatever they may read.
    const rights = person === null ? ANYBODY : inRoles(this.rolesOf(person).sort(), person);
    const context = this.context(rights);
    const refused = (what: string): string => `${what}${person === null ? ` ${SIGN_IN}` : ''}`;
    const row = store.byId.get(change.record);
    if (change.do === 'remove')
      return row && this.fitting(context, 'remove', row).length
        ? null
        : refused(`You may not remove this ${table.one}.`);
    // Of a record that they do not see nobody hears that it is there.
    const isKnown = row && this.fitting(context, 'see', row).length > 0;
    let cells: Record<string, Cell>;
    try {
      cells = cellsAfter(this.records, change as never);
    } catch (e) {
      return (e as Error).message;
    }
    const becomes = trialRow(store, change.record, cells);
    const may: May = row ? 'change' : 'add';
    const after = this.fitting(context, may, becomes);
    if (after.length === 0)
      return refused(isKnown ? `You may not change this ${table.one} so.` : `You may not add such ${table.name}.`);
    const before = row ? this.fitting(context, may, row) : after;
    if (before.length === 0)
      return refused(isKnown ? `You may not change this ${table.one}.` : `You may not add such ${table.name}.`);
    const [was, is] = [allOf(before), allOf(after)];
    // A new record says nothing of the fields that it leaves empty.
    const closed = Object.keys(cells).find((f) => (row || cells[f] !== null) && !(was.has(f) && is.has(f)));
    if (closed === undefined) return null;
    const name = table.fields.find((f) => f.id === closed)?.name ?? 'a field';
    return refused(`You may not ${isKnown ? 'change' : 'fill in'} ${name} of this ${table.one}.`);
  }
}

const isFor = ({ rule: { who } }: ReadyRule, roles: readonly string[]): boolean =>
  who === 'anybody' || who === 'signed in' || roles.includes(who);

const allOf = (rules: readonly ReadyRule[]): ReadonlySet<string> =>
  rules.length === 1 ? rules[0]!.fields : new Set(rules.flatMap((r) => [...r.fields]));
