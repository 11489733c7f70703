import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { ChevronDown, ChevronRight, Search } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { Sample, ServiceRequest } from '../../core/services/schema.ts';
import { Popover } from '../ui/popover.tsx';
import { foundRows, MOST_FOUND, openAtFirst, rowsOf, type AnswerRow } from './answer-rows.ts';
import { PickCard } from './PickCard.tsx';
import type { ListInAnswer } from './ReviewRecords.tsx';
import type { ChangeRequest } from './change-request.ts';

const ROW = 26;

/** An answer of JSON as a tree that can be searched; what is chosen in it is used in the app. */
export function AnswerTree({
  value,
  request,
  sample,
  change,
  review,
}: {
  value: unknown;
  request: ServiceRequest;
  /** The answer as it would be kept with the app. */
  sample: Omit<Sample, 'id' | 'name'> | null;
  change: ChangeRequest;
  review(records: ListInAnswer): void;
}) {
  const [open, setOpen] = useState<ReadonlySet<string>>(() => openAtFirst(value));
  const [words, setWords] = useState('');
  const searching = words.trim() !== '';
  const rows = useMemo(
    () => (searching ? foundRows(value, words) : rowsOf(value, open)),
    [value, open, words, searching],
  );
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const toggle = (path: string): void => {
    const next = new Set(open);
    if (!next.delete(path)) next.add(path);
    setOpen(next);
  };
  return (
    <>
      <label className="mx-5 mt-2 mb-1 flex items-center gap-2">
        <Search size={14} className="text-ink-faint" aria-hidden />
        <input
          type="search"
          aria-label="Search the answer"
          placeholder="Search the answer"
          className="field !w-64"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {searching && (
          <span className="text-sm text-ink-faint">
            {rows.length === MOST_FOUND ? `the first ${MOST_FOUND}` : `${rows.length} found`}
          </span>
        )}
      </label>
      <div ref={box} role="tree" aria-label="The answer" className="thin-scroll max-h-[460px] overflow-auto px-3 pb-3">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => (
            <Row
              key={rows[item.index]!.path}
              row={rows[item.index]!}
              top={item.start}
              onToggle={toggle}
              value={value}
              request={request}
              sample={sample}
              change={change}
              review={review}
            />
          ))}
        </div>
      </div>
    </>
  );
}

function Row({
  row,
  top,
  onToggle,
  value,
  request,
  sample,
  change,
  review,
}: {
  row: AnswerRow;
  top: number;
  onToggle(path: string): void;
  value: unknown;
  request: ServiceRequest;
  sample: Omit<Sample, 'id' | 'name'> | null;
  change: ChangeRequest;
  review(records: ListInAnswer): void;
}) {
  const isHolder = row.inside !== null;
  const isList = Array.isArray(row.value);
  const label = row.name === '' ? 'The answer' : row.name;
  return (
    <div
      role="treeitem"
      aria-level={row.depth + 1}
      {...(isHolder && { 'aria-expanded': row.isOpen })}
      className="group/row absolute inset-x-0 flex items-center rounded-md hover:bg-sunk/60"
      style={{ height: ROW, transform: `translateY(${top}px)`, paddingLeft: 6 + row.depth * 16 }}
    >
      {isHolder ? (
        <button
          type="button"
          aria-label={`${row.isOpen ? 'Close' : 'Open'} ${label}`}
          onClick={() => onToggle(row.path)}
          className="grid size-5 shrink-0 place-items-center text-ink-faint"
        >
          {row.isOpen ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
        </button>
      ) : (
        <span className="w-5 shrink-0" />
      )}
      <Popover
        width={330}
        trigger={
          <button
            type="button"
            className="flex min-w-0 flex-1 items-baseline gap-2 text-left font-mono text-xs leading-[26px]"
          >
            <span className="shrink-0 text-ink-soft">{label}</span>
            <span className={clsx('truncate', isHolder ? 'text-ink-faint' : tone(row.value))}>
              {isHolder
                ? `${row.inside} ${isList ? (row.inside === 1 ? 'element' : 'elements') : row.inside === 1 ? 'value' : 'values'}`
                : written(row.value)}
            </span>
            <span className="ml-auto shrink-0 rounded-md bg-kelp-wash px-1.5 font-text text-xs font-semibold text-kelp opacity-0 group-focus-within/row:opacity-100 group-hover/row:opacity-100">
              {isList && row.inside! > 0 ? 'use its records' : 'use this'}
            </span>
          </button>
        }
      >
        {(close) => (
          <PickCard
            row={row}
            value={value}
            request={request}
            sample={sample}
            change={change}
            review={review}
            close={close}
          />
        )}
      </Popover>
    </div>
  );
}

const written = (v: unknown): string =>
  typeof v === 'string' ? (v === '' ? 'empty text' : v.slice(0, 300)) : String(v);
const tone = (v: unknown): string =>
  v === null || v === ''
    ? 'text-ink-faint'
    : typeof v === 'number'
      ? 'text-dusk'
      : typeof v === 'boolean'
        ? 'text-saffron'
        : 'text-ink';
