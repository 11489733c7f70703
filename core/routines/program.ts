import { stoppedWords } from '../formula/guarded.ts';
import type { AnyStep } from '../document/meaning.ts';
import type { FieldValue, Query, Where } from '../document/pieces.ts';
import { failureResults, walkSteps } from '../document/walk.ts';
import { compile, type Compiled } from '../formula/compile.ts';
import { TEXT } from '../formula/types.ts';
import type { Value } from '../formula/values.ts';
import { RecordValue } from '../formula/values.ts';
import { fieldKind } from '../fields/kinds.ts';
import { toListCell, type Cell } from '../fields/lists.ts';
import { toCell } from '../records/cells.ts';
import { checkCell } from '../records/check-cell.ts';
import { recordProblem } from '../records/checks.ts';
import { compileWhere, type CompiledWhere, whereWords } from '../records/conditions.ts';
import { display } from '../records/format.ts';
import { THINGS_FROM, type Model, type Thing } from '../records/model.ts';
import { compileQuery, type CompiledQuery } from '../records/query.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { compileTemplate, fieldOfPath, type CompiledTemplate } from '../records/template.ts';
import { fieldOf } from '../tables/names.ts';
import type { Field } from '../tables/schema.ts';
import { inputThings, thingOf, variablesAt } from '../screens/reach.ts';
import type { TriggerValue } from './trigger-values.ts';
import { namedTooEarly } from './reach.ts';
import type { RunState } from './state.ts';
import { StepError, type StepKinds, type StepScope } from './step.ts';
import { valueOf } from '../records/kept-value.ts';

/** A routine as the document holds it. */
export interface RoutineDoc {
  id: string;
  name: string;
  given: string | null;
  /** What else it is given; `first` is a formula for where it is not. */
  inputs?: readonly InputDoc[] | undefined;
  overlaps?: true | undefined;
  ifStepGone?: 'next' | undefined;
  steps: readonly AnyStep[];
}

/** A value that a routine is given. */
export type InputDoc = Field & { first: string; from?: TriggerValue | undefined };

/**
 * What a routine's formulas may name: the record given and the results of its steps; with `reach`, only those results
 * that it holds, as {@link stepReach} gives them for a place.
 */
export function thingsInRoutine(
  kinds: StepKinds,
  model: Model,
  routine: RoutineDoc,
  reach?: ReadonlySet<string>,
): Thing[] {
  const things = [...thingOf(model, routine.given), ...inputThings(routine)];
  walkSteps(routine.steps, (s) => {
    const { result, resultName } = s as AnyStep & { result?: string; resultName?: string };
    const type = kinds.get(s.do)?.gives?.(s, model.app);
    if (s.ifFails)
      for (const known of failureResults(s)) if (!reach || reach.has(known.id)) things.push({ ...known, type: TEXT });
    if (!result || !type || (reach && !reach.has(result)) || (type.k === 'record' && !model.tables.has(type.table)))
      return;
    things.push({ id: result, name: resultName ?? '', type });
  });
  return [...things, ...variablesAt(model)];
}

/** The world outside a run that is not asked but read: what time it is, and a name for something new. */
export interface RunWorld {
  now(): number;
  newId(): string;
}

/** A routine with its formulas compiled, once for a document. A run gives it its values before each step. */
export class Program implements StepScope {
  readonly things: readonly Thing[];
  readonly frame: Value[];
  private readonly options;
  private readonly formulas = new Map<string, Compiled>();
  private readonly templates = new Map<string, CompiledTemplate>();
  private readonly queries = new WeakMap<Query, CompiledQuery>();
  private readonly wheres = new WeakMap<Where, CompiledWhere>();

  constructor(
    private readonly kinds: StepKinds,
    readonly records: Records,
    readonly routine: RoutineDoc,
    readonly screens: StepScope['screens'],
    readonly routines: StepScope['routines'],
    private readonly world: RunWorld,
  ) {
    this.things = thingsInRoutine(kinds, records.model, routine);
    this.options = records.model.optionsFor(null, this.things);
    this.frame = [records.runtime as unknown as Value, null, ...this.things.map(() => null)];
  }

  /** Puts the values of a run in place, records as they are now. */
  place(state: RunState): void {
    const given = this.routine.given && state.given ? this.records.row(state.given.table, state.given.record) : null;
    this.things.forEach((t, i) => {
      this.frame[THINGS_FROM + i] =
        i === 0 && this.routine.given ? (given ?? null) : valueOf(state.results[t.id], this.records);
    });
  }

  /** Why a step cannot be taken: it names what is not there yet. Null when it can. */
  wrongWith(step: string): string | null {
    this.early ??= namedTooEarly(this.kinds, this.routine.steps);
    return this.early.get(step)?.[0]?.said ?? null;
  }
  private early: ReturnType<typeof namedTooEarly> | null = null;

  get services(): StepScope['services'] {
    return this.records.model.app.services;
  }

  now(): number {
    return this.world.now();
  }
  newId(): string {
    return this.world.newId();
  }

  value(formula: string, what: string): { value: Value; text: string } {
    if (!formula) throw new StepError(`${what} is not filled in yet.`);
    let c = this.formulas.get(formula);
    if (!c) this.formulas.set(formula, (c = compile(formula, this.options)));
    const wrong = c.problems.find((p) => p.severity === 'error');
    if (wrong) throw new StepError(`${what}: ${wrong.message}`);
    const value = c.run(this.frame);
    const stopped = value === null && stoppedWords(c);
    if (stopped) throw new StepError(`${what}: ${stopped}`);
    return { value, text: display(value, fieldOfPath(this.records.model, c.references, formula)) };
  }

