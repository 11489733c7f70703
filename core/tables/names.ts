import { allId, backId, thisId } from '../document/ids.ts';
import type { WorkTimes } from '../formula/work-time.ts';
import type { Field, FetchedTable, Table, TableInStep, Variable } from './schema.ts';

/** As much of a request as formulas need. */
export interface NamedRequest {
  readonly id: string;
  readonly name: string;
  readonly inputs: readonly (Field & { optional?: true | undefined })[];
  readonly picks: readonly Field[];
}

/** Anything with tables: an app document, or as much of it as records need. */
export interface Tables {
  readonly tables: readonly Table[];
  readonly variables?: readonly Variable[] | undefined;
  /** Parts, of which only the names of their inputs are looked at. */
  readonly parts?:
    | readonly {
        readonly id: string;
        readonly name: string;
        readonly inputs: readonly { id: string; name: string }[];
      }[]
    | undefined;
  /** Routines, of whose steps only the names of their results are looked at. */
  readonly routines?: readonly {
    readonly inputs?: readonly { id: string; name: string }[] | undefined;
    readonly steps: readonly { id: string; do: string }[];
  }[];
  /** When work is done; and the zone by whose clocks. */
  readonly work?: Pick<WorkTimes, 'days' | 'free'> | undefined;
  readonly zone?: string | undefined;
  /** Services, of whose requests only what they are given and what is taken out of their answers is looked at. */
  readonly services?: readonly { readonly requests: readonly NamedRequest[] }[] | undefined;
}

export const tableOf = <A extends { tables: readonly Table[] }>(app: A, id: string): A['tables'][number] | undefined =>
  app.tables.find((t) => t.id === id);
export const fieldOf = (table: Table | undefined, id: string): Field | undefined =>
  table?.fields.find((f) => f.id === id);

/** How a table is connected with a service: fetched from it, or kept in step with it; undefined where it is neither. */
export const connected = (table: Table): FetchedTable | TableInStep | undefined => table.fetched ?? table.inStep;

/** Today's name of every table, field, link and record at hand that a stored formula may refer to. */
export function tableNames(tables: readonly Table[]): Map<string, string> {
  const names = new Map<string, string>();
  for (const t of tables) {
    names.set(t.id, t.name);
    names.set(allId(t.id), t.facts ? t.name.toLowerCase() : `all ${t.name}`);
    names.set(thisId(t.id), `this ${t.one}`);
    for (const f of t.fields) {
      names.set(f.id, f.name);
      if (f.link) names.set(backId(f.id), f.link.backName);
    }
  }
  return names;
}

/** The field names of a table with the names its links have from the other end; none may occur twice. */
export function namesInTable(app: Pick<Tables, 'tables' | 'variables'>, tableId: string): string[] {
  const own = tableOf(app, tableId)?.fields.map((f) => f.name) ?? [];
  const back = app.tables.flatMap((t) => t.fields.flatMap((f) => (f.link?.table === tableId ? [f.link.backName] : [])));
  // In a condition of a screen a field and a variable of one name could not be told apart.
  return [...own, ...back, ...(app.variables ?? []).map((v) => v.name)];
}

/** Every name that a variable may not have, since formulas know something else by it. */
export const takenByOthers = (app: Tables): string[] =>
  app.tables.flatMap((t) => [
    t.name,
    `this ${t.one}`,
    ...t.fields.flatMap((f) => (f.link ? [f.name, f.link.backName] : [f.name])),
  ]);

const ids = new WeakMap<readonly Field[], readonly string[]>();
const NO_IDS: readonly string[] = [];

/** The ids of the fields of a table: the same list each time while its fields are the same. */
export function fieldIds(table: Table | undefined): readonly string[] {
  if (!table) return NO_IDS;
  let known = ids.get(table.fields);
  if (!known) ids.set(table.fields, (known = table.fields.map((f) => f.id)));
  return known;
}
