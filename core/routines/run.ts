import type { App, Condition, FieldValue, Routine, Step, Where } from '../app/schema.ts';
import { fieldOf, screenOf, tableOf, walkSteps } from '../app/names.ts';
import { compile } from '../formula/compile.ts';
import { RecordValue, type Value } from '../formula/values.ts';
import { addressesIn, isMailAddress } from '../formats/eml.ts';
import type { Draft } from '../host/change.ts';
import { checkCell, toCell, toListCell, type Cell } from '../records/cells.ts';
import { compileWhere } from '../records/conditions.ts';
import { display } from '../records/format.ts';
import { THINGS_FROM, type Thing } from '../records/model.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { compileTemplate, fieldOfPath } from '../records/template.ts';
import { recordProblem, recordWithKey } from '../records/checks.ts';
import { thingsGiven } from '../screens/draw.ts';

/** The world as a routine may touch it. A page, a server and a test each bring their own. */
export interface Ports {
  write(drafts: Draft[]): Promise<void>;
  mail(message: { to: string[]; subject: string; body: string }): Promise<void>;
  open(screen: string, record: string | null): void;
  back(): void;
  message(words: string): void;
  newRecordId(): string;
}

/** What one step got and gave. */
export interface StepTrace {
  step: string;
  /** In words with the values that were at hand: "Set Bramble 3 › Welcomed on to Mon 23 Nov 2026". */
  said: string;
  /** The result in a word or two. */
  gave: string;
  /** Milliseconds. */
  ms: number;
  error?: string;
}

export interface RunTrace {
  routine: string;
  name: string;
  /** The record it was given, by its title. */
  given: string;
  steps: StepTrace[];
  ms: number;
  error?: string;
}

/** Something a step cannot do, in words for the maker. */
class StepError extends Error {}

/** Things a routine's formulas may name: the record given and the results of its steps. */
export function thingsInRoutine(records: Pick<Records, 'model'>, routine: Routine): Thing[] {
  const things = thingsGiven(records, routine.given);
  walkSteps(routine.steps, (s) => {
    if (s.do === 'add' && records.model.tables.has(s.table))
      things.push({ id: s.result, name: s.resultName, type: { k: 'record', table: s.table } });
  });
  return things;
}

/** Runs a routine to its end, or to the first step that fails. Never rejects: what went wrong is in the trace. */
export async function runRoutine(
  app: App,
  records: Records,
  routine: Routine,
  record: string | null,
  ports: Ports,
): Promise<RunTrace> {
  const row = routine.given && record ? records.row(routine.given, record) : undefined;
  const run = new Run(app, records, routine, ports);
  const started = performance.now();
  const trace: RunTrace = {
    routine: routine.id,
    name: routine.name,
    given: row?.title() ?? '',
    steps: run.trace,
    ms: 0,
  };
  try {
    if (routine.given && !row)
      throw new StepError(`This routine needs a ${tableOf(app, routine.given)?.one ?? 'record'}, and none was given.`);
    if (row) run.put(0, row);
    await run.steps(routine.steps);
  } catch (e) {
    trace.error = (e as Error).message;
  }
  trace.ms = performance.now() - started;
  return trace;
}

class Run {
  readonly trace: StepTrace[] = [];
  private readonly things: Thing[];
  private readonly frame: Value[];
  private readonly options;

  constructor(
    private readonly app: App,
    private readonly records: Records,
    routine: Routine,
    private readonly ports: Ports,
  ) {
    this.things = thingsInRoutine(records, routine);
    this.options = records.model.optionsFor(null, this.things);
    this.frame = [records.runtime as unknown as Value, null, ...this.things.map(() => null)];
  }

  put(thing: number, value: Value): void {
    this.frame[THINGS_FROM + thing] = value;
  }

