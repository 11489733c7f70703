import { allId, ANSWERS, backId, thisId, VARIABLES } from '../document/ids.ts';
import { resultsOf } from '../document/walk.ts';
import { tableNames, type Tables } from '../tables/names.ts';
import type { Field } from '../tables/schema.ts';
import type { Problem } from '../formula/ast.ts';
import { compile, type Compiled } from '../formula/compile.ts';
import { indexNames, type NamesInScope } from '../formula/names-in-scope.ts';
import { toShown } from '../formula/stored.ts';
import { NameIndex } from '../formula/name-index.ts';
import { listed, Scope, type Frame, type Member, type Name, type Names, type Shapes } from '../formula/scope.ts';
import { ANY, NULL, listOf, type Type } from '../formula/types.ts';
import { type Value } from '../formula/values.ts';
import { cellType } from './cells.ts';
import {
  answersTable,
  readerOf,
  SELF,
  SELF_SLOT,
  thingNames,
  THINGS_FROM,
  variablesTable,
  type RecordsRuntime,
  type Thing,
} from './model-names.ts';
import type { Row } from './row.ts';
import type { TableModel } from './shape.ts';

export type { LinkEnd, TableModel } from './shape.ts';
export { SELF_SLOT, THINGS_FROM, type RecordsRuntime, type Thing } from './model-names.ts';

/**
 * The tables of an app as formulas see them. It holds no records, so the studio can check formulas with it too.
 * Formula fields are compiled when first asked for; asking in a circle is how a cycle is found.
 */
export class Model implements Shapes {
  readonly tables = new Map<string, TableModel>();
  private readonly compiled = new Map<string, Compiled>();
  private readonly compiling: string[] = [];
  private names: Set<string> | null = null;
  private shownNames: Map<string, string> | null = null;

  constructor(public app: Tables) {
    const kept = [
      ...app.tables,
      ...(app.variables?.length ? [variablesTable(app.variables)] : []),
      ...(app.tables.some((t) => t.fetched) ? [answersTable] : []),
    ];
    for (const table of kept) {
      this.tables.set(table.id, {
        table,
        slots: new Map(table.fields.map((f, i) => [f.id, i])),
        formulaSlots: table.fields.flatMap((f, i) => (f.type === 'formula' ? [i] : [])),
        fields: new Map(table.fields.map((f) => [f.id, f])),
        links: [],
        members: [],
      });
    }
    for (const table of kept) {
      for (const field of table.fields) {
        const { link } = field;
        const target = link && this.tables.get(link.table);
        if (!link || !target) continue;
        const { links } = this.tables.get(table.id)!;
        links.push({
          id: field.id,
          name: field.name,
          table: table.id,
          target: link.table,
          field,
          back: false,
          place: links.length,
        });
        target.links.push({
          id: backId(field.id),
          name: link.backName,
          table: link.table,
          target: table.id,
          field,
          back: true,
          place: target.links.length,
          ...(table.id === VARIABLES && { unnamed: true }),
        });
      }
    }
    for (const t of this.tables.values()) t.members = this.makeMembers(t);
  }

  private makeMembers(t: TableModel): Member[] {
    const own = t.table.fields.map((field): Member => {
      const slot = t.slots.get(field.id)!;
      if (field.type === 'formula') {
        const model = this;
        return {
          id: field.id,
          name: field.name,
          get type() {
            return model.formulaType(t.table.id, field);
          },
          get: (r) => (r as Row).read(slot),
        };
      }
      const end = t.links.find((l) => l.id === field.id);
      if (end && isSeveral(field))
        return {
          id: field.id,
          name: field.name,
          type: listOf({ k: 'record', table: end.target }),
          get: (r) => (r as Row).followAll(end),
        };
      if (end)
        return {
          id: field.id,
          name: field.name,
          type: { k: 'record', table: end.target },
          leadsToOne: true,
          get: (r) => (r as Row).follow(end),
        };
      if (field.type === 'link') return { id: field.id, name: field.name, type: NULL, get: () => null };
      return { id: field.id, name: field.name, type: cellType(field), get: (r) => (r as Row).v[slot]! };
    });
    const back = t.links
      .filter((l) => l.back && !l.unnamed)
      .map((end): Member => ({
        id: end.id,
        name: end.name,
        type: listOf({ k: 'record', table: end.target }),
        get: (r) => (r as Row).followAll(end),
      }));
    return [...own, ...back];
  }

