import { useEffect, useMemo, useRef } from 'react';
import { beyondRoom, readWritten, writtenInWords, type WrittenTable } from '../../core/app/written-tables.ts';
import type { Table } from '../../core/tables/schema.ts';

/** The text of tables that are written, with what it means; `tables` are those that are there already. */
export function useWritten(text: string, tables?: readonly Table[]): WrittenTable[] {
  return useMemo(() => readWritten(text, tables), [text, tables]);
}

/** A box in which tables are written, a line for each. Control with Enter makes them. */
export function WriteBox({
  value,
  onChange,
  onDone,
  rows = 3,
  takesFocus = false,
}: {
  value: string;
  onChange(text: string): void;
  onDone(): void;
  rows?: number;
  takesFocus?: boolean;
}) {
  const box = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (takesFocus) box.current?.focus();
  }, [takesFocus]);
  return (
    <textarea
      ref={box}
      aria-label="Tables, a line for each"
      className="field field-sizing-content max-h-44 resize-none !py-2 leading-relaxed"
      style={{ minHeight: rows * 22 + 18 }}
      rows={rows}
      placeholder={'Boats: name, price in €, owner, state (in, out)\nMembers: name, phone'}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return;
        e.preventDefault();
        onDone();
      }}
    />
  );
}

/** What written tables become: each field with its type. `there` is how many tables the app has already. */
export function WrittenPreview({ tables, there = 0 }: { tables: readonly WrittenTable[]; there?: number }) {
  const beyond = beyondRoom(tables, there);
  return (
    <>
      {beyond && <p className="mb-2 text-sm text-persimmon-deep">{beyond}</p>}
      <ul className="space-y-3" aria-label="What is made">
        {tables.slice(0, MOST_SHOWN).map((t, i) => (
          <li key={i}>
            <p className="font-semibold">{t.name}</p>
            <ul className="mt-1 flex flex-wrap gap-1.5">
              {t.fields.slice(0, MOST_SHOWN).map((f, k) => (
                <li key={k} className="rounded-md border border-line bg-paper px-2 py-0.5 text-sm">
                  {f.name} <span className="text-ink-soft">{writtenInWords(f)}</span>
                </li>
              ))}
            </ul>
            {t.fields.length > MOST_SHOWN && <More many={t.fields.length - MOST_SHOWN} />}
          </li>
        ))}
        {tables.length > MOST_SHOWN && <More many={tables.length - MOST_SHOWN} />}
      </ul>
    </>
  );
}

/** So many tables, and fields of one, are drawn; the others are counted. */
const MOST_SHOWN = 60;
const More = ({ many }: { many: number }) => <p className="text-sm text-ink-soft">and {many} more</p>;
