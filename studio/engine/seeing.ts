import { NOBODY, type Who } from '../../core/access/access.ts';
import { RuledAccess } from '../../core/access/ruled.ts';
import type { AppAccess } from '../../core/app/access-schema.ts';
import type { App } from '../../core/app/schema.ts';
import type { Replica } from '../../core/host/replica.ts';
import type { Records } from '../../core/records/store.ts';

/** What people see of a table, by the rules as they are. */
export interface SeenTable {
  id: string;
  name: string;
  all: number;
  /** How many each of the people sees, and whether they may add some. */
  of: { seen: number; adds: boolean }[];
  /** The first records, with what they are to each of the people. */
  records: { id: string; title: string; of: SeenRecord[] }[];
}

/** What a record is to somebody. */
export interface SeenRecord {
  /** The rules by which it is seen; none where it is not. */
  rules: string[];
  /** The names of fields that stay hidden. */
  hidden: string[];
  /** The names of fields that they could change; null for all. */
  changes: string[] | null;
  removes: boolean;
}

export interface WhatPeopleSee {
  /** Each of the people with their roles, by name. */
  people: { roles: string[]; mayOpen: boolean }[];
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

  /** What people of the table of people get, beside each other; nobody in particular for null. */
  whatSee(people: readonly (string | null)[]): WhatPeopleSee {
    const app = this.app();
    const { access } = app;
    if (!access) return { people: [], tables: [] };
    const rules = new RuledAccess(this.records, () => app);
    try {
      return this.asked(rules, access, people);
    } finally {
      rules.close();
    }
  }

  private asked(rules: RuledAccess, access: AppAccess, people: readonly (string | null)[]): WhatPeopleSee {
    const asking = people.map((person) => {
      const who = this.whoIs(person, access);
      return { person, who, rights: rules.rights(who) };
    });
    return {
      people: asking.map(({ person, who }) => {
        const roles = person === null ? [] : rules.rolesOf(person);
        return {
          roles: access.roles.filter((r) => roles.includes(r.id)).map((r) => r.name),
          mayOpen: access.opens === 'anybody' || rules.personOf(who) !== null,
        };
      }),
      tables: this.app()
        .tables.filter((t) => !t.fetched)
        .map((t) => {
          const rows = this.records.rows(t.id).flatMap((row) => {
            const state = this.replica.state(row.id);
            return state ? [{ row, state, by: asking.map(({ rights }) => rules.rulesBy(rights, state)) }] : [];
          });
          const stored = t.fields.filter((f) => f.type !== 'formula');
          const records = inOrder(rows)
            .slice(0, LISTED)
            .map(({ row, state, by }) => ({
              id: row.id,
              title: row.title(),
              of: asking.map(({ who, rights }, i): SeenRecord => {
                const { changes, removes } = rules.mayWrite(who, state);
                const names = stored.filter((f) => changes.has(f.id)).map((f) => f.name);
                const hidden = by[i]!.length ? stored.filter((f) => !rules.mayReadField(rights, state, f.id)) : [];
                return {
                  rules: by[i]!,
                  hidden: hidden.map((f) => f.name),
                  changes: names.length === stored.length ? null : names,
                  removes,
                };
              }),
            }));
          return {
            id: t.id,
            name: t.name,
            all: rows.length,
            of: asking.map(({ who }, i) => ({
              seen: rows.filter((r) => r.by[i]!.length).length,
              adds: rules.mayAdd(who, t.id),
            })),
            records,
          };
        }),
    };
  }

  private whoIs(person: string | null, { mail: field }: AppAccess): Who {
    const { people } = this.app();
    const mail = field && people && person ? this.records.row(people, person)?.cells[field] : undefined;
    return person === null ? NOBODY : { kind: 'somebody', person, ...(typeof mail === 'string' && { mail }) };
  }
}

/** What is looked for in a long table comes first: records that are something else to one than to another, then those seen. */
function inOrder<R extends { by: string[][] }>(rows: readonly R[]): R[] {
  const rank = ({ by }: R): number =>
    by.some((b) => b.join() !== by[0]!.join()) ? 0 : by.some((b) => b.length) ? 1 : 2;
  const ranked: R[][] = [[], [], []];
  for (const r of rows) ranked[rank(r)]!.push(r);
  return ranked.flat();
}