  /** The tables that formulas can name: all but the one that variables are kept in. */
  private named(): TableModel[] {
    return [...this.tables.values()].filter(({ table: { id } }) => id !== VARIABLES && id !== ANSWERS);
  }

  members(table: string): readonly Member[] {
    return this.tables.get(table)?.members ?? [];
  }

  private readonly found = new Map<string, Map<string, Member>>();

  member(table: string, name: string): Member | undefined {
    let found = this.found.get(table);
    if (!found) {
      found = new Map();
      const members = this.members(table);
      for (const m of members) if (!found.has(m.name)) found.set(m.name, m);
      for (const m of members) found.set(m.id, m);
      this.found.set(table, found);
    }
    return found.get(name);
  }

  memberNames(): Set<string> {
    if (!this.names) {
      this.names = new Set();
      for (const t of this.named()) for (const m of t.members) this.names.add(m.name).add(m.id);
    }
    return this.names;
  }

  /** Today's name of anything a stored formula refers to. */
  /** The field with an id, of whatever table. */
  field(id: string): Field | undefined {
    for (const t of this.tables.values()) {
      const field = t.fields.get(id);
      if (field) return field;
    }
    return undefined;
  }

  nameOf = (id: string): string | undefined => {
    if (!this.shownNames) {
      this.shownNames = tableNames(this.app.tables);
      for (const v of this.app.variables ?? []) this.shownNames.set(v.id, v.name);
      for (const r of this.app.services?.flatMap((s) => s.requests) ?? [])
        for (const x of [...r.inputs, ...r.picks]) this.shownNames.set(x.id, x.name);
      for (const p of this.app.parts ?? []) for (const i of p.inputs) this.shownNames.set(i.id, i.name);
      for (const r of this.app.routines ?? []) {
        for (const i of r.inputs ?? []) this.shownNames.set(i.id, i.name);
        for (const { id: result, name } of resultsOf(r.steps)) this.shownNames.set(result, name);
      }
    }
    return this.shownNames.get(id);
  };

  /** Takes a document with the same tables, of which only names of results may be new. */
  rename(app: Tables): void {
    this.app = app;
    this.shownNames = null;
  }

  shown(stored: string): string {
    return toShown(stored, this.nameOf);
  }

  private formulaType(table: string, field: Field): Type {
    return this.formula(table, field).type;
  }

  /** The compiled formula of a formula field. A formula in a circle gives null and names the circle. */
  formula(table: string, field: Field): Compiled {
    const done = this.compiled.get(field.id);
    if (done) return done;
    if (this.compiling.includes(field.id)) {
      const circle = [...this.compiling.slice(this.compiling.indexOf(field.id)), field.id];
      this.circles.push(circle);
      return { type: ANY, run: () => null, problems: [], references: [], dependencies: [], volatile: false };
    }
    this.compiling.push(field.id);
    let result = compile(field.formula ?? '', this.optionsFor(table));
    this.compiling.pop();
    const circle = this.circles.find((c) => c.includes(field.id));
    if (circle)
      result = { ...result, run: () => null, problems: [this.circleProblem(circle, field), ...result.problems] };
    this.compiled.set(field.id, result);
    return result;
  }

  private readonly circles: string[][] = [];

  private circleProblem(circle: string[], field: Field): Problem {
    const names = circle.map((id) => this.nameOf(id) ?? id);
    const message =
      new Set(circle).size === 1
        ? `${field.name} uses itself. A formula can use every field but its own.`
        : `These fields go round in a circle: ${names.join(' uses ')}. Change one of them.`;
    return { message, from: 0, to: field.formula?.length ?? 0, severity: 'error' };
  }

