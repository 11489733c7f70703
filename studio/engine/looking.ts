import { noConditions } from '../../core/document/queries.ts';
import type { App } from '../../core/app/schema.ts';
import type { Value } from '../../core/formula/values.ts';
import { cellsBefore, isRemoved, type Replica } from '../../core/host/replica.ts';
import { readStamp } from '../../core/host/clock.ts';
import type { Cell } from '../../core/fields/lists.ts';
import { trialRow } from '../../core/records/checks.ts';
import { display } from '../../core/records/format.ts';
import { GridView, type GridAsk } from '../../core/records/grid.ts';
import { moveInOrder } from '../../core/records/own-order.ts';
import { Row } from '../../core/records/row.ts';
import { type Records } from '../../core/records/store.ts';
import { linkKey } from '../../core/records/table-rows.ts';
import { stoppedWords } from '../../core/formula/guarded.ts';
import { fieldOfPath } from '../../core/records/template.ts';

/** A cell as the grid shows it. */
export interface GridCell {
  shown: string;
  raw: Cell;
  /** Records the cell links to. */
  links?: { id: string; title: string }[];
  /** What is shown is why its formula was stopped. */
  stopped?: true;
}
export interface GridRow {
  id: string;
  cells: GridCell[];
  /** The line over a group; it has no cells of its own. */
  group?: { key: string; shown: string; count: number; closed: boolean; figures: Record<string, string> };
}
export interface GridPage {
  /** Lines, those of groups included. */
  total: number;
  /** Records that fit, and records there are. */
  shown: number;
  all: number;
  from: number;
  rows: GridRow[];
  problems: string[];
}
export interface RemovedRecord {
  id: string;
  title: string;
  /** ISO 8601. */
  at: string;
}

/** Two decimals are enough for an average at a glance; small numbers keep their first digits. */
const shortened = (n: number): number => (Math.abs(n) >= 1 ? Math.round(n * 100) / 100 : Number(n.toPrecision(3)));

/** What the Data workspace looks at: tables as a grid, records as pages, links and what was removed. */
export class Looking {
  private asked: { key: string; app: App; view: GridView } | null = null;

  constructor(
    private readonly records: Records,
    private readonly replica: Replica,
    private readonly app: () => App,
  ) {}

  /** How many records each table has. */
  counts(): Record<string, number> {
    return Object.fromEntries(this.app().tables.map((t) => [t.id, this.records.rows(t.id).length]));
  }

  /** Ids of the records of a table, in the order they came. */
  recordIds(table: string, count = Infinity): string[] {
    return this.records
      .rows(table)
      .slice(0, count)
      .map((r) => r.id);
  }

  /** Scrolling asks the same question again and again; the view remembers its answer. */
  private view(table: string, ask: GridAsk): GridView {
    const key = JSON.stringify([table, ask]);
    if (this.asked?.key !== key || this.asked.app !== this.app())
      this.asked = { key, app: this.app(), view: new GridView(this.records, table, ask) };
    return this.asked.view;
  }

  page(table: string, ask: GridAsk, from: number, count: number): GridPage {
    const view = this.view(table, ask);
    const { lines, shown, part } = view.part(from, count);
    return {
      total: lines,
      shown,
      all: this.records.rows(table).length,
      from,
      problems: view.problems.map((p) => p.message),
      rows: part.map((line) =>
        line.row
          ? this.gridRow(line.row)
          : {
              id: '',
              cells: [],
              group: {
                key: line.group.key,
                count: line.group.count,
                closed: line.group.closed,
                shown: this.shown(table, ask.group!, line.group.value),
                figures: this.figuresShown(table, ask, line.group.figures),
              },
            },
      ),
    };
  }

  figures(table: string, ask: GridAsk): Record<string, string> {
    return this.figuresShown(table, ask, this.view(table, ask).figures());
  }

  lineOf(table: string, ask: GridAsk, record: string): number {
    return this.view(table, ask).lineOf(record);
  }

  private figuresShown(table: string, ask: GridAsk, figures: Record<string, Value>): Record<string, string> {
    return Object.fromEntries(
      Object.entries(figures).map(([id, v]) => {
        const counted = ask.figures[id] === 'count' || ask.figures[id] === 'filled';
        return [id, counted ? display(v) : this.shown(table, id, typeof v === 'number' ? shortened(v) : v)];
      }),
    );
  }

  private shown(table: string, field: string, value: Value): string {
    const def = this.records.model.tables.get(table)?.fields.get(field);
    return def ? display(value, def.type === 'formula' ? this.formatOf(table, field) : def) : display(value);
  }

