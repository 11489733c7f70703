import { thisId } from '../app/ids.ts';
import type { App, Element, FormElement, InputElement, ListElement, Screen } from '../app/schema.ts';
import { compile, type Run } from '../formula/compile.ts';
import { DaysDuration, type Value } from '../formula/values.ts';
import type { Problem } from '../formula/ast.ts';
import { beginning } from '../records/begin.ts';
import { isWritable, type Cell } from '../records/cells.ts';
import { trialRow } from '../records/checks.ts';
import { display, exactDuration } from '../records/format.ts';
import { isSeveral, type Thing } from '../records/model.ts';
import { compileQuery } from '../records/query.ts';
import { Row } from '../records/row.ts';
import { compileTemplate, fieldOfPath } from '../records/template.ts';
import type { Records } from '../records/store.ts';
import type { Drawn, DrawnBox, DrawnScreen, ScopeRef } from './drawn.ts';

/** What a person has done to a list: the part that is in view and what they look for. */
export interface ListView {
  from?: number;
  count?: number;
  search?: string;
}

export interface DrawOptions {
  /** Id of the record the screen was given. */
  record?: string | null;
  lists?: Record<string, ListView>;
}

/** The values at hand at one place of a screen. */
interface Place {
  things: Thing[];
  refs: ScopeRef[];
  frame: Value[];
}

type Draw = (place: Place) => Drawn | null;
const FIRST_ROWS = 40;

/**
 * Draws the screens of one app: compiles each once and gives what it shows for today's records.
 * Make a new one when the app document changes.
 */
export class Drawer {
  private readonly screens = new Map<string, { draw: Draw; problems: Problem[]; screen: Screen }>();
  private lists: Record<string, ListView> = {};

  constructor(
    private readonly app: App,
    private readonly records: Records,
  ) {}

  draw(screenId: string, options: DrawOptions = {}): DrawnScreen | null {
    const compiled = this.screen(screenId);
    if (!compiled) return null;
    const { screen } = compiled;
    this.lists = options.lists ?? {};
    const row = screen.given && options.record ? this.records.row(screen.given, options.record) : undefined;
    const place: Place = {
      things: thingsGiven(this.records, screen.given),
      refs: row ? [{ thing: thisId(screen.given!), table: screen.given!, record: row.id }] : [],
      frame: [this.records.runtime as unknown as Value, null, ...(screen.given ? [row ?? null] : [])],
    };
    const one = screen.given && this.records.model.tables.get(screen.given)?.table.one;
    return {
      screen: screenId,
      title: screen.name,
      missing:
        screen.given && !row && !(screen.optional && !options.record)
          ? options.record
            ? `This ${one} is not here any more.`
            : `This screen opens with a ${one}.`
          : null,
      root: (compiled.draw(place) as DrawnBox | null) ?? emptyBox(screen.root.id),
      problems: compiled.problems.map((p) => p.message),
    };
  }

  private screen(id: string) {
    let done = this.screens.get(id);
    const screen = this.app.screens.find((s) => s.id === id);
    if (!done && screen) {
      const problems: Problem[] = [];
      done = { draw: this.compile(screen.root, thingsGiven(this.records, screen.given), problems), problems, screen };
      this.screens.set(id, done);
    }
    return done;
  }

  private formula(
    text: string,
    things: Thing[],
    problems: Problem[],
  ): { run: Run; field: ReturnType<typeof fieldOfPath> } {
    if (!text) return { run: () => null, field: undefined };
    const c = compile(text, this.records.model.optionsFor(null, things));
    problems.push(...c.problems);
    return { run: c.run, field: fieldOfPath(this.records.model, c.references, text) };
  }

  private words(text: string, things: Thing[], problems: Problem[]): (f: Value[]) => string {
    const t = compileTemplate(this.records.model, text, this.records.model.optionsFor(null, things));
    problems.push(...t.problems);
    return t.run;
  }

  private compile(e: Element, things: Thing[], problems: Problem[]): Draw {
    const draw = this.compileKind(e, things, problems);
    if (!e.seenWhen) return draw;
    const seen = this.formula(e.seenWhen, things, problems).run;
    return (place) => (seen(place.frame) === true ? draw(place) : null);
  }

  private compileKind(e: Element, things: Thing[], problems: Problem[]): Draw {
    const common = { id: e.id, width: e.width, height: e.height };
    switch (e.kind) {
      case 'text': {
        const words = this.words(e.words, things, problems);
        return (p) => ({
          ...common,
          kind: 'text',
          scope: p.refs,
          words: words(p.frame),
          style: e.style,
          colour: e.colour,
          align: e.align,
        });
      }
      case 'picture': {
        const source = this.formula(e.source, things, problems).run;
        return (p) => ({
          ...common,
          kind: 'picture',
          scope: p.refs,
          address: this.address(display(source(p.frame))),
          shape: e.shape,
          alt: e.name ?? '',
        });
      }
      case 'button': {
        const words = this.words(e.words, things, problems);
        return (p) => ({
          ...common,
          kind: 'button',
          scope: p.refs,
          words: words(p.frame),
          look: e.look,
          icon: e.icon,
          tap: e.tap,
        });
      }
      case 'reading': {
        const label = this.words(e.label, things, problems);
        const value = this.formula(e.value, things, problems);
        return (p) => {
          const v = value.run(p.frame);
          return {
            ...common,
            kind: 'reading',
            scope: p.refs,
            label: label(p.frame),
            value: display(v, value.field),
            format: value.field?.type ?? null,
            file: typeof v === 'string' && v.startsWith('data:') ? v : null,
          };
        };
      }
      case 'box': {
        const children = e.children.map((c) => this.compile(c, things, problems));
        return (p) => ({
          ...common,
          kind: 'box',
          scope: p.refs,
          runs: e.runs,
          gap: e.gap,
          inside: e.inside,
          surface: e.surface,
          across: e.across,
          tap: e.tap,
          children: children.flatMap((c) => c(p) ?? []),
        });
      }
      case 'list':
        return this.list(e, things, problems);
      case 'form':
        return this.form(e, things, problems);
      case 'input':
        return this.input(e);
    }
  }

