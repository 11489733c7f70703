import { Check } from 'lucide-react';
import { useEffect, type ReactNode } from 'react';
import { useWithin } from './useWithin.ts';

/** A card over the cell; it closes when the person goes elsewhere or presses Escape. */
export function EditorCard({
  label,
  onDone,
  children,
  width = 240,
}: {
  label: string;
  onDone(): void;
  children: ReactNode;
  width?: number;
}) {
  const card = useWithin();
  useEffect(() => {
    if (!card.current?.contains(document.activeElement)) card.current?.focus();
  }, []);
  return (
    <div
      ref={card}
      role="dialog"
      aria-label={label}
      tabIndex={-1}
      className="float absolute top-0 left-0 z-30 p-1.5 font-normal text-ink outline-none"
      style={{ width }}
      onMouseDown={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape' || (e.key === 'Enter' && !(e.target instanceof HTMLButtonElement))) {
          e.preventDefault();
          onDone();
        }
      }}
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) onDone();
      }}
    >
      {children}
    </div>
  );
}

/** A list to tick several of. */
export function Ticks({
  items,
  chosen,
  onToggle,
}: {
  items: { key: string; label: string; colour?: string }[];
  chosen: ReadonlySet<string>;
  onToggle(key: string): void;
}) {
  return (
    <ul role="listbox" aria-multiselectable className="thin-scroll max-h-52 overflow-auto">
      {items.map((c) => (
        <li key={c.key} role="option" aria-selected={chosen.has(c.key)}>
          <button
            type="button"
            onClick={() => onToggle(c.key)}
            className="flex min-h-[28px] w-full items-center gap-2 rounded-md px-2 text-left hover:bg-sunk focus-visible:bg-sunk"
          >
            <Check size={14} className={chosen.has(c.key) ? 'text-kelp' : 'opacity-0'} aria-hidden />
            <span className="truncate rounded-md px-1.5" style={{ background: c.colour }}>
              {c.label}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
