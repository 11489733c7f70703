import { useEffect, useState } from 'react';
import { usePlayer } from '../../../player/context.ts';
import { iconOf } from '../../../player/icons.tsx';

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
