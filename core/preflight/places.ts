import { walkElements } from '../document/walk.ts';
import type { Properties, Property, Unfilled } from '../document/meaning.ts';
import type { FieldValue, Query, Tap, Where } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import { compileWhere, everyCondition, isUnfinished } from '../records/conditions.ts';
import type { Model, Thing } from '../records/model.ts';
import { typedBraces } from '../records/words.ts';
import { compileTemplate } from '../records/template.ts';
import { inside, type Reach } from '../screens/reach.ts';
import { broughtBy } from '../screens/reach.ts';
import type { Screen, Routine } from '../app/schema.ts';
import type { Table } from '../tables/schema.ts';

/** As much of an app as properties refer to. */
export interface Referred {
  tables: readonly Table[];
  variables?: readonly { id: string }[] | undefined;
  screens: readonly Pick<Screen, 'id' | 'name' | 'given' | 'optional' | 'finds' | 'root'>[];
  routines: readonly Pick<Routine, 'id' | 'name'>[];
  services?: readonly { requests: readonly { id: string }[] }[] | undefined;
}

type Owner = Record<string, unknown>;

/**
 * What is wrong with the properties of one element, step or trigger, found from their meanings alone: places that are
 * not filled in, formulas that do not work out, tables, screens and routines that are gone.
 */
export function propertyNotes(
  model: Model,
  app: Referred,
  properties: Properties,
  owner: object,
  reach: Reach,
): Unfilled[] {
  const look = new PropertyLook(model, app, properties, owner as Owner, reach);
  for (const [name, p] of Object.entries(properties)) look.property(name, p);
  look.workedOut();
  return look.notes;
}

class PropertyLook {
  readonly notes: Unfilled[] = [];

  constructor(
    private readonly model: Model,
    private readonly app: Referred,
    private readonly properties: Properties,
    private readonly owner: Owner,
    private readonly reach: Reach,
  ) {}

  property(name: string, p: Property): void {
    const value = this.owner[name];
    if (value === undefined && p.optional) return;
    if (p.unfilled && this.isEmpty(p, value)) {
      this.notes.push(p.unfilled);
      return;
    }
    const { things } = this.within(p);
    switch (p.is) {
      case 'words': {
        const [braces] = typedBraces(value as string);
        if (braces) this.add('look', `${braces} in its words is no value: people read it as it is typed.`);
        return this.problems(
          compileTemplate(this.model, value as string, this.model.optionsFor(null, things)).problems,
        );
      }
      case 'formula':
        return this.formula(value as string, things);
      case 'query':
        return this.query(value as Query, things);
      case 'where':
        return this.where(value as Where, p.of ? String(this.owner[p.of] ?? '') : null, things);
      case 'values':
        return this.values(value as FieldValue[], things);
      case 'tap':
        return this.tap(value as Tap, things);
      default:
    }
  }

  /** Formulas of properties that are worked out. */
  workedOut(): void {
    for (const formula of Object.values((this.owner['worked'] ?? {}) as Record<string, string>)) {
      if (formula) this.formula(formula, this.reach.things);
      else this.add('look', 'a look that is to be worked out has no formula yet.');
    }
  }

  /** What is in reach of a property: of the element itself, or of what stands in one of its slots. */
  private within(p: Property): Reach {
    const slot = p.inside ? this.properties[p.inside]?.slot : undefined;
    return slot ? inside(this.model, this.reach, broughtBy(slot, this.owner)) : this.reach;
  }

  private isEmpty(p: Property, value: unknown): boolean {
    const has = (list: readonly { id: string }[]): boolean => list.some((x) => x.id === value);
    switch (p.is) {
      case 'table':
        return !has(this.app.tables);
      case 'variable':
        return !has(this.app.variables ?? []);
      case 'routine':
        return !has(this.app.routines);
      case 'request':
        return !has(this.app.services?.flatMap((s) => s.requests) ?? []);
      case 'screen':
        return !has(this.app.screens);
      case 'element': {
        let there = false;
        walkElements(
          this.app.screens.map((s) => s.root),
          (e) => (there ||= e.id === value),
        );
        return !there;
      }
      case 'query':
        return !this.app.tables.some((t) => t.id === (value as Query).table);
      case 'where':
        return everyCondition(value as Where).length === 0 || unfinished(value as Where);
      case 'tap':
        return (value as Tap).do === 'nothing';
      case 'values':
      case 'fields':
      case 'elements':
      case 'steps':
        return (value as unknown[]).length === 0;
      default:
        return String(value ?? '').trim() === '';
    }
  }

  private add(severity: Unfilled['severity'], said: string): void {
    this.notes.push({ severity, said });
  }

  private problems(problems: readonly Problem[]): void {
    const worst = problems.find((p) => p.severity === 'error') ?? problems[0];
    if (worst) this.add(worst.severity === 'error' ? 'stops' : 'look', worst.message);
  }

  private formula(stored: string, things: readonly Thing[], self: string | null = null): void {
    if (stored) this.problems(compile(stored, this.model.optionsFor(self, things)).problems);
  }

  private where(where: Where, self: string | null, things: readonly Thing[]): void {
    if (unfinished(where)) this.add('look', 'a condition is not filled in yet, so it is left out.');
    else this.problems(compileWhere(where, this.model.optionsFor(self, things)).problems);
  }

  private query(query: Query, things: readonly Thing[]): void {
    this.formula(query.via ?? '', things);
    for (const v of query.asks?.values ?? []) this.formula(v.value, things);
    if (typeof query.limit === 'string') this.formula(query.limit, things);
    this.where(query.where, query.table, things);
    for (const o of query.order) this.formula(o.by, things, query.table);
  }

  private values(values: readonly FieldValue[], things: readonly Thing[]): void {
    for (const v of values) {
      if (!v.value) this.add('stops', 'a value is not filled in yet.');
      else this.formula(v.value, things);
    }
  }

  private tap(tap: Tap, things: readonly Thing[]): void {
    if (tap.do === 'save' && this.reach.form === null) this.add('stops', 'it saves a form, and stands in none.');
    if (tap.do === 'routine') {
      if (!this.app.routines.some((r) => r.id === tap.routine))
        this.add('stops', 'a tap runs a routine that is not chosen.');
      this.values(tap.values ?? [], things);
    }
    if (tap.do !== 'open') return;
    const target = this.app.screens.find((s) => s.id === tap.screen);
    if (!target) this.add('stops', 'a tap opens a screen that is not chosen.');
    else if (target.given && !target.optional && !target.finds && !tap.give)
      this.add('stops', `a tap opens ${target.name}, which needs a record, and gives none.`);
    else this.formula(tap.give, things);
    this.values(tap.values ?? [], things);
  }
}

/** Has any condition a side that is not filled in? */
export const unfinished = (where: Where): boolean => everyCondition(where).some(isUnfinished);
