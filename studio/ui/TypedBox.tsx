import { clsx } from 'clsx';
import { useEffect, useState } from 'react';
import { typedIn } from '../state/phone-first.ts';

interface Common {
  label: string;
  className?: string;
  placeholder?: string | undefined;
  title?: string;
}

/** Holds what is typed until it is left, and takes over what was changed elsewhere, as by undo. */
function useTyped<T>(value: T, written: string, read: (text: string) => T | null) {
  const [text, setText] = useState(written);
  useEffect(() => setText((now) => (read(now) === value ? now : written)), [value, written]);
  return [text, setText] as const;
}

/** A line of text; every letter is told at once. */
export function TextBox({
  label,
  value,
  onChange,
  className,
  ...rest
}: Common & { value: string; maxLength?: number | undefined; onChange(text: string): void }) {
  const [text, setText] = useTyped(value, value, (t) => t);
  return (
    <input
      aria-label={label}
      className={clsx('field', className)}
      value={text}
      onChange={({ target }) => {
        setText(target.value);
        typedIn(() => onChange(target.value));
      }}
      {...rest}
    />
  );
}

/**
 * A number within limits. What is typed is told as soon as it is within them; until then it stands there, marked, with
 * the limits said, and goes back to what is kept when the box is left. Empty is undefined where it may be.
 */
export function NumberBox({
  label,
  value,
  onChange,
  className,
  least = -Infinity,
  most = Infinity,
  whole = false,
  optional = false,
  ...rest
}: Common & {
  value: number | undefined;
  least?: number;
  most?: number;
  /** Without decimals. */
  whole?: boolean;
  optional?: boolean;
  onChange(n: number | undefined): void;
}) {
  const read = (text: string): number | undefined | null => {
    if (text.trim() === '') return optional ? undefined : null;
    const n = Number(text);
    return Number.isFinite(n) && n >= least && n <= most && (!whole || Number.isInteger(n)) ? n : null;
  };
  const written = value === undefined ? '' : String(value);
  const [text, setText] = useTyped(value, written, read);
  const isBad = read(text) === null;
  return (
    <span className="relative inline-block">
      <input
        type="number"
        aria-label={label}
        className={clsx('field font-mono text-xs', className)}
        value={text}
        step={whole ? 1 : 'any'}
        {...(least > -Infinity && { min: least })}
        {...(most < Infinity && { max: most })}
        aria-invalid={isBad || undefined}
        {...rest}
        onChange={({ target }) => {
          setText(target.value);
          // A sign alone is no number yet, and reads as empty.
          const n = target.validity.badInput ? null : read(target.value);
          if (n !== null && n !== value) typedIn(() => onChange(n));
        }}
        onBlur={() => setText(written)}
      />
      {isBad && (
        <span role="alert" className="float absolute top-full right-0 z-20 mt-1 px-2 py-1 text-xs whitespace-nowrap">
          {limitsOf(least, most, whole)}
        </span>
      )}
    </span>
  );
}

function limitsOf(least: number, most: number, whole: boolean): string {
  const kind = whole ? 'A whole number' : 'A number';
  if (least > -Infinity && most < Infinity) return `${kind} from ${least} to ${most}`;
  if (least > -Infinity) return `${kind}, at least ${least}`;
  return most < Infinity ? `${kind}, at most ${most}` : kind;
}
