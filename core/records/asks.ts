import { ANSWERS, ANSWERS_CAME } from '../document/ids.ts';
import type { Query } from '../document/pieces.ts';
import type { Cell } from '../fields/lists.ts';
import type { Problem } from '../formula/ast.ts';
import { compile, type Compiled } from '../formula/compile.ts';
import type { Dependency } from '../formula/scope.ts';
import type { Value } from '../formula/values.ts';
import { toCell } from './cells.ts';
import { asking, type Asks, type AskingPlace, type Fetcher, type FetchedRows, type FetchState } from './fetching.ts';
import { SELF_SLOT, type Model, type Thing } from './model.ts';
import type { Row } from './row.ts';

// Taken into use by being loaded, before a screen is drawn that needs it.
asking.compile = (model, query, things) => new AskedInputs(model, query, things);

/** What is read by everything that shows what a service answered. */
const CAME: Dependency = { table: ANSWERS, field: ANSWERS_CAME, origin: { from: 'table', table: ANSWERS } };

class AskedInputs implements Asks {
  readonly problems: readonly Problem[];
  readonly reads: readonly Dependency[];
  readonly table: string;
  readonly search: string | null;
  private readonly values: readonly { input: string; compiled: Compiled }[];

  constructor(model: Model, { table, asks }: Pick<Query, 'table' | 'asks'>, things: readonly Thing[]) {
    const options = model.optionsFor(null, things);
    this.table = table;
    this.search = asks?.search ?? null;
    this.values = (asks?.values ?? []).flatMap((v) =>
      v.value ? [{ input: v.field, compiled: compile(v.value, options) }] : [],
    );
    this.problems = this.values.flatMap((v) => v.compiled.problems);
    this.reads = [CAME, ...this.values.flatMap((v) => v.compiled.dependencies)];
  }

  at(frame: Value[], search: string): Record<string, Cell> {
    const given = new Map<string, Cell>();
    frame[SELF_SLOT] = null;
    for (const { input, compiled } of this.values) {
      const cell = toCell(compiled.run(frame));
      if (cell !== null && cell !== '') given.set(input, cell);
    }
    if (this.search && search) given.set(this.search, search);
    return Object.fromEntries([...given].sort(([a], [b]) => (a < b ? -1 : 1)));
  }

  place(frame: Value[], fetcher: () => Fetcher | null): AskingPlace {
    return new Place(this, frame, fetcher);
  }
}

class Place implements AskingPlace {
  /** What was fetched last: it stays until there is something newer. */
  private earlier: readonly Row[] = [];
  private askedFor = '';

  constructor(
    private readonly asks: AskedInputs,
    private readonly frame: Value[],
    private readonly fetcher: () => Fetcher | null,
  ) {}

  /** Of what is looked for, what the service is asked: all, or nothing. */
  private words(wanted: string): string {
    return this.asks.search ? wanted : '';
  }
  private answer(wanted: string): FetchedRows | null {
    const inputs = this.asks.at(this.frame, this.words(wanted));
    return this.fetcher()?.rows(this.asks.table, inputs, this) ?? null;
  }

  state(wanted: string): FetchState | null {
    const state = this.answer(wanted);
    if (!state) return null;
    const { rows: _rows, ...rest } = state;
    return rest;
  }

  rows(wanted: string): readonly Row[] | null {
    const state = this.answer(wanted);
    if (!state) return null;
    this.askedFor = this.words(wanted);
    return (this.earlier = state.rows ?? this.earlier);
  }

  wantsMore(wanted: string): void {
    if (this.answer(wanted)?.more) this.fetcher()?.more(this.asks.table, this.asks.at(this.frame, this.words(wanted)));
  }

  differs(wanted: string): boolean {
    return this.words(wanted) !== this.askedFor;
  }
}
