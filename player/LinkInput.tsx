import { useEffect, useState } from 'react';
import { toListCell, type Cell } from '../core/fields/lists.ts';
import { MOST_CHOICES } from '../core/session/effects.ts';
import { usePlayer } from './context.ts';

/** How a record is added by its name: the field of the name, and what one is called. Null where that is not wanted. */
type Adds = { title: string; one: string } | null;

/** Picks a record of another table: type to search, tap to take. */
export function LinkInput({
  id,
  table,
  value,
  set,
  label,
  adds = null,
}: {
  id: string;
  table: string;
  value: string | null;
  set(cell: Cell): void;
  label: string;
  adds?: Adds;
}) {
  const { api, say } = usePlayer();
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [choices, setChoices] = useState<{ id: string; title: string }[]>([]);
  // Those of a service take a while, and may not come at all.
  const [looked, setLooked] = useState<'looking' | 'found' | { why: string }>('looking');
  const [title, setTitle] = useState('');

  useEffect(() => {
    if (!open) return;
    let current = true;
    setLooked('looking');
    api.choices(table, search).then(
      (list) => {
        if (!current) return;
        setChoices(list);
        setLooked('found');
      },
      (e: Error) => current && setLooked({ why: e.message }),
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

  const name = search.trim();
  const isNew =
    adds !== null &&
    name !== '' &&
    looked === 'found' &&
    !choices.some((c) => c.title.toLowerCase() === name.toLowerCase());
  const add = async (): Promise<void> => {
    const answer = await api.saveForm(table, null, { [adds!.title]: name }, true);
    if ('problems' in answer) return say(Object.values(answer.problems)[0] ?? 'It could not be added.', 'bad');
    set(answer.saved);
    setOpen(false);
    say(`Added ${name}`, 'plain');
  };

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
        {isNew && (
          <button
            type="button"
            role="option"
            aria-selected={false}
            onClick={() => void add().catch((e: Error) => say(e.message, 'bad'))}
          >
            New {adds.one} “{name}”
          </button>
        )}
        {typeof looked === 'object' && <p role="alert">{looked.why}</p>}
        {choices.length === 0 && looked === 'looking' && <p className="k-none">Looking…</p>}
        {choices.length === 0 && looked === 'found' && !isNew && (
          <p className="k-none">Nothing found. Try other letters.</p>
        )}
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
  adds = null,
}: {
  id: string;
  table: string;
  value: string[];
  set(cell: Cell): void;
  label: string;
  adds?: Adds;
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
        adds={adds}
        set={(cell) => cell !== null && set(toListCell([...value, String(cell)]))}
      />
    </div>
  );
}
