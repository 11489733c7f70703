import { NOBODY, type Who } from '../../core/access/access.ts';
import { RuledAccess } from '../../core/access/ruled.ts';
import type { AppAccess } from '../../core/app/access-schema.ts';
import type { App } from '../../core/app/schema.ts';
import type { Replica } from '../../core/host/replica.ts';
import type { Records } from '../../core/records/store.ts';

/** What somebody sees of a table, by the rules as they are. */
export interface SeenTable {
  id: string;
  name: string;
  all: number;
  seen: number;
  /** The first records, each with the rules by which it is seen; and the names of fields that stay hidden. */
  records: SeenRecord[];
  /** They may add some, if not any. */
  adds: boolean;
}

interface SeenRecord {
  id: string;
  title: string;
  rules: string[];
  hidden: string[];
  /** The names of fields that they could change; null for all. */
  changes: string[] | null;
  removes: boolean;
}

export interface WhatSomebodySees {
  roles: string[];
  mayOpen: boolean;
  tables: SeenTable[];
}

/** So many records of a table are listed. */
const LISTED = 60;

/** Works out what people would be given, by what the host itself asks. */
export class Seeing {
  constructor(
    private readonly records: Records,
    private readonly replica: Replica,
    private readonly app: () => App,
  ) {}

  /** What a person of the table of people gets; nobody in particular for null. Their roles by name. */
  whatSees(person: string | null): WhatSomebodySees {
    const app = this.app();
    const { access } = app;
    if (!access) return { roles: [], mayOpen: true, tables: [] };
    const rules = new RuledAccess(this.records, () => app);
    try {
      return this.asked(rules, access, person);
    } finally {
      rules.close();
    }
  }

  private asked(rules: RuledAccess, access: AppAccess, person: string | null): WhatSomebodySees {
    const { people, tables } = this.app();
    const mail = access.mail && people && person ? this.records.row(people, person)?.cells[access.mail] : undefined;
    const who: Who = person === null ? NOBODY : { kind: 'somebody', person, ...(typeof mail === 'string' && { mail }) };
    const rights = rules.rights(who);
    const roles = person === null ? [] : rules.rolesOf(person);
    return {
      roles: access.roles.filter((r) => roles.includes(r.id)).map((r) => r.name),
      mayOpen: access.opens === 'anybody' || rules.personOf(who) !== null,
      tables: tables
        .filter((t) => !t.fetched)
        .map((t) => {
          const rows = this.records.rows(t.id).flatMap((row) => {
            const state = this.replica.state(row.id);
            return state ? [{ row, state, by: rules.rulesBy(rights, state) }] : [];
          });
          const [seen, others] = [rows.filter((r) => r.by.length), rows.filter((r) => !r.by.length)];
          const stored = t.fields.filter((f) => f.type !== 'formula');
          // What they see comes first: of a long table it is what is looked for.
          const records = [...seen, ...others].slice(0, LISTED).map(({ row, state, by }): SeenRecord => {
            const { changes, removes } = rules.mayWrite(who, state);
            const names = stored.filter((f) => changes.has(f.id)).map((f) => f.name);
            const hidden = by.length ? stored.filter((f) => !rules.mayReadField(rights, state, f.id)) : [];
            return {
              id: row.id,
              title: row.title(),
              rules: by,
              hidden: hidden.map((f) => f.name),
              changes: names.length === stored.length ? null : names,
              removes,
            };
          });
          return {
            id: t.id,
            name: t.name,
            all: rows.length,
            seen: seen.length,
            records,
            adds: rules.mayAdd(who, t.id),
          };
        }),
    };
  }
}
