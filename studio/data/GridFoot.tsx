import { clsx } from 'clsx';
import type { Figure, Table, View } from '../../core/tables/schema.ts';
import { Menu } from '../ui/popover.tsx';
import { isFigures, type Column } from './fields.ts';

export const FIGURE_WORDS: Record<Figure, string> = {
  count: 'count',
  filled: 'filled',
  sum: 'sum',
  average: 'average',
  lowest: 'lowest',
  highest: 'highest',
};

/** The figures that make sense below a column: only numbers, durations and what is worked out have a sum. */
const figuresFor = (c: Column): Figure[] =>
  isFigures(c.field.type) || c.field.type === 'formula'
    ? ['sum', 'average', 'lowest', 'highest', 'filled', 'count']
    : ['date', 'datetime', 'time', 'created', 'changed'].includes(c.field.type)
      ? ['lowest', 'highest', 'filled', 'count']
      : ['filled', 'count'];

/** The line below the records: a figure for every column that the maker asks one of. */
export function GridFoot({
  columns,
  visible,
  gap,
  view,
  figures,
  table,
  onChoose,
}: {
  columns: readonly Column[];
  visible: readonly number[];
  gap: number;
  view: View;
  figures: Record<string, string>;
  table: Table;
  onChoose(field: string, figure: Figure | null): void;
}) {
  return (
    <div
      role="row"
      aria-label={`Figures of ${table.name}`}
      className="sticky bottom-0 z-20 flex border-t border-line bg-paper"
    >
      {visible.map((at, i) => {
        const c = columns[at]!;
        const figure = view.figures[c.field.id];
        const first = visible[i - 1] === undefined || columns[visible[i - 1]!]!.frozen;
        return (
          <div
            key={c.field.id}
            role="gridcell"
            className={clsx('shrink-0 border-r border-line/70 bg-paper', c.frozen && 'sticky z-10')}
            style={{ width: c.width, ...(c.frozen ? { left: c.left } : first ? { marginLeft: gap } : {}) }}
          >
            <Menu
              trigger={
                <button
                  type="button"
                  title={figure && `${FIGURE_WORDS[figure]} of ${c.field.name}`}
                  aria-label={`Figure below ${c.field.name}: ${figure ? `${FIGURE_WORDS[figure]} ${figures[c.field.id] ?? ''}` : 'none'}`}
                  className={clsx(
                    'flex h-[29px] w-full items-center gap-1.5 px-2.5 text-sm hover:bg-sunk',
                    isFigures(c.field.type) && 'justify-end',
                  )}
                >
                  {figure ? (
                    <>
                      <span className="shrink-0 font-semibold tabular-nums">{figures[c.field.id] ?? '…'}</span>
                      <span className="truncate text-xs text-ink-faint">{FIGURE_WORDS[figure]}</span>
                    </>
                  ) : (
                    <span className="text-ink-faint opacity-0 group-hover/grid:opacity-100">figure</span>
                  )}
                </button>
              }
              items={[
                ...figuresFor(c).map((f) => ({ label: FIGURE_WORDS[f], run: () => onChoose(c.field.id, f) })),
                ...(figure ? [null, { label: 'No figure', run: () => onChoose(c.field.id, null) }] : []),
              ]}
            />
          </div>
        );
      })}
    </div>
  );
}