  private list(e: ListElement, things: Thing[], problems: Problem[]): Draw {
    const query = compileQuery(this.records, e.query, things);
    problems.push(...query.problems);
    const { table } = e.query;
    const row = rowThing(this.records, table);
    // The row of a list stands before a screen's record of the same table.
    const inner = [...things.filter((t) => t.id !== row?.id), ...(row ? [row] : [])];
    const keep = things.map((t, i) => (t.id === row?.id ? -1 : i)).filter((i) => i >= 0);
    const children = e.children.map((c) => this.compile(c, inner, problems));
    const empty = this.words(e.empty, things, problems);
    return (p) => {
      const view = this.lists[e.id] ?? {};
      const values = p.frame.slice(2);
      const limit = e.query.limit ?? Infinity;
      const from = Math.max(0, Math.min(view.from ?? 0, limit - 1));
      const part = query.part(values, from, Math.min(view.count ?? FIRST_ROWS, limit - from), view.search);
      const total = Math.min(part.total, limit);
      const head = [p.frame[0]!, null, ...keep.map((i) => values[i]!)];
      const rows = part.rows.map((r) => {
        const place: Place = {
          things: inner,
          refs: [...p.refs.filter((x) => x.thing !== row?.id), { thing: thisId(table), table, record: r.id }],
          frame: [...head, r],
        };
        return { record: r.id, table, children: children.flatMap((c) => c(place) ?? []) };
      });
      return {
        id: e.id,
        width: e.width,
        height: e.height,
        kind: 'list',
        scope: p.refs,
        runs: e.runs,
        gap: e.gap,
        surface: e.surface,
        search: e.search,
        empty: empty(p.frame),
        tap: e.tap,
        total,
        from: Math.min(from, Math.max(0, total - 1)),
        rows,
      };
    };
  }

  private form(e: FormElement, things: Thing[], problems: Problem[]): Draw {
    const record = this.formula(e.record, things, problems).run;
    const children = e.children.map((c) => this.compile(c, things, problems));
    return (p) => {
      const r = record(p.frame);
      const row = r instanceof Row ? r : null;
      return {
        id: e.id,
        width: e.width,
        height: e.height,
        kind: 'form',
        scope: p.refs,
        table: e.table,
        record: row?.id ?? null,
        values: row ? formValues(row) : this.begun(e.table),
        children: children.flatMap((c) => c(p) ?? []),
      };
    };
  }

  /** What a form for a new record begins with. */
  private begun(table: string): Record<string, Cell> {
    const store = this.records.stores.get(table);
    if (!store) return {};
    const id = 'new';
    const cells = beginning(store, id, {});
    return Object.keys(cells).length ? formValues(trialRow(store, id, cells)) : {};
  }

  private input(e: InputElement): Draw {
    for (const t of this.records.model.tables.values()) {
      const field = t.fields.get(e.field);
      if (!field) continue;
      return (p) => ({
        id: e.id,
        width: e.width,
        height: e.height,
        kind: 'input',
        scope: p.refs,
        field: field.id,
        type: field.type,
        label: e.label ?? field.name,
        required: field.required ?? false,
        unit: field.unit,
        several: field.several ?? false,
        plan: field.plan ? this.address(field.plan) : null,
        writable: isWritable(field) || field.link?.kind === 'matched',
        choices: field.choices?.map((c) => c.name) ?? [],
        link: field.link ? { table: field.link.table, total: this.records.rows(field.link.table).length } : null,
      });
    }
    return () => null;
  }

  /** Addresses of the app's own files are turned into their content. */
  private address(source: string): string {
    if (!source.startsWith('file:')) return source;
    const file = this.app.files.find((f) => f.id === source.slice(5));
    return file ? `data:${file.type};base64,${file.data}` : '';
  }
}

function formValues(row: Row): Record<string, Cell> {
  const values: Record<string, Cell> = { ...row.cells };
  // People read and write durations in words.
  for (const f of row.store.model.table.fields)
    if (f.type === 'duration') {
      const d = row.get(f.id);
      values[f.id] = d instanceof DaysDuration ? exactDuration(d) : null;
    }
  for (const end of row.store.model.links) {
    if (end.back) continue;
    if (isSeveral(end.field)) continue; // its cell is the list of ids already
    const there = row.follow(end);
    values[end.id] = there instanceof Row ? there.id : null;
  }
  return values;
}

const rowThing = (records: Records, table: string): Thing | null => {
  const model = records.model.tables.get(table);
  return model ? { id: thisId(table), name: `this ${model.table.one}`, type: { k: 'record', table } } : null;
};

/** The things at hand on a screen or in a routine that is given a record of a table. */
export function thingsGiven(records: Pick<Records, 'model'>, given: string | null): Thing[] {
  const model = given ? records.model.tables.get(given) : undefined;
  return model ? [{ id: thisId(given!), name: `this ${model.table.one}`, type: { k: 'record', table: given! } }] : [];
}

const emptyBox = (id: string): DrawnBox => ({
  id,
  kind: 'box',
  scope: [],
  runs: 'down',
  gap: 0,
  inside: 0,
  surface: 'none',
  across: undefined,
  tap: undefined,
  children: [],
});