  private value(formula: string, what: string): { value: Value; text: string } {
    if (!formula) throw new StepError(`${what} is not filled in yet.`);
    const c = compile(formula, this.options);
    const wrong = c.problems.find((p) => p.severity === 'error');
    if (wrong) throw new StepError(`${what}: ${wrong.message}`);
    const value = c.run(this.frame);
    return { value, text: display(value, fieldOfPath(this.records.model, c.references, formula)) };
  }

  private words(template: string): string {
    return compileTemplate(this.records.model, template, this.options).run(this.frame);
  }

  private record(formula: string, what: string): Row {
    const { value } = this.value(formula, what);
    if (value instanceof Row) return value;
    throw new StepError(
      value instanceof RecordValue || value !== null
        ? `${what} is not one record.`
        : `${what} is empty: ${this.records.model.shown(formula)} leads to no record.`,
    );
  }

  async steps(steps: readonly Step[]): Promise<void> {
    for (const step of steps) {
      const started = performance.now();
      if (step.do === 'if') {
        const met = this.traced(step, started, () => {
          const yes = compileWhere(step.when, this.options).test(this.frame);
          return { said: `If ${this.conditions(step.when)}`, gave: yes ? 'yes' : 'no', yes };
        }).yes;
        await this.steps(met ? step.then : step.otherwise);
        continue;
      }
      try {
        const done = await this.step(step);
        this.trace.push({ step: step.id, ...done, ms: performance.now() - started });
      } catch (e) {
        const error = (e as Error).message;
        this.trace.push({ step: step.id, said: STEP_WORDS[step.do], gave: '', ms: performance.now() - started, error });
        throw e;
      }
    }
  }

  /** The conditions of a branch as people read them. */
  private conditions(where: Where): string {
    const shown = (formula: string): string =>
      this.records.model
        .shown(formula)
        .replace(/\./g, ' › ')
        .replace(/^"(.*)"$/, '$1');
    return where.conditions
      .map((c) => `${shown(c.left)} ${OP_WORDS[c.op]} ${shown(c.right)}`.trim())
      .join(where.match === 'all' ? ' and ' : ' or ');
  }

  private traced<T extends { said: string; gave: string }>(step: Step, started: number, work: () => T): T {
    const done = work();
    this.trace.push({ step: step.id, said: done.said, gave: done.gave, ms: performance.now() - started });
    return done;
  }

  private async step(step: Exclude<Step, { do: 'if' }>): Promise<{ said: string; gave: string }> {
    switch (step.do) {
      case 'set': {
        const row = this.record(step.record, 'The record to set');
        const { cells, said } = this.cells(row.tableId, step.values);
        this.differ(row.tableId, row.id, cells);
        await this.ports.write([{ do: 'set', table: row.tableId, record: row.id, cells }]);
        return {
          said: `Set ${row.title()} › ${said.map(([f, v]) => `${f} to ${v}`).join(', ')}`,
          gave: said.map(([, v]) => v).join(', '),
        };
      }
      case 'add': {
        const table = tableOf(this.app, step.table);
        if (!table) throw new StepError('The table to add to is not chosen yet.');
        const { cells, said } = this.cells(table.id, step.values);
        const there = step.update ? recordWithKey(this.records.stores.get(table.id)!, cells) : null;
        const id = there?.id ?? this.ports.newRecordId();
        this.differ(table.id, id, cells);
        await this.ports.write([{ do: 'set', table: table.id, record: id, cells }]);
        const row = this.records.row(table.id, id);
        const at = this.things.findIndex((t) => t.id === step.result);
        if (row && at >= 0) this.put(at, row);
        return {
          said: `${there ? 'Changed the' : 'Added a'} ${table.one}${said.length ? `: ${said.map(([f, v]) => `${f} ${v}`).join(', ')}` : ''}`,
          gave: row?.title() ?? (there ? 'changed' : 'added'),
        };
      }
      case 'remove': {
        const row = this.record(step.record, 'The record to remove');
        const title = row.title();
        await this.ports.write([{ do: 'remove', table: row.tableId, record: row.id }]);
        return { said: `Removed ${title}`, gave: 'removed' };
      }
      case 'open': {
        const screen = screenOf(this.app, step.screen);
        if (!screen) throw new StepError('The screen to open is not chosen yet.');
        const row = screen.given ? this.record(step.give, `What ${screen.name} is given`) : null;
        if (row && row.tableId !== screen.given)
          throw new StepError(
            `${screen.name} opens with a ${tableOf(this.app, screen.given!)?.one}, not with a ${row.store.model.table.one}.`,
          );
        this.ports.open(screen.id, row?.id ?? null);
        return { said: `Opened ${screen.name}${row ? ` with ${row.title()}` : ''}`, gave: screen.name };
      }
      case 'back':
        this.ports.back();
        return { said: 'Went back', gave: 'went back' };
      case 'message': {
        const words = this.words(step.words);
        if (!words.trim()) throw new StepError('The message has no words yet.');
        this.ports.message(words);
        return { said: `Showed “${words}”`, gave: 'shown' };
      }
      case 'mail':
        return this.mail(step);
    }
  }

