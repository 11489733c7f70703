import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import { CHUNK, lineAt, linesOf, perLineOf, ROW_HEIGHT, type DrawnList } from './view-rows.tsx';
import './list.css';

// What lays out a long list comes when there is one, and when its first records can be seen.
const LongRows = lazy(async () => {
  await new Promise<void>((seen) => {
    requestAnimationFrame(() => setTimeout(seen));
  });
  return import('./view-long.tsx');
});
// Filters, swipes, marks and handles come with the lists that have them.
const Filters = lazy(() => import('./view-filters.tsx'));
const Around = lazy(() => import('./view-around.tsx'));

/** A list of records. Of a long one only the rows near the view exist. */
export default function ListView({ e }: { e: DrawnList }) {
  const rows = e.total > 0 && <Rows e={e} />;
  return (
    <section className="k-list" data-e={e.id} style={sizeOf(e)} aria-label={`${e.records} records`}>
      {e.search && <SearchBox of={e.key} />}
      {e.filters.length > 0 && (
        <Suspense fallback={null}>
          <Filters e={e} />
        </Suspense>
      )}
      {!rows ? (
        <p className="k-empty">{e.filtered > 0 ? 'Nothing fits these filters.' : e.empty}</p>
      ) : e.swipe || e.several || e.ordered ? (
        <Suspense fallback={rows}>
          <Around e={e}>{rows}</Around>
        </Suspense>
      ) : (
        rows
      )}
    </section>
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
      style={{ gap: e.gap, paddingBottom: missing * (ROW_HEIGHT + e.gap) }}
    >
      {lines.map((_, i) => lineAt(e, lines, e.from + i))}
    </div>
  );
}

/** Looks for words among the records of a list. */
export function SearchBox({ of }: { of: string }) {
  const { look } = usePlayer();
  const [text, setText] = useState('');
  const Icon = iconOf('search')!;
  useEffect(() => {
    const t = setTimeout(() => look(of, { search: text, from: 0 }), text ? 80 : 0);
    return () => clearTimeout(t);
  }, [text, of, look]);
  return (
    <label className="k-search">
      <Icon size={18} aria-hidden />
      <input
        type="search"
        value={text}
        placeholder="Search"
        aria-label="Search this list"
        onChange={(ev) => setText(ev.target.value)}
      />
    </label>
  );
}
