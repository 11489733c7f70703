import { NOBODY, type Who } from '../../core/access/access.ts';
import { RuledAccess } from '../../core/access/ruled.ts';
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
  records: { id: string; title: string; rules: string[]; hidden: string[] }[];
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
  whatSees(person: string | null): { roles: string[]; mayOpen: boolean; tables: SeenTable[] } {
    const app = this.app();
    const { access, people, tables } = app;
    if (!access) return { roles: [], mayOpen: true, tables: [] };
    const rules = new RuledAccess(this.records, () => app);
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
            if (listed.length < LISTED)
              listed.push({
                id: row.id,
                title: row.title(),
                rules: by,
                hidden: by.length
                  ? t.fields
                      .filter((f) => f.type !== 'formula' && !rules.mayReadField(rights, state, f.id))
                      .map((f) => f.name)
                  : [],
              });
          }
          return { id: t.id, name: t.name, all: rows.length, seen, records: listed };
        }),
    };
  }
}