  private async mail(step: Step & { do: 'mail' }): Promise<{ said: string; gave: string }> {
    const { value } = this.value(step.to, 'The address of the mail');
    const to = addressesIn(display(value).replace(/, /g, ','));
    if (to.length === 0)
      throw new StepError(`The mail has nowhere to go: ${this.records.model.shown(step.to)} is empty.`);
    const bad = to.find((a) => !isMailAddress(a));
    if (bad) throw new StepError(`“${bad}” is not a mail address.`);
    const subject = this.words(step.subject);
    await this.ports.mail({ to: [...new Set(to)], subject, body: this.words(step.body) });
    return { said: `Mail to ${to.join(', ')} “${subject}”`, gave: `sent to ${to.length}` };
  }

  private differ(table: string, record: string, cells: Record<string, Cell>): void {
    const refused = recordProblem(this.records, table, record, cells);
    if (refused) throw new StepError(refused.said);
  }

  /** Cells of a record from formulas; a link given a record writes the value that makes it match. */
  private cells(
    tableId: string,
    values: readonly FieldValue[],
  ): { cells: Record<string, Cell>; said: [string, string][] } {
    const table = tableOf(this.app, tableId);
    const cells: Record<string, Cell> = {};
    const said: [string, string][] = [];
    for (const v of values) {
      const field = fieldOf(table, v.field);
      if (!field || !table) throw new StepError('A field to set is not chosen yet.');
      const { value, text } = this.value(v.value, `The value for ${field.name}`);
      const { field: target, cell } = linkCell(field, value) ?? { field, cell: toCell(value) };
      const wrong = checkCell(target, cell);
      if (wrong) throw new StepError(wrong);
      cells[target.id] = cell;
      said.push([field.name, text || 'nothing']);
    }
    return { cells, said };

    function linkCell(field: NonNullable<ReturnType<typeof fieldOf>>, value: Value) {
      if (!field.link || !(value instanceof Row || value === null)) return null;
      if (field.link.kind === 'picked')
        return { field, cell: value && field.several ? toListCell([value.id]) : (value?.id ?? null) };
      const from = fieldOf(table, field.link.from!)!;
      return { field: from, cell: value ? (value.cells[field.link.to!] ?? null) : null };
    }
  }
}

const OP_WORDS: Record<Condition['op'], string> = {
  is: 'is',
  'is not': 'is not',
  over: 'is over',
  under: 'is under',
  'at least': 'is at least',
  'at most': 'is at most',
  contains: 'contains',
  'is empty': 'is empty',
  'is filled': 'is filled in',
  holds: 'holds',
};

const STEP_WORDS: Record<Step['do'], string> = {
  set: 'Set fields',
  add: 'Add a record',
  remove: 'Remove a record',
  open: 'Open a screen',
  back: 'Go back',
  message: 'Show a message',
  mail: 'Send mail',
  if: 'If',
};
