import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import type { Drawn } from '../../../core/screens/element.ts';
import { usePlayer } from '../../../player/context.ts';
import { ElementView, sizeOf } from '../../../player/ElementView.tsx';
import { iconOf } from '../../../player/icons.tsx';
import type { search } from './definition.ts';
import '../list/list.css';

/** So long after the last letter it is looked for, in milliseconds. */
const PAUSE_MS = 80;

/** One box whose words are looked for in every list inside; lists without hits are not seen. */
export default function SearchView({ e }: { e: Drawn<typeof search> }) {
  const { look } = usePlayer();
  const [text, setText] = useState('');
  const [asked, setAsked] = useState('');
  const Icon = iconOf('search')!;
  const keys = e.children.join(' ');
  useEffect(() => {
    const t = setTimeout(
      () => {
        for (const key of keys ? keys.split(' ') : []) look(key, { search: text, from: 0 });
        setAsked(text.trim());
      },
      text ? PAUSE_MS : 0,
    );
    return () => clearTimeout(t);
  }, [text, keys, look]);
  const found = useFound(e.children);
  const any = found.some((n) => n > 0);
  return (
    <section className="k-list" data-e={e.id} style={sizeOf(e)} aria-label={e.hint || 'Search'}>
      <label className="k-search">
        <Icon size={18} aria-hidden />
        <input
          type="search"
          value={text}
          placeholder={e.hint}
          aria-label={e.hint || 'Search'}
          onChange={(ev) => setText(ev.target.value)}
        />
      </label>
      <div role="status" aria-live="polite">
        {!asked && e.before && <p className="k-empty">{e.before}</p>}
        {asked && !any && <p className="k-empty">{e.none}</p>}
      </div>
      {asked &&
        e.children.map((key, i) => (
          <div key={key} className="k-found" hidden={!found[i]}>
            <h3 className="k-head">
              <span>{e.heads[i]}</span>
              <span>{(found[i] ?? 0).toLocaleString('en-GB')}</span>
            </h3>
            <ElementView k={key} />
          </div>
        ))}
    </section>
  );
}

/** How many records each of these lists shows; one for what is no list. */
function useFound(keys: readonly string[]): readonly number[] {
  const { store } = usePlayer();
  const joined = keys.join(' ');
  const hear = useCallback(
    (f: () => void) => {
      const stops = joined ? joined.split(' ').map((k) => store.hearNode(k, f)) : [];
      return () => {
        for (const stop of stops) stop();
      };
    },
    [store, joined],
  );
  const read = (): string =>
    keys
      .map((k) => {
        const n = store.node(k)?.['records'];
        return typeof n === 'number' ? n : 1;
      })
      .join(' ');
  const counts = useSyncExternalStore(hear, read);
  return counts ? counts.split(' ').map(Number) : [];
}
