import { lazy, Suspense, type CSSProperties, type ReactNode } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { ListFrame } from './view-frame.tsx';
import { CHUNK, lineAt, linesOf, perLineOf, ROW_HEIGHT, type DrawnList } from './view-rows.tsx';

// What lays out a long list comes when there is one, and when its first records can be seen.
const LongRows = lazy(async () => {
  await new Promise<void>((seen) => {
    requestAnimationFrame(() => setTimeout(seen));
  });
  return import('./view-long.tsx');
});
// Swipes, marks and handles come with the lists that have them.
const Around = lazy(() => import('./view-around.tsx'));

/** A list of records. Of a long one only the rows near the view exist. */
export default function ListView({ e }: { e: DrawnList }) {
  const rows = <Rows e={e} />;
  return (
    <ListFrame e={e} label={`${e.records} records`} isEmpty={e.total === 0}>
      {e.swipe || e.several || e.ordered ? (
        <Suspense fallback={rows}>
          <Around e={e}>{rows}</Around>
        </Suspense>
      ) : (
        rows
      )}
    </ListFrame>
  );
}

function Rows({ e }: { e: DrawnList }): ReactNode {
  if (e.runs === 'across') {
    const lines = linesOf(e);
    return (
      <div className="k-strip" style={{ gap: e.gap }}>
        {lines.map((_, i) => lineAt(e, lines, e.from + i))}
      </div>
    );
  }
  if (e.total <= CHUNK && e.from === 0 && e.rows.length + e.heads.length === e.total) return <ShortRows e={e} />;
  return (
    <Suspense fallback={<ShortRows e={e} />}>
      <LongRows e={e} />
    </Suspense>
  );
}

/** The records that are there, one line below the other, with room for those that are not. */
function ShortRows({ e }: { e: DrawnList }) {
  const lines = linesOf(e);
  const perLine = perLineOf(e, usePlayer().room);
  const missing = Math.ceil((e.total - lines.length) / perLine);
  return (
    <div
      className="k-rows k-line"
      data-per={perLine}
      style={{ '--k-per': perLine, gap: e.gap, paddingBottom: missing * (ROW_HEIGHT + e.gap) } as CSSProperties}
    >
      {lines.map((_, i) => lineAt(e, lines, e.from + i))}
    </div>
  );
}
