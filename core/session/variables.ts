import '../fields/typed-texts.ts';
import { VARIABLES, VARIABLES_RECORD } from '../document/ids.ts';
import { aOrAn } from '../document/names.ts';
import type { Cell } from '../fields/lists.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import { keptCell, typedCell } from '../records/cells.ts';
import { checkCell, spokenType } from '../records/check-cell.ts';
import { formCell } from '../records/form-values.ts';
import type { Cells, Records } from '../records/store.ts';
import type { Tables } from '../tables/names.ts';
import type { Variable } from '../tables/schema.ts';
import { NO_VARIABLE } from './effects.ts';

/** What came of what was typed: the cell as an input shows it, or what is wrong with it. */
export type TypedAnswer = { cell: Cell } | { problem: string };

/** One opening of a screen, and all that are open: the screens in the stack of a person. */
export interface Opening {
  key: string;
  open: readonly string[];
  /** What it was opened with, by variable. */
  values?: Cells | undefined;
}

/**
 * The values of an app's variables in one use of it. They stand in one record of a table of their own, so that
 * formulas, queries and screens follow them as they follow records; that record is sent nowhere.
 */
export class Variables {
  private app: Tables;
  /** What screens that are open, but not seen, had in their variables. */
  private readonly openings = new Map<string, Cells>();
  /** The opening whose values are in place, by screen. */
  private readonly current = new Map<string, string>();

  /** `kept` is what this device kept of an earlier use, `keep` keeps it for the next. */
  constructor(
    app: Tables,
    private readonly records: Records,
    kept: Cells = {},
    private readonly keep: (cells: Cells) => Promise<void> | void = () => {},
  ) {
    this.app = app;
    const cells: Cells = {};
    for (const v of this.all) {
      const before = v.lasts === 'device' ? kept[v.id] : undefined;
      cells[v.id] = before !== undefined && checkCell(v, before) === null ? before : this.firstOf(v);
    }
    this.write(cells);
  }

  private get all(): readonly Variable[] {
    return this.app.variables ?? [];
  }

  /** Takes a changed document. A value that is still the first one follows that; one that no longer fits goes. */
  adopt(app: Tables): void {
    const before = new Map(this.all.map((v) => [v.id, v]));
    if (app.variables === this.app.variables) {
      this.app = app;
      return;
    }
    const was = this.cells();
    const firsts = new Map([...before].map(([id, v]) => [id, this.firstOf(v)]));
    this.app = app;
    const cells: Cells = {};
    for (const v of this.all) {
      const cell = was[v.id] ?? null;
      const untouched = !before.has(v.id) || cell === firsts.get(v.id);
      cells[v.id] = untouched || checkCell(v, cell) !== null ? this.firstOf(v) : cell;
    }
    this.write(cells);
  }

  /** The values now, by variable. */
  cells(): Cells {
    return this.records.row(VARIABLES, VARIABLES_RECORD)?.cells ?? {};
  }

  /** What a variable begins with. */
  firstOf(v: Variable): Cell {
    if (!v.first) return null;
    const { runtime, model } = this.records;
    try {
      return keptCell(v, compile(v.first, model.optionsFor(null)).run([runtime as unknown as Value, null]));
    } catch {
      return null; // a formula that runs away gives nothing
    }
  }

  /** A screen is seen: its variables have the values of this opening, the first ones when it is new. */
  opened(screen: string, { key, open, values = {} }: Opening): void {
    const own = this.all.filter((v) => v.lasts === 'screen' && v.screen === screen);
    for (const known of this.openings.keys()) if (!open.includes(known)) this.openings.delete(known);
    const before = this.current.get(screen);
    if (before === key || own.length === 0) return;
    const cells = this.cells();
    if (before !== undefined && open.includes(before))
      this.openings.set(before, Object.fromEntries(own.map((v) => [v.id, cells[v.id] ?? null])));
    const kept = this.openings.get(key);
    const given = (v: Variable): Cell =>
      v.id in values && checkCell(v, values[v.id]) === null ? values[v.id]! : this.firstOf(v);
    this.write(Object.fromEntries(own.map((v) => [v.id, kept && v.id in kept ? kept[v.id]! : given(v)])));
    this.current.set(screen, key);
  }

  /**
   * Sets a variable to a cell, or to a text as a person typed it. Gives what an input shows for it then; or what is
   * wrong in words, and leaves the variable as it is.
   */
  type(id: string, given: Cell): TypedAnswer {
    const v = this.all.find((x) => x.id === id);
    if (!v) return { problem: NO_VARIABLE };
    const cell =
      typeof given === 'string' && !v.link ? (typedCell(v, given) ?? typedCell(v, given, 'day first', ',')) : given;
    if (cell === undefined) return { problem: `“${String(given).slice(0, 40)}” is not ${aOrAn(spokenType(v))}.` };
    const problem = this.set(id, cell);
    return problem ? { problem } : { cell: formCell(this.records.row(VARIABLES, VARIABLES_RECORD)!, v) };
  }

  /** Sets a variable to a cell. Gives what is wrong in words, or null. */
  set(id: string, given: Cell): string | null {
    const v = this.all.find((x) => x.id === id);
    if (!v) return NO_VARIABLE;
    const cell = given === '' ? null : given;
    const wrong = checkCell(v, cell);
    if (wrong) return wrong;
    this.write({ [id]: cell });
    if (v.lasts === 'device') {
      const cells = this.cells();
      void this.keep(
        Object.fromEntries(this.all.filter((x) => x.lasts === 'device').map((x) => [x.id, cells[x.id] ?? null])),
      );
    }
    return null;
  }

  private write(cells: Cells): void {
    // Nothing to write, and for the first variable ever, no table yet to write it in.
    if (Object.keys(cells).length) this.records.set(VARIABLES, VARIABLES_RECORD, cells);
  }
}
