import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';

/** A name that can be changed where it stands: click, type, Enter. Escape takes it back; an empty name is not kept. */
export function NameField({
  value,
  onChange,
  label,
  className,
}: {
  value: string;
  onChange(v: string): void;
  label: string;
  className?: string;
}) {
  const [text, setText] = useState(value);
  const ref = useRef<HTMLInputElement>(null);
  const left = useRef(false);
  useEffect(() => setText(value), [value]);
  const keep = (): void => {
    const next = text.trim();
    if (!left.current && next && next !== value) onChange(next);
    else setText(value);
    left.current = false;
  };
  return (
    // The hidden copy of the text gives the input its width.
    <span className={clsx('relative -mx-1.5 inline-grid max-w-[calc(100%+12px)] min-w-5 align-baseline', className)}>
      <span aria-hidden className="invisible overflow-hidden px-1.5 whitespace-pre">
        {text || ' '}
      </span>
      <input
        ref={ref}
        aria-label={label}
        value={text}
        title={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          if (e.key === 'Enter') ref.current?.blur();
          if (e.key === 'Escape') {
            left.current = true;
            ref.current?.blur();
          }
        }}
        className="absolute inset-0 w-full rounded-md bg-transparent px-1.5 font-[inherit] tracking-[inherit] text-ellipsis text-inherit hover:bg-sunk/70 focus:bg-raised"
      />
    </span>
  );
}
