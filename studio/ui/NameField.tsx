import { useEffect, useRef, useState } from 'react';
import { clsx } from 'clsx';

/** A name that can be changed where it stands: click, type, Enter. Escape takes it back; an empty name is not kept. */
export function NameField({ value, onChange, label, className }: { value: string; onChange(v: string): void; label: string; className?: string }) {
  const [text, setText] = useState(value);
  const ref = useRef<HTMLInputElement>(null);
  useEffect(() => setText(value), [value]);
  const keep = (): void => {
    const next = text.trim();
    if (next && next !== value) onChange(next);
    else setText(value);
  };
  return (
    <input
      ref={ref}
      aria-label={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') ref.current?.blur();
        if (e.key === 'Escape') { setText(value); requestAnimationFrame(() => ref.current?.blur()); }
      }}
      className={clsx('-mx-1.5 field-sizing-content max-w-full min-w-8 rounded-md bg-transparent px-1.5 hover:bg-sunk/70 focus:bg-raised', className)}
    />
  );
}
