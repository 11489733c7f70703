import { Search } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { Need, Operation } from '../../core/services/openapi/operations.ts';
import { Button, Segmented } from '../ui/controls.tsx';
import type { Described } from './describe-worker.ts';

const NEEDS: [Need | 'all', string][] = [
  ['all', 'All'],
  ['list', 'List'],
  ['one', 'One'],
  ['add', 'Add'],
  ['change', 'Change'],
  ['remove', 'Remove'],
];
/** So many are drawn; the rest are found by words. */
const MOST_SHOWN = 200;

const fits = (o: Operation, words: readonly string[]): boolean => {
  const text = `${o.name} ${o.key} ${o.group} ${o.about}`.toLowerCase();
  return words.every((w) => text.includes(w));
};

/** What a described service can be asked, to choose from by words and by need. */
export function OperationsCard({
  described,
  onTake,
  onLeave,
}: {
  described: Described;
  onTake(chosen: Operation[], tables: boolean): void;
  onLeave(): void;
}) {
  const [words, setWords] = useState('');
  const [need, setNeed] = useState<Need | 'all'>('all');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [tables, setTables] = useState(true);
  const found = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return described.operations.filter((o) => (need === 'all' || o.need === need) && fits(o, wanted));
  }, [described, words, need]);
  const toggle = (key: string): void => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };
  const isList = described.operations.some((o) => o.need === 'list' && chosen.has(o.key));
  return (
    <section className="card px-5 py-4" aria-label="What it can be asked">
      <h2 className="text-[15px]">{described.name}</h2>
      <p className="mt-0.5 text-ink-soft">
        <span className="font-mono text-xs">{described.address || 'It does not say where it is.'}</span>
      </p>
      {described.about && <p className="mt-1 line-clamp-3 text-sm text-ink-soft">{described.about}</p>}
      <div className="mt-3 mb-2 flex flex-wrap items-center gap-2">
        <label className="relative min-w-48 flex-1">
          <Search size={14} className="absolute top-2 left-2.5 text-ink-faint" aria-hidden />
          <input
            type="search"
            aria-label="Search what it can be asked"
            placeholder={`Search ${described.operations.length.toLocaleString('en-GB')} requests`}
            className="field !pl-8"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        </label>
        <Segmented<Need | 'all'> label="What for" value={need} options={NEEDS} onChange={setNeed} />
      </div>
      <ul className="thin-scroll -mx-2 max-h-[380px] overflow-auto">
        {found.slice(0, MOST_SHOWN).map((o) => (
          <li key={o.key}>
            <label className="flex min-h-[38px] cursor-pointer items-center gap-3 rounded-md px-2 py-1 hover:bg-paper">
              <input
                type="checkbox"
                className="size-4 shrink-0 accent-persimmon"
                checked={chosen.has(o.key)}
                onChange={() => toggle(o.key)}
              />
              <span className="min-w-0 flex-1">
                <span className="block truncate font-semibold">{o.name}</span>
                <span className="block truncate font-mono text-xs text-ink-faint">{o.key}</span>
                {o.unsigned && <span className="block text-xs text-saffron">{o.unsigned}</span>}
              </span>
              {o.group && <span className="max-w-40 truncate text-xs text-ink-faint">{o.group}</span>}
            </label>
          </li>
        ))}
        {found.length === 0 && <li className="px-2 py-3 text-ink-soft">Nothing fits.</li>}
        {found.length > MOST_SHOWN && (
          <li className="px-2 py-2 text-sm text-ink-soft">
            {(found.length - MOST_SHOWN).toLocaleString('en-GB')} more. Search for them by words.
          </li>
        )}
      </ul>
      {described.leftOut.length > 0 && (
        <details className="mt-2 text-sm text-ink-soft">
          <summary className="cursor-pointer">
            {described.leftOut.length === 1 ? 'One thing is' : `${described.leftOut.length} things are`} left out
          </summary>
          <ul className="mt-1 max-h-32 list-disc overflow-auto pl-5">
            {described.leftOut.slice(0, 100).map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ul>
        </details>
      )}
      <div className="mt-3 flex items-center gap-3">
        <Button
          look="main"
          disabled={chosen.size === 0}
          onClick={() =>
            onTake(
              described.operations.filter((o) => chosen.has(o.key)),
              tables,
            )
          }
        >
          {chosen.size > 1 ? `Add ${chosen.size} requests` : 'Add the request'}
        </Button>
        <Button look="quiet" onClick={onLeave}>
          Leave it
        </Button>
        {isList && (
          <label className="flex items-center gap-2 text-ink-soft">
            <input
              type="checkbox"
              className="size-4 accent-persimmon"
              checked={tables}
              onChange={(e) => setTables(e.target.checked)}
            />
            make tables of what it lists
          </label>
        )}
      </div>
    </section>
  );
}
