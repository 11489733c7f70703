import type { AppAccess, May } from '../app/access-schema.ts';
import { isSameMail } from '../document/addresses.ts';
import { grouped } from '../document/grouped.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { RecordsRuntime } from '../records/model.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { Touched } from '../records/touched.ts';
import type { Table } from '../tables/schema.ts';
import type { Access, SeenRecord, Who } from './access.ts';
import { readyConditions, readyRule, type ReadyRole, type ReadyRule } from '../app/access-rules.ts';
import { phoneRules, type PhoneRules } from './phone-rules.ts';
import { refusedBy } from './refused-by.ts';
import { SeenBy, type Asker } from './seen-by.ts';
import { hiddenReads } from '../app/told-fields.ts';

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
/** So much that is worked out for each who asks is kept. */
const MOST_KEPT = 5000;
const SIGN_IN = 'Sign in to do this.';

/** Rights as they are asked with. */
interface Context extends Asker {
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
  private readonly contexts = new Map<string, Context>();
  private readonly seenBy: SeenBy;
  /** The rights of those who asked, until something is another that gives rights. */
  private readonly rightsOf = new Map<string, string>();
  private readonly rightsTouched: Touched;
  /** All fields of each table. */
  private readonly allOf = new Map<string, ReadonlySet<string>>();
  allTold: ReadonlyMap<string, readonly string[]> = new Map();

  constructor(
    private readonly records: Records,
    private readonly appNow: () => Ruled,
  ) {
    this.seenBy = new SeenBy(records, (work) => this.asked(null, () => work(frameOf(this.runtimeFor(null)))));
    this.rightsTouched = new Touched(records);
  }

  forPhones(rights: string): PhoneRules | null {
    if (rights === OWNER_RIGHTS) return null;
    const [roles] = rights.startsWith('[') ? (JSON.parse(rights) as [string[]]) : [[]];
    return phoneRules(this.records.model, roles, this.context(rights).rules);
  }

  /** Takes what the rules are now. */
  private ready(): AppAccess {
    const app = this.appNow();
    const { model } = this.records;
    const access = app.access ?? { opens: 'people' as const, roles: [], rules: [] };
    if (model === this.model && app === this.app) return access;
    this.model = model;
    this.app = app;
    this.contexts.clear();
    this.allOf.clear();
    this.rules = access.rules.map((rule) => readyRule(model, rule));
    const { people } = app;
    this.roles = people
      ? access.roles.map((role) => {
          const ready = readyConditions(model, people, role.where);
          // A role is the same whoever asks.
          return ready.askPerson ? { ...ready, role, hold: () => false } : { ...ready, role };
        })
      : [];
    const signsIn = [access.mail, access.approved].flatMap((f) => (people && f ? [ownField(people, f)] : []));
    this.rightsTouched.watch(
      people
        ? [
            ...this.roles.map((r) => ({ table: people, reads: r.reads, volatile: r.askTime })),
            { table: people, reads: signsIn, volatile: false },
          ]
        : [],
    );
    this.rightsOf.clear();
    this.rightsNow++;
    this.seenBy.setRules(
      this.rules.filter((r) => r.rule.may.includes('see')),
      people,
    );
    const told = hiddenReads(model, access).filter((h) => h.differs === null);
    this.allTold = new Map(
      [...grouped(told, (h) => h.table)].map(([table, list]) => [table, list.map((h) => h.field.id)]),
    );
    return access;
  }

  touched(): ReadonlySet<string> | null {
    this.ready();
    return this.seenBy.takeTouched();
  }

  told(rights: string, table: string): readonly string[] {
    this.ready();
    return rights === OWNER_RIGHTS ? [] : (this.allTold.get(table) ?? []);
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
    const frame = frameOf(this.runtimeFor(null));
    return this.asked(null, () => this.roles.filter((r) => r.hold(row, frame)).map((r) => r.role.id));
  }

  rightsAt(): number {
    this.ready();
    if (!this.rightsTouched.isEmpty) {
      this.rightsTouched.take();
      this.rightsOf.clear();
      this.rightsNow++;
    }
    return this.rightsNow;
  }
  private rightsNow = 0;

  rights(who: Who): string {
    const { opens } = this.ready();
    if (who.kind === 'owner') return OWNER_RIGHTS;
    this.rightsAt();
    const key = `${who.kind} ${who.person} ${who.mail}`;
    let rights = this.rightsOf.get(key);
    if (rights === undefined) {
      rights = this.workedOutRights(who, opens);
      if (this.rightsOf.size > MOST_KEPT) this.rightsOf.clear();
      this.rightsOf.set(key, rights);
    }
    return rights;
  }

