import { useEffect, useRef, useState, type ComponentType } from 'react';
import type { Field } from '../../core/tables/schema.ts';
import { spokenType } from '../../core/records/check-cell.ts';
import type { GridCell } from '../engine/looking.ts';
import { fieldKind } from '../../core/fields/kinds.ts';
import { cellFromText, startText } from './typed.ts';
import { useWithin } from './useWithin.ts';

export interface EditorProps {
  field: Field;
  cell: GridCell;
  /** The key that began the edit, or null to go on with what is there. */
  typed: string | null;
  /** `linked` is the value that makes a matched link. */
  onKeep(cell: GridCell['raw'], linked?: GridCell['raw']): void;
  /** Leaves the cell, moving by rows and columns. */
  onDone(rows: number, columns: number): void;
}

// One file a type; a type without one is edited in a line of text.
const files = import.meta.glob<{ default: ComponentType<EditorProps> }>('../../kinds/fields/*/editor.tsx', {
  eager: true,
});

/** Edits one cell in its place, by the type of its field. */
export function CellEditor(props: EditorProps) {
  const { field } = props;
  const Own = files[`../../kinds/fields/${field.link ? 'link' : field.type}/editor.tsx`]?.default ?? TextEditor;
  return <Own {...props} />;
}

/** A line of text, or several; what does not fit the field is said and not kept. */
export function TextEditor({ field, cell, typed, onKeep, onDone }: EditorProps) {
  const kept = useRef(false);
  const start = startText(field, cell.raw);
  // Dates and times have editors of the browser, unless somebody types over them.
  const { type: html } = (typed === null && fieldKind(field.type).phone) || {};
  const several = fieldKind(field.type).lines;
  const [text, setText] = useState(typed ?? start);
  const value = cellFromText(field, text);
  const wrong = value === undefined;
  const keep = (): boolean => {
    if (kept.current) return true;
    if (wrong) return false;
    kept.current = true;
    if (value !== cell.raw) onKeep(value!);
    return true;
  };
  const common = {
    autoFocus: true,
    value: text,
    'aria-label': field.name,
    'aria-invalid': wrong,
    onChange: (e: { target: { value: string } }) => setText(e.target.value),
    onBlur: () => {
      keep();
    },
    onKeyDown: (e: React.KeyboardEvent) => {
      e.stopPropagation();
      if (e.key === 'Escape') {
        kept.current = true;
        onDone(0, 0);
      } else if (e.key === 'Enter' && !(several && e.shiftKey)) {
        e.preventDefault();
        if (keep()) onDone(1, 0);
      } else if (e.key === 'Tab') {
        e.preventDefault();
        if (keep()) onDone(0, e.shiftKey ? -1 : 1);
      }
    },
    onMouseDown: (e: React.MouseEvent) => e.stopPropagation(),
  };
  return (
    <div className="absolute inset-0 z-30">
      {several ? (
        <textarea {...common} rows={5} className="field float absolute -inset-px h-auto w-[320px] !rounded-md" />
      ) : (
        <input
          {...common}
          type={html && /^(date|time)/.test(html) ? html : 'text'}
          className="size-full bg-raised px-2.5 font-normal outline-2 outline-dusk"
        />
      )}
      {wrong && (
        <p
          role="alert"
          className="float absolute top-full left-0 mt-1 px-2 py-1 text-sm font-normal whitespace-nowrap text-persimmon-deep"
        >
          “{text.slice(0, 24)}” is not a {spokenType(field)}
        </p>
      )}
    </div>
  );
}

/** Stands for a record that is made of what is typed. */
const NEW = '\u0000new';

/**
 * Picks one of a list by typing and arrow keys. Enter takes what is picked out; where nothing is, the cell stays as it
 * was. A choice that is still looked for is waited for.
 */
export function ListEditor({
  field,
  cell,
  typed,
  choices,
  looking = false,
  onPick,
  onDone,
  onSearch,
  free = false,
  onNew,
  one = 'record',
}: EditorProps & {
  choices: { key: string; label: string }[];
  /** The choices are those of an earlier search; the newer ones are on their way. */
  looking?: boolean;
  onPick(key: string | null): void;
  onSearch?: (text: string) => void;
  free?: boolean;
  /** Makes a record of what is typed, where it is not there yet; `one` is what it is called. */
  onNew?: ((name: string) => void) | undefined;
  one?: string;
}) {
  const [text, setText] = useState(typed ?? '');
  const [moved, setMoved] = useState<number | null>(null);
  const waits = useRef(false);
  const found = onSearch ? choices : choices.filter((c) => c.label.toLowerCase().includes(text.toLowerCase()));
  const name = text.trim();
  const isNew = onNew && name && !looking && !found.some((c) => c.label.toLowerCase() === name.toLowerCase());
  const list = [
    { key: null as string | null, label: 'nothing' },
    ...found,
    ...(isNew ? [{ key: NEW, label: `New ${one} “${name}”` }] : []),
  ];
  // Enter alone makes no record: a slip of a letter would be one.
  const at = moved ?? (text && found.length ? 1 : -1);
  const none = text !== '' && list.length === 1 && !looking;
  const pick = (key: string | null): void => {
    if (key === NEW) onNew!(name);
    else onPick(key);
    onDone(0, 0);
  };
  const take = (): void => {
    const chosen = list[at];
    if (looking) waits.current = true;
    else if (chosen) pick(chosen.key);
    else if (text === '') onDone(0, 0);
    else if (free) pick(text);
  };
  useEffect(() => onSearch?.(text), []);
  useEffect(() => {
    if (looking || !waits.current) return;
    waits.current = false;
    take();
  });
  const card = useWithin();
  return (
    <div
      ref={card}
      className="float absolute top-0 left-0 z-30 w-56 p-1 font-normal text-ink"
      onMouseDown={(e) => e.stopPropagation()}
    >
      <input
        autoFocus
        value={text}
        placeholder={cell.shown || 'Search'}
        aria-label={field.name}
        className="field mb-1"
        onChange={(e) => {
          setText(e.target.value);
          setMoved(null);
          waits.current = false;
          onSearch?.(e.target.value);
        }}
        onBlur={() => onDone(0, 0)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'ArrowDown') {
            e.preventDefault();
            setMoved(Math.min(list.length - 1, at + 1));
          }
          if (e.key === 'ArrowUp') {
            e.preventDefault();
            setMoved(Math.max(0, at - 1));
          }
          if (e.key === 'Enter') {
            e.preventDefault();
            take();
          }
          if (e.key === 'Escape' || e.key === 'Tab') {
            e.preventDefault();
            onDone(0, e.key === 'Tab' ? 1 : 0);
          }
        }}
      />
      <ul role="listbox" className="thin-scroll max-h-52 overflow-auto">
        {list.map((c, i) => (
          <li
            key={c.key ?? ''}
            role="option"
            aria-selected={i === at}
            onMouseDown={(e) => {
              e.preventDefault();
              pick(c.key);
            }}
            className={`cursor-pointer truncate rounded-md px-2 py-1 ${i === at ? 'bg-sunk' : ''} ${c.key === null ? 'text-ink-faint' : ''}`}
          >
            {c.label}
          </li>
        ))}
      </ul>
      {none && (
        <p role="status" className="px-2 py-1 text-ink-faint">
          {free ? 'Enter keeps it as a new word.' : 'Nothing found. Try other letters.'}
        </p>
      )}
    </div>
  );
}
