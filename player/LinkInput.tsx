import { useEffect, useState } from 'react';
import { toListCell, type Cell } from '../core/fields/lists.ts';
import { MOST_CHOICES } from '../core/session/effects.ts';
import { usePlayer } from './context.ts';

/** Picks a record of another table: type to search, tap to take. */
export function LinkInput({
  id,
  table,
  value,
  set,
  label,
}: {
  id: string;
  table: string;
  value: string | null;
  set(cell: Cell): void;
  label: string;
}) {
  const { api } = usePlayer();
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [choices, setChoices] = useState<{ id: string; title: string }[]>([]);
  const [title, setTitle] = useState('');

  useEffect(() => {
    if (!open) return;
    let current = true;
    api.choices(table, search).then(
      (list) => current && setChoices(list),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [api, table, search, open]);

  useEffect(() => {
    setTitle('');
    if (value === null) return;
    let current = true;
    api.titles(table, [value]).then(
      (titles) => current && setTitle(titles[value] ?? ''),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [api, table, value]);

  if (!open) {
    return (
      <button
        type="button"
        id={id}
        className="k-pick"
        onClick={() => {
          setSearch('');
          setOpen(true);
        }}
      >
        {value === null ? <span className="k-none">Choose</span> : title || 'Chosen'}
      </button>
    );
  }
  return (
    <div className="k-picker">
      <input
        id={id}
        type="search"
        autoFocus
        placeholder={`Search ${label.toLowerCase()}`}
        aria-label={`Search ${label.toLowerCase()}`}
        value={search}
        onChange={(ev) => setSearch(ev.target.value)}
        onKeyDown={(k) => {
          if (k.key === 'Escape') setOpen(false);
          if (k.key === 'Enter') k.preventDefault();
        }}
      />
      <div role="listbox" aria-label={label}>
        {value !== null && (
          <button
            type="button"
            role="option"
            aria-selected={false}
            onClick={() => {
              set(null);
              setOpen(false);
            }}
          >
            None
          </button>
        )}
        {choices.map((c) => (
          <button
            type="button"
            role="option"
            aria-selected={c.id === value}
            key={c.id}
            onClick={() => {
              set(c.id);
              setOpen(false);
            }}
          >
            {c.title}
          </button>
        ))}
        {choices.length === 0 && <p className="k-none">Nothing found. Try other letters.</p>}
        {choices.length >= MOST_CHOICES && <p className="k-none">Type a few letters to find others.</p>}
      </div>
    </div>
  );
}

/** Picks several records of another table: each shown with the way to take it off, and one more to choose. */
export function LinksInput({
  id,
  table,
  value,
  set,
  label,
}: {
  id: string;
  table: string;
  value: string[];
  set(cell: Cell): void;
  label: string;
}) {
  const { api } = usePlayer();
  const [titles, setTitles] = useState<Record<string, string>>({});
  const key = value.join();
  useEffect(() => {
    let current = true;
    api.titles(table, value).then(
      (t) => current && setTitles(t),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [api, table, key]);
  return (
    <div className="k-several">
      {value.length > 0 && (
        <div className="k-choices" role="group" aria-label={`Chosen: ${label}`}>
          {value.map((v) => (
            <button
              key={v}
              type="button"
              aria-pressed
              aria-label={`Take ${titles[v] ?? 'this'} off`}
              onClick={() => set(toListCell(value.filter((x) => x !== v)))}
            >
              {titles[v] ?? '…'} ×
            </button>
          ))}
        </div>
      )}
      <LinkInput
        id={id}
        table={table}
        value={null}
        label={label}
        set={(cell) => cell !== null && set(toListCell([...value, String(cell)]))}
      />
    </div>
  );
}