  /** How to compile a formula that belongs to a table's record and may name these things besides. */
  optionsFor(self: string | null, things: readonly Thing[] = []) {
    const model = this;
    return {
      /** The names in reach, nearest first, for those who list them. */
      get names() {
        return [...model.ownNames(self), ...thingNames(things), ...model.allTableNames()];
      },
      known: this.knownIn(self, things),
      shapes: this as Shapes,
      firstSlot: THINGS_FROM + things.length,
    };
  }

  private index: NameIndex | null = null;
  private readonly own = new Map<string, Names>();
  private around: Scope | null = null;

  /** The names in reach, ready to be looked up. All but the things at hand is made once. */
  private knownIn(self: string | null, things: readonly Thing[]): NamesInScope {
    if (!this.index) {
      this.index = new NameIndex(this.memberNames());
      indexNames(this.allTableNames(), this.index);
      for (const t of this.named()) indexNames(this.ownNames(t.table.id), this.index);
    }
    this.around ??= new Scope(null, listed(this.allTableNames()));
    const given = thingNames(things);
    let { index, around: scope } = this;
    if (given.length) {
      index = new NameIndex([], index);
      indexNames(given, index);
      scope = new Scope(scope, listed(given));
    }
    if (!self) return { index, scope };
    const own = this.own.get(self) ?? listed(this.ownNames(self));
    this.own.set(self, own);
    return { index, scope: new Scope(scope, own) };
  }

  /** A record's own fields and links, and the record itself. */
  private ownNames(self: string | null): Name[] {
    const names: Name[] = [];
    if (self) {
      for (const m of this.members(self)) {
        names.push({
          id: m.id,
          name: m.name,
          get type() {
            return m.type;
          },
          origin: { from: 'self', hops: [] },
          field: { table: self, id: m.id },
          ...readerOf(m, this.tables.get(self)!),
        });
      }
      const one = this.tables.get(self)?.table.one;
      if (one) {
        names.push({
          id: thisId(self),
          name: `this ${one}`,
          type: { k: 'record', table: self },
          origin: { from: 'self', hops: [] },
          read: (f) => f[SELF_SLOT]!,
          inputs: SELF,
        });
      }
    }
    return names;
  }

  /** Whole tables. One is always called "all …"; its bare name works too where nothing else has it. */
  private allTableNames(): Name[] {
    return this.named().flatMap((t) => this.tableNames(t));
  }

  private tableNames(t: TableModel): Name[] {
    const { id, name } = t.table;
    if (t.table.facts) return [this.factsName(t)];
    const whole = {
      id: allId(id),
      type: listOf({ k: 'record', table: id }),
      origin: { from: 'table' as const, table: id },
      field: { table: id, id: WHOLE },
      read: (f: Frame): Value => (f[0] as unknown as RecordsRuntime).all(id),
      inputs: [],
    };
    return [
      { ...whole, name: `all ${name}` },
      { ...whole, name },
    ];
  }

  /** The one record of the app facts, by the name of their table. */
  private factsName(t: TableModel): Name {
    const { id, name } = t.table;
    return {
      id: allId(id),
      name: name.toLowerCase(),
      type: { k: 'record', table: id },
      origin: { from: 'table', table: id },
      field: { table: id, id: WHOLE },
      read: (f: Frame): Value => (f[0] as unknown as RecordsRuntime).all(id)[0] ?? null,
      inputs: [],
    };
  }

  private readonly asked = new Map<string, Compiled>();

  /** A formula that belongs to a table's record, such as a default or a check, compiled once. */
  formulaOf(table: string, formula: string): Compiled {
    const key = `${table} ${formula}`;
    let compiled = this.asked.get(key);
    if (!compiled) {
      compiled = compile(formula, this.optionsFor(table));
      this.asked.set(key, compiled);
    }
    return compiled;
  }
}

/** Does a link lead to several records that people pick? */
export const isSeveral = (field: Field): boolean => field.link?.kind === 'picked' && field.several === true;

/** Stands for "which records there are" among the fields of a table. */
export const WHOLE = '*';
