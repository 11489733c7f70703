import type { Figure, View } from '../tables/schema.ts';
import type { Query } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import type { Value } from '../formula/values.ts';
import { display } from './format.ts';
import { figureOf } from './figures.ts';
import type { Member } from '../formula/scope.ts';
import { compileQuery, type CompiledQuery } from './query.ts';
import type { Row } from './row.ts';
import type { Records } from './store.ts';

/** How a table is looked at: which records, in what order, put together by what. */
export type GridAsk = Pick<View, 'where' | 'order' | 'group' | 'figures'> & {
  search: string;
  /** Keys of the groups whose records are folded away. */
  closed: readonly string[];
};

/** The line that stands over the records of a group, with its figures by field. */
export interface GroupLine {
  key: string;
  value: Value;
  count: number;
  closed: boolean;
  figures: Record<string, Value>;
}
export type GridLine = { row: Row; group?: undefined } | { group: GroupLine; row?: undefined };

export interface GridPart {
  /** Lines in all, those of groups included. */
  lines: number;
  /** Records that fit. */
  shown: number;
  part: GridLine[];
}

interface Group {
  line: GroupLine;
  /** Its first record among the ordered ones, and its line in the grid. */
  first: number;
  at: number;
}

/** A table as the grid shows it. Groups and order are worked out once for each state of the records. */
export class GridView {
  private readonly query: CompiledQuery;
  private readonly groupBy: Member | undefined;
  private readonly members: readonly (readonly [string, Figure, Member])[];
  private grouped: { rows: readonly Row[]; groups: Group[]; lines: number } | null = null;

  constructor(
    records: Records,
    table: string,
    private readonly ask: GridAsk,
  ) {
    const members = records.model.members(table);
    this.groupBy = ask.group ? members.find((m) => m.id === ask.group) : undefined;
    const query: Query = {
      table,
      where: ask.where,
      order: [...(this.groupBy ? [{ by: this.groupBy.id, descending: false }] : []), ...ask.order].slice(0, 6),
      limit: null,
    };
    this.query = compileQuery(records, query, []);
    this.members = Object.entries(ask.figures).flatMap(([id, figure]) => {
      const member = members.find((m) => m.id === id);
      return member ? [[id, figure, member] as const] : [];
    });
  }

  get problems(): readonly Problem[] {
    return this.query.problems;
  }

  part(from: number, count: number): GridPart {
    if (!this.groupBy) {
      const { total, rows } = this.query.part([], from, count, this.ask.search);
      return { lines: total, shown: total, part: rows.map((row) => ({ row })) };
    }
    const { rows, groups, lines } = this.groups(this.groupBy);
    const part: GridLine[] = [];
    // The group that holds the first line asked for.
    let g = groups.findLastIndex((x) => x.at <= from);
    for (let at = from; at < Math.min(lines, from + count); at++) {
      while (groups[g + 1] && groups[g + 1]!.at <= at) g++;
      const group = groups[g]!;
      part.push(at === group.at ? { group: group.line } : { row: rows[group.first + at - group.at - 1]! });
    }
    return { lines, shown: rows.length, part };
  }

  private groups(by: Member): { rows: readonly Row[]; groups: Group[]; lines: number } {
    const rows = this.query.run([], this.ask.search);
    if (this.grouped?.rows === rows) return this.grouped;
    const closed = new Set(this.ask.closed);
    const groups: Group[] = [];
    let key: string | null = null;
    for (let i = 0; i < rows.length; i++) {
      const value = by.get(rows[i]!);
      const here = display(value).toLowerCase();
      if (here !== key || groups.length === 0) {
        key = here;
        const line = { key: here, value, count: 0, closed: closed.has(here), figures: {} };
        groups.push({ line, first: i, at: 0 });
      }
      groups.at(-1)!.line.count++;
    }
    let at = 0;
    for (const g of groups) {
      g.at = at;
      at += 1 + (g.line.closed ? 0 : g.line.count);
      g.line.figures = this.figuresOf(rows.slice(g.first, g.first + g.line.count));
    }
    this.grouped = { rows, groups, lines: at };
    return this.grouped;
  }

  /** The figures below the columns, over all records that fit. */
  figures(): Record<string, Value> {
    return this.members.length ? this.figuresOf(this.query.every([], this.ask.search)) : {};
  }

  private figuresOf(rows: readonly Row[]): Record<string, Value> {
    return Object.fromEntries(
      this.members.map(([id, figure, member]) => [
        id,
        figureOf(
          figure,
          rows.map((r) => member.get(r)),
        ),
      ]),
    );
  }

  /** Where a record stands among the lines; -1 when it is not shown. */
  lineOf(id: string): number {
    if (!this.groupBy) return this.query.run([], this.ask.search).findIndex((r) => r.id === id);
    const { rows, groups } = this.groups(this.groupBy);
    const i = rows.findIndex((r) => r.id === id);
    const group = groups.findLast((g) => g.first <= i);
    return i < 0 || !group || group.line.closed ? -1 : group.at + 1 + i - group.first;
  }
}
