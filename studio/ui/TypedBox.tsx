import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { OwnChanges } from '../state/own-changes.ts';
import { typedIn } from '../state/phone-first.ts';

interface Common {
  label: string;
  className?: string;
  placeholder?: string | undefined;
  title?: string;
}

/** Holds what is typed until it is left, and takes over what was changed elsewhere, as by undo. */
function useTyped<T>(value: T, written: string, onChange: (value: T) => void) {
  const [text, setText] = useState(written);
  const [own] = useState(() => new OwnChanges<T>());
  useEffect(() => {
    if (!own.isOwn(value)) setText(written);
  }, [own, value, written]);
  const tell = (typed: T): void => {
    if (typed === own.latest(value)) return;
    own.tell(typed);
    typedIn(() => onChange(typed));
  };
  return { text, setText, tell, left: () => own.forget() };
}

/** A line of text; every letter is told at once. */
export function TextBox({
  label,
  value,
  onChange,
  className,
  ...rest
}: Common & { value: string; maxLength?: number | undefined; onChange(text: string): void }) {
  const { text, setText, tell, left } = useTyped(value, value, onChange);
  return (
    <input
      aria-label={label}
      className={clsx('field', className)}
      value={text}
      onChange={({ target }) => {
        setText(target.value);
        tell(target.value);
      }}
      onBlur={left}
      {...rest}
    />
  );
}

/**
 * A number within limits. What is typed is told as soon as it is within them; until then it stands there, marked, with
 * the limits said. When the box is left like that, all is as before it was typed into. Empty is undefined where it may be.
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
  const { text, setText, tell, left } = useTyped(value, written(value), onChange);
  const before = useRef(value);
  const leave = (): void => {
    const kept = read(text);
    setText(written(kept === null ? before.current : kept));
    if (kept === null) tell(before.current);
    left();
  };
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
          if (n !== null) tell(n);
        }}
        onFocus={() => {
          before.current = value;
        }}
        onBlur={leave}
      />
      {isBad && (
        <span role="alert" className="float absolute top-full right-0 z-20 mt-1 px-2 py-1 text-xs whitespace-nowrap">
          {limitsOf(least, most, whole)}
        </span>
      )}
    </span>
  );
}

const written = (n: number | undefined): string => (n === undefined ? '' : String(n));

function limitsOf(least: number, most: number, whole: boolean): string {
  const kind = whole ? 'A whole number' : 'A number';
  if (least > -Infinity && most < Infinity) return `${kind} from ${least} to ${most}`;
  if (least > -Infinity) return `${kind}, at least ${least}`;
  return most < Infinity ? `${kind}, at most ${most}` : kind;
}
