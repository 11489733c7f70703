import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import type { FetchState } from '../../../core/records/fetching.ts';
import type { DrawnCommon, DrawnRow } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { Inside, sizeOf, tappable } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import type { Filtered } from './view-filters.tsx';
import './list.css';

// Filters come with the lists that have them.
const Filters = lazy(() => import('./view-filters.tsx'));
// What is said of fetching comes with the lists whose records are fetched.
const Fetch = lazy(() => import('./view-fetch.tsx'));

/** What is drawn alike of everything that shows records: a list, board, calendar, table or plan. */
type Framed = Filtered &
  Pick<DrawnCommon, 'id' | 'width' | 'height' | 'stands'> & {
    empty: string;
    search?: boolean;
    /** Words are looked for. */
    searched?: boolean;
    /** What stands in place of the words. */
    none?: readonly string[];
    /** What is known of the answer they are, where they are fetched. */
    fetch?: FetchState;
  };

/** What stands around the records of a list: the search box and the filters above, words in place of none. */
export function ListFrame({
  e,
  label,
  isEmpty = false,
  children,
}: {
  e: Framed;
  label: string;
  /** There is nothing at all to show. */
  isEmpty?: boolean;
  children: ReactNode;
}) {
  return (
    <section className="k-list" data-e={e.id} style={sizeOf(e)} aria-label={label}>
      {e.search && <SearchBox of={e.key} />}
      <Suspense fallback={null}>
        {e.filters.length > 0 && <Filters e={e} />}
        {e.fetch && <Fetch state={e.fetch} isEmpty={isEmpty} />}
      </Suspense>
      {isEmpty ? <NoneShown e={e} /> : children}
    </section>
  );
}

/** Says why there is nothing to show. */
export function NoneShown({ e }: { e: Framed }) {
  // Whether there are any is not known yet, or why not is said above.
  if (e.fetch?.asking || e.fetch?.said) return null;
  if (e.filtered > 0) return <p className="k-empty">Nothing fits these filters.</p>;
  if (e.searched) return <p className="k-empty">Nothing is found by these words.</p>;
  if (e.none?.length) return <Inside of={e.none} />;
  return <p className="k-empty">{e.empty}</p>;
}

/** A record with what is drawn inside it, which a tap may lead on from. */
export function RecordRow({
  e,
  row,
  surface,
  children = <Inside of={row.children} />,
}: {
  e: Pick<DrawnCommon, 'id'> & { tap: string };
  row: DrawnRow;
  surface: string;
  children?: ReactNode;
}) {
  const { tap } = usePlayer();
  return (
    <div
      className="k-row"
      data-surface={surface}
      data-record={row.record}
      {...tappable(e.tap === 'act' ? () => tap(row.key, e.id) : undefined)}
    >
      {children}
    </div>
  );
}

/** Looks for words among the records of a list. */
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
