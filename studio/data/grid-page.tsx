import type { Table } from '../../core/tables/schema.ts';
import type { GridPage, GridRow } from '../engine/looking.ts';

/** The page with rows that say the same as before kept as they were, so that only new ones are drawn. */
export function steadied(page: GridPage, before: ReadonlyMap<string, GridRow>): GridPage {
  const rows = page.rows.map((row) => {
    const known = row.group ? undefined : before.get(row.id);
    return known && sameCells(known, row) ? known : row;
  });
  return { ...page, rows };
}

const sameCells = (a: GridRow, b: GridRow): boolean =>
  a.cells.length === b.cells.length &&
  a.cells.every((c, i) => {
    const d = b.cells[i]!;
    return (
      c.shown === d.shown &&
      c.raw === d.raw &&
      (c.links?.length ?? -1) === (d.links?.length ?? -1) &&
      (c.links ?? []).every((l, k) => l.id === d.links![k]!.id && l.title === d.links![k]!.title)
    );
  });

export function countWords(page: GridPage | undefined): string {
  if (!page) return 'Reading';
  const all = page.all.toLocaleString('en-GB');
  return page.shown === page.all
    ? `${all} ${page.all === 1 ? 'record' : 'records'}`
    : `${page.shown.toLocaleString('en-GB')} of ${all} records`;
}

export function EmptyWords({ table, search, filtered }: { table: Table; search: string; filtered: boolean }) {
  return (
    <p className="px-4 py-6 text-ink-soft">
      {search
        ? `Nothing in ${table.name} holds “${search}”.`
        : filtered
          ? `No ${table.one} fits the conditions above. Take one off to see more.`
          : `No records yet. Press Record to write down the first ${table.one}.`}
    </p>
  );
}