  gridRow(row: Row): GridRow {
    const { model } = this.records;
    const { table, members } = row.store.model;
    return {
      id: row.id,
      cells: table.fields.map((f, i) => {
        const value = members[i]!.get(row);
        const links = f.link
          ? [value].flat().flatMap((v) => (v instanceof Row ? [{ id: v.id, title: v.title() }] : []))
          : undefined;
        const shown =
          f.type === 'picture' && typeof value === 'string' && value.startsWith('file:')
            ? (this.app().files.find((x) => x.id === value.slice(5))?.name ?? value)
            : this.shown(row.tableId, f.id, value);
        const stopped = value === null && f.type === 'formula' && stoppedWords(model.formula(row.tableId, f));
        return {
          shown: stopped || shown,
          raw: row.cells[f.id] ?? null,
          ...(links && { links }),
          ...(stopped && { stopped: true as const }),
        };
      }),
    };
  }

  /** A formula that only brings a field over shows it in that field's format. */
  private formatOf(table: string, id: string) {
    const field = this.records.model.tables.get(table)!.fields.get(id)!;
    return field.unit
      ? field
      : fieldOfPath(this.records.model, this.records.model.formula(table, field).references, field.formula ?? '');
  }

  record(table: string, id: string): GridRow | null {
    const row = this.records.row(table, id);
    return row ? this.gridRow(row) : null;
  }

  /** A record as a page: its cells, and what is linked to it from other tables. */
  recordPage(table: string, id: string) {
    const row = this.records.row(table, id);
    if (!row) return null;
    const back = row.store.model.links
      .filter((l) => l.back && !l.unnamed)
      .map((l) => {
        const there = row.followAll(l).filter((r): r is Row => r instanceof Row);
        return {
          id: l.id,
          name: l.name,
          table: l.target,
          total: there.length,
          items: there.slice(0, 12).map((r) => ({ id: r.id, title: r.title() })),
        };
      });
    return { title: row.title(), row: this.gridRow(row), back };
  }

  /** For every link: records with a value to go by, those that lead somewhere, and some values that lead nowhere. */
  linkFigures(): Record<string, { of: number; found: number; lost: string[] }> {
    const out: Record<string, { of: number; found: number; lost: string[] }> = {};
    for (const table of this.app().tables) {
      const model = this.records.model.tables.get(table.id)!;
      for (const end of model.links) {
        if (end.back) continue;
        const source = end.field.link!.kind === 'matched' ? end.field.link!.from! : end.field.id;
        const lost = new Set<string>();
        let of = 0;
        let found = 0;
        for (const row of this.records.rows(model.table.id)) {
          const cell = row.cells[source] ?? null;
          if (cell === null || cell === '') continue;
          of++;
          if (row.follow(end)) found++;
          else if (lost.size < 20) lost.add(String(cell));
        }
        out[end.field.id] = { of, found, lost: [...lost] };
      }
    }
    return out;
  }

  /** All values of a field that are not empty, for judging a change of type. */
  column(table: string, field: string): { id: string; cell: Cell }[] {
    return this.records.rows(table).flatMap((r) => {
      const cell = r.cells[field] ?? null;
      return cell === null ? [] : [{ id: r.id, cell }];
    });
  }

  /** How many records share these fields with another, and what a few of them share. */
  keyClashes(table: string, key: readonly string[]): { records: number; samples: string[] } {
    const groups = new Map<string, Row[]>();
    for (const row of this.records.rows(table)) {
      const parts = key.map((f) => linkKey(row.cells[f]));
      if (parts.includes(null)) continue;
      const name = JSON.stringify(parts);
      const group = groups.get(name);
      if (group) group.push(row);
      else groups.set(name, [row]);
    }
    const clashes = [...groups.values()].filter((g) => g.length > 1);
    return {
      records: clashes.reduce((n, g) => n + g.length, 0),
      samples: clashes.slice(0, 3).map((g) => key.map((f) => this.shown(table, f, g[0]!.get(f))).join(', ')),
    };
  }

  /** Records of a table that were removed and can be brought back, the latest first. */
  removed(table: string, limit = 200): RemovedRecord[] {
    const store = this.records.stores.get(table);
    if (!store) return [];
    return (
      [...this.replica.all()]
        // What was removed before this browser had it is known to nobody any more.
        .filter((s) => s.table === table && isRemoved(s) && s.was)
        .sort((a, b) => (a.removed! < b.removed! ? 1 : -1))
        .slice(0, limit)
        .map((s) => ({
          id: s.id,
          title: trialRow(store, s.id, cellsBefore(s)).title(),
          at: new Date(readStamp(s.removed!).ms).toISOString(),
        }))
    );
  }

  /** The cells to write so that a record stands before another in the table's own order, or last. */
  orderMoves(table: string, record: string, before: string | null): Map<string, number> {
    const own = this.records.model.tables.get(table)?.table.ownOrder;
    if (!own) return new Map();
    const ask: GridAsk = {
      where: noConditions(),
      order: [{ by: own, descending: false }],
      group: null,
      figures: {},
      search: '',
      closed: [],
    };
    const rows = new GridView(this.records, table, ask).part(0, Infinity).part.map((l) => l.row!);
    return moveInOrder(
      rows.map((r) => ({ id: r.id, at: typeof r.cells[own] === 'number' ? r.cells[own] : null })),
      record,
      before,
    );
  }
}