  words(template: string): string {
    let t = this.templates.get(template);
    if (!t) this.templates.set(template, (t = compileTemplate(this.records.model, template, this.options)));
    return t.run(this.frame);
  }

  lines(rows: readonly Row[], id: string, template: string): string[] {
    const at = this.things.findIndex((t) => t.id === id);
    if (at < 0) return rows.map(() => this.words(template));
    const before = this.frame[THINGS_FROM + at]!;
    try {
      return rows.map((row) => {
        this.frame[THINGS_FROM + at] = row;
        return this.words(template);
      });
    } finally {
      this.frame[THINGS_FROM + at] = before;
    }
  }

  record(formula: string, what: string): Row {
    const { value } = this.value(formula, what);
    if (value instanceof Row) return value;
    throw new StepError(
      value instanceof RecordValue || value !== null
        ? `${what} is not one record.`
        : `${what} is empty: ${this.shown(formula)} leads to no record.`,
    );
  }

  someRecords(formula: string, what: string): readonly Row[] {
    const { value } = this.value(formula, what);
    if (!Array.isArray(value)) return [this.record(formula, what)];
    const rows = value.filter((v) => v !== null);
    if (!rows.every((r): r is Row => r instanceof Row)) throw new StepError(`${what} is a list of other things.`);
    if (new Set(rows.map((r) => r.tableId)).size > 1) throw new StepError(`${what} is of several tables.`);
    return [...new Set(rows)];
  }

  find(query: Query): readonly Row[] {
    let compiled = this.queries.get(query);
    if (!compiled) this.queries.set(query, (compiled = compileQuery(this.records, query, this.things)));
    const wrong = compiled.problems.find((p) => p.severity === 'error');
    if (wrong) throw new StepError(`The records: ${wrong.message}`);
    const values = this.frame.slice(THINGS_FROM);
    return compiled.run(values).slice(0, compiled.most(values));
  }

  holds(where: Where): boolean {
    const w = this.compiled(where);
    const wrong = w.problems.find((p) => p.severity === 'error');
    // What cannot be told is neither yes nor no: going the other way would be an answer that nobody gave.
    if (wrong) throw new StepError(`The condition: ${wrong.message}`);
    const holds = w.test(this.frame);
    const stopped = w.stopped();
    if (stopped) throw new StepError(`The condition: ${stopped}`);
    return holds;
  }

  /** What conditions read, so that nobody need look at them again before that is otherwise. */
  readsOf(where: Where): Pick<CompiledWhere, 'reads' | 'volatile'> {
    return this.compiled(where);
  }

  private compiled(where: Where): CompiledWhere {
    let w = this.wheres.get(where);
    if (!w) this.wheres.set(where, (w = compileWhere(where, this.options)));
    return w;
  }

  conditions(where: Where): string {
    return whereWords(where, (formula) => this.shown(formula));
  }

  shown(formula: string): string {
    return this.records.model.shown(formula);
  }

  allow(table: string, record: string, cells: Record<string, Cell>): void {
    const { fetched } = this.records.model.tables.get(table)?.table ?? {};
    // Its service is asked, and says what it refuses.
    if (this.records.row(table, record) ? fetched?.changes : fetched?.adds) return;
    const refused = recordProblem(this.records, table, record, cells);
    if (refused) throw new StepError(refused.said);
  }

  cells(tableId: string, values: readonly FieldValue[]): { cells: Record<string, Cell>; said: [string, string][] } {
    const table = this.records.model.tables.get(tableId)?.table;
    const cells: Record<string, Cell> = {};
    const said: [string, string][] = [];
    for (const v of values) {
      const field = fieldOf(table, v.field);
      if (!field || !table) throw new StepError('A field to set is not chosen yet.');
      const { value, text } = this.value(v.value, `The value for ${field.name}`);
      const { field: target, cell } = linkCell(table.fields, field, value) ?? {
        field,
        cell: toCell(oneFile(field, value)),
      };
      const wrong = checkCell(target, cell);
      if (wrong) throw new StepError(wrong);
      cells[target.id] = cell;
      said.push([field.name, text || 'nothing']);
    }
    return { cells, said };
  }
}

/** A field that holds a file holds one: of a list it takes the only one. Throws where there are more. */
function oneFile(field: Field, value: Value): Value {
  if (!Array.isArray(value) || !fieldKind(field.type).holdsFile) return value;
  const files = value.filter((v) => v !== null && v !== '');
  if (files.length > 1) throw new StepError(`${field.name} takes one file, and these are ${files.length}.`);
  return files[0] ?? null;
}

/** Where a record that is given to a link is written, and what: its id, or the value that makes it match. */
function linkCell(fields: readonly Field[], field: Field, value: Value): { field: Field; cell: Cell } | null {
  if (!field.link || !(value instanceof Row || value === null)) return null;
  if (field.link.kind === 'picked')
    return { field, cell: value && field.several ? toListCell([value.id]) : (value?.id ?? null) };
  const from = fields.find((f) => f.id === field.link!.from)!;
  return { field: from, cell: value ? (value.cells[field.link.to!] ?? null) : null };
}
