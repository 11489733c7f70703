import { lazy, Suspense, useEffect, useState } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import { CHUNK, perLineOf, ROW_HEIGHT, rowAt, type DrawnList } from './view-rows.tsx';

// What lays out a long list comes when there is one, and when its first records can be seen.
const LongRows = lazy(async () => {
  await new Promise<void>((seen) => {
    requestAnimationFrame(() => setTimeout(seen));
  });
  return import('./view-long.tsx');
});

/** A list of records. Of a long one only the rows near the view exist. */
export default function ListView({ e }: { e: DrawnList }) {
  return (
    <section className="k-list" data-e={e.id} style={sizeOf(e)} aria-label={`${e.total} records`}>
      {e.search && <SearchBox of={e.key} />}
      {e.total === 0 ? (
        <p className="k-empty">{e.empty}</p>
      ) : e.runs === 'across' ? (
        <div className="k-strip" style={{ gap: e.gap }}>
          {e.rows.map((_, i) => rowAt(e, e.from + i))}
        </div>
      ) : e.total <= CHUNK && e.from === 0 && e.rows.length === e.total ? (
        <ShortRows e={e} />
      ) : (
        <Suspense fallback={<ShortRows e={e} />}>
          <LongRows e={e} />
        </Suspense>
      )}
    </section>
  );
}

/** The records that are there, one line below the other, with room for those that are not. */
function ShortRows({ e }: { e: DrawnList }) {
  const missing = Math.ceil((e.total - e.rows.length) / perLineOf(e));
  return (
    <div
      className="k-rows k-line"
      data-per={perLineOf(e)}
      style={{ gap: e.gap, paddingBottom: missing * (ROW_HEIGHT + e.gap) }}
    >
      {e.rows.map((_, i) => rowAt(e, e.from + i))}
    </div>
  );
}

function SearchBox({ of }: { of: string }) {
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
