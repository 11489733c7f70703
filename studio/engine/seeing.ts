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
          const rows = this.records.rows(t.id);
          let seen = 0;
          const listed: SeenTable['records'] = [];
          for (const row of rows) {
            const state = this.replica.state(row.id);
            if (!state) continue;
            const by = rules.rulesBy(rights, state);
            if (by.length) seen++;
            if (listed.length < LISTED) {
              const { changes, removes } = rules.mayWrite(who, state);
              const stored = t.fields.filter((f) => f.type !== 'formula');
              const names = stored.filter((f) => changes.has(f.id)).map((f) => f.name);
              listed.push({
                id: row.id,
                title: row.title(),
                rules: by,
                hidden: by.length
                  ? t.fields
                      .filter((f) => f.type !== 'formula' && !rules.mayReadField(rights, state, f.id))
                      .map((f) => f.name)
                  : [],
                changes: names.length === stored.length ? null : names,
                removes,
              });
            }
          }
          return { id: t.id, name: t.name, all: rows.length, seen, records: listed, adds: rules.mayAdd(who, t.id) };
        }),
    };
  }
}
