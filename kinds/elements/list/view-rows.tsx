import { createContext, memo, useContext, type ComponentType, type ReactNode } from 'react';
import type { Drawn, DrawnRow } from '../../../core/screens/element.ts';
import type { Room } from '../../../core/phone/walk.ts';
import { columnsIn, usePlayer } from '../../../player/context.ts';
import { Inside, tappable } from '../../../player/ElementView.tsx';
import type { list } from './definition.ts';

export type DrawnList = Drawn<typeof list>;

/** So many records of a list are drawn without asking which of them are in view. */
export const CHUNK = 40;

/** What a record is taken to be high, in pixels, until it is drawn. */
export const ROW_HEIGHT = 66;

/** How many records stand beside one another: tiles as the maker says, or by the room there is; rows alone. */
export const perLineOf = (e: DrawnList, room: Room): number =>
  e.runs === 'grid' ? (columnsIn(e, room) ?? TILES[room]) : 1;
const TILES = { narrow: 2, wide: 3, widest: 4 } as const;

/** What a row of some list gets around it: a swipe, a mark, a handle. */
export interface AroundRow {
  row: DrawnRow;
  /** What the row itself does when it is tapped. */
  press: (() => void) | undefined;
  children(press: (() => void) | undefined): ReactNode;
}
export const RowAround = createContext<ComponentType<AroundRow> | null>(null);

/** The lines of a list that are here, a head or a record each. */
export type Line = { head: DrawnList['heads'][number] } | { row: DrawnRow };

/** What is drawn of a list, by line: heads stand where they say, records fill the lines between. */
export function linesOf(e: DrawnList): Line[] {
  const lines: Line[] = [];
  let head = 0;
  let row = 0;
  while (head < e.heads.length || row < e.rows.length) {
    const next = e.heads[head];
    if (next && (next.at === e.from + lines.length || row >= e.rows.length)) {
      lines.push({ head: next });
      head++;
    } else lines.push({ row: e.rows[row++]! });
  }
  return lines;
}

/** One line of a list, or a gap while it is fetched. */
export function lineAt(e: DrawnList, lines: readonly Line[], i: number): ReactNode {
  const line = lines[i - e.from];
  if (!line) return <div className="k-row k-row-waiting" data-surface={e.surface} key={`waiting-${i}`} />;
  if ('head' in line) {
    const { key, label, count, sum } = line.head;
    return (
      <h3 className="k-head" key={`head-${key}`}>
        <span>{label}</span>
        <span>{sum ? `${count} · ${sum}` : count}</span>
      </h3>
    );
  }
  const { row } = line;
  return <RowView key={row.record} row={row} surface={e.surface} acts={e.tap === 'act'} list={e.id} />;
}

/** One record of a list. It renders when it is another record, not when something in it changes. */
const RowView = memo(function RowView({
  row,
  surface,
  acts,
  list,
}: {
  row: DrawnRow;
  surface: string;
  acts: boolean;
  list: string;
}) {
  const { tap } = usePlayer();
  const Around = useContext(RowAround);
  const draw = (press: (() => void) | undefined): ReactNode => (
    <div className="k-row" data-surface={surface} data-record={row.record} {...tappable(press)}>
      {row.children.length ? (
        <Inside of={row.children} />
      ) : (
        <p className="k-text k-none">Nothing is shown of this record yet</p>
      )}
    </div>
  );
  const press = acts ? () => tap(row.key, list) : undefined;
  return Around ? (
    <Around row={row} press={press}>
      {draw}
    </Around>
  ) : (
    draw(press)
  );
});
