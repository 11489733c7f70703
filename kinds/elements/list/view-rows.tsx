import { memo, type ReactNode } from 'react';
import type { Drawn, DrawnRow } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside, tappable } from '../../../player/ElementView.tsx';
import type { list } from './definition.ts';

export type DrawnList = Drawn<typeof list>;

/** So many records of a list are fetched and drawn without asking which of them are in view. */
export const CHUNK = 40;

/** What a record is taken to be high, in pixels, until it is drawn. */
export const ROW_HEIGHT = 66;

/** How many records stand beside one another. */
export const perLineOf = (e: DrawnList): number => (e.runs === 'grid' ? 2 : 1);

/** The record at a place of the list, or a gap while it is fetched. */
export function rowAt(e: DrawnList, i: number): ReactNode {
  const r = e.rows[i - e.from];
  if (!r) return <div className="k-row k-row-waiting" data-surface={e.surface} key={`waiting-${i}`} />;
  return <RowView key={r.record} row={r} surface={e.surface} acts={e.tap === 'act'} list={e.id} />;
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
  return (
    <div
      className="k-row"
      data-surface={surface}
      data-record={row.record}
      {...tappable(acts ? () => tap(row.key, list) : undefined)}
    >
      {row.children.length ? (
        <Inside of={row.children} />
      ) : (
        <p className="k-text k-none">Nothing is shown of this record yet</p>
      )}
    </div>
  );
});