  private workedOutRights(who: Who, opens: AppAccess['opens']): string {
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
      if (this.contexts.size > MOST_KEPT) this.contexts.clear();
      this.contexts.set(rights, known);
    }
    return known;
  }

  private made(rights: string): Context {
    const { people } = this.app!;
    const [roles, person] = rights.startsWith('[') ? (JSON.parse(rights) as [string[], string | null]) : [[], null];
    const isAnybody = rights === ANYBODY;
    const frame = frameOf(this.runtimeFor(person));
    const own = person !== null && people ? { table: people, record: person } : null;
    return {
      rules: new Set(
        this.rules.filter((r) => (isAnybody ? r.rule.who === 'anybody' : rights.startsWith('[') && isFor(r, roles))),
      ),
      person,
      frame,
      own,
      holds: (rule, row) => this.asked(own, () => rule.hold(row, frame)),
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
      [...rules].filter((r) => r.rule.table === row.tableId && r.rule.may.includes(may) && r.hold(row, frame)),
    );
  }

  // Reading

  /** The ids of the rules by which a record is seen with some rights; none where it is not. */
  rulesBy(rights: string, { table, id }: RecordState): string[] {
    return this.seenBy.rulesFor(this.context(rights), table, id).map((r) => r.rule.id);
  }

  /** Not for the holder of the app's key, who sees all fields of all records. */
  private seen(rights: string, { table, id }: RecordState): ReadonlySet<string> | null {
    let fields: ReadonlySet<string> | null = null;
    for (const rule of this.seenBy.rulesFor(this.context(rights), table, id))
      fields = fields ? this.seenBy.both(fields, rule.fields) : rule.fields;
    return fields;
  }

  *allSeen(rights: string): Iterable<SeenRecord> {
    if (rights !== OWNER_RIGHTS) return yield* this.seenBy.allFor(this.context(rights));
    for (const [table, store] of this.records.stores) {
      const fields = this.allFields(table);
      if (fields) for (const { id } of store.rows) yield { table, id, fields };
    }
  }

  namesOf(rights: string): readonly string[] {
    return rights === OWNER_RIGHTS ? [OWNER_RIGHTS] : this.seenBy.namesOf(this.context(rights));
  }
  seenUnder(record: RecordState): readonly string[] | null {
    return this.seenBy.seenUnder(record)?.concat(OWNER_RIGHTS) ?? null;
  }

  fieldsSeen(rights: string, record: RecordState): ReadonlySet<string> | null {
    return rights === OWNER_RIGHTS ? this.allFields(record.table) : this.seen(rights, record);
  }
  private allFields(table: string): ReadonlySet<string> | null {
    const model = this.records.model.tables.get(table);
    if (!model) return null;
    let fields = this.allOf.get(table);
    if (!fields) this.allOf.set(table, (fields = new Set(model.fields.keys())));
    return fields;
  }

  mayRead(rights: string, record: RecordState): boolean {
    return rights === OWNER_RIGHTS || this.seen(rights, record) !== null;
  }
  mayReadField(rights: string, record: RecordState, field: string): boolean {
    return rights === OWNER_RIGHTS || (this.seen(rights, record)?.has(field) ?? false);
  }

  // Writing

  /** What somebody may do with a record as it is: the fields that they may change, and whether they may remove it. */
  mayWrite(who: Who, { table, id }: RecordState): { changes: ReadonlySet<string>; removes: boolean } {
    const row = this.records.row(table, id);
    const context = this.writing(who);
    if (!row || !context) return { changes: new Set(), removes: false };
    const rules = this.fitting(context, 'change', row);
    return {
      changes: new Set(rules.flatMap((r) => [...r.fields])),
      removes: this.fitting(context, 'remove', row).length > 0,
    };
  }
  /** The ids of the rules that let somebody do this with a record as it is now; where it is gone, with any of its table. */
  rulesToWrite(who: Who, may: May, { table, record }: { table: string; record: string }): string[] {
    const row = this.records.row(table, record);
    const context = this.writing(who);
    if (!context) return [];
    const ofTable = [...context.rules].filter((r) => r.rule.table === table && r.rule.may.includes(may));
    return (row ? this.fitting(context, may, row) : ofTable).map((r) => r.rule.id);
  }
  looksBack(who: Who, record: RecordState): ReadonlySet<string> | null {
    const { table, id } = record;
    if (who.kind === 'owner') return this.allFields(table);
    const row = this.records.row(table, id);
    const context = this.writing(who);
    const seen = row && context && this.seen(this.rights(who), record);
    if (!seen) return null;
    const rules = this.fitting(context, 'look back', row);
    const fields = rules.flatMap((r) => [...r.fields].filter((f) => seen.has(f)));
    return rules.length ? new Set(fields) : null;
  }
  /** Is there a rule by which somebody may add records of a table, though not any? */
  mayAdd(who: Who, table: string): boolean {
    const rules = this.writing(who)?.rules ?? [];
    return [...rules].some((r) => r.rule.table === table && r.rule.may.includes('add') && r.broken === null);
  }

  /** The rights of somebody for writing; null where they may not use the app. */
  private writing(who: Who): Context | null {
    const { opens } = this.ready();
    const person = this.personOf(who);
    if (person === null) return opens === 'anybody' ? this.context(ANYBODY) : null;
    // Who they are counts for every rule of writing, whatever they may read.
    return this.context(inRoles(this.rolesOf(person).sort(), person));
  }

  /** It is not asked any more. */
  close(): void {
    this.seenBy.close();
    this.rightsTouched.close();
  }

  refusal(who: Who, change: Change): string | null {
    if (who.kind === 'owner') return null;
    const context = this.writing(who);
    if (!context) return SIGN_IN;
    const table = this.app!.tables.find((t) => t.id === change.table);
    if (!table || !this.records.stores.has(change.table)) return 'There is no such table.';
    const reason = refusedBy(this.records, table, change, (may, row) => this.fitting(context, may, row));
    return reason === null ? null : `${reason}${context.own === null ? ` ${SIGN_IN}` : ''}`;
  }
}

const frameOf = (runtime: RecordsRuntime): Value[] => [runtime as unknown as Value];

/** A field of the record at hand, as something that is read. */
const ownField = (table: string, field: string): Dependency => ({ table, field, origin: { from: 'self', hops: [] } });

const isFor = ({ rule: { who } }: ReadyRule, roles: readonly string[]): boolean =>
  who === 'anybody' || who === 'signed in' || roles.includes(who);
