import { X } from 'lucide-react';
import type { RequestPart } from '../../core/services/schema.ts';
import type { FormulaPlace } from '../chips/place.ts';
import { WordsField } from '../chips/WordsField.tsx';
import { IconButton } from '../ui/controls.tsx';
import { TextBox } from '../ui/TypedBox.tsx';

const HEADER = /^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,100}$/;

/** Names with what they are given: the query of a request, its headers, the parts of a form. */
export function PartsTable({
  title,
  parts,
  place,
  isHeader = false,
  onChange,
}: {
  title: string;
  parts: readonly RequestPart[];
  place: FormulaPlace;
  isHeader?: boolean;
  /** `merge` names a change that belongs to the one before. */
  onChange(parts: RequestPart[], merge?: string): void;
}) {
  const set = (i: number, change: Partial<RequestPart>, merge: string): void =>
    onChange(
      parts.map((p, k) => (k === i ? { ...p, ...change } : p)),
      `${title} ${i} ${merge}`,
    );
  if (parts.length === 0) return null;
  return (
    <div className="mt-2">
      <h3 className="mb-1 font-text text-sm font-semibold tracking-normal text-ink-soft">{title}</h3>
      <ul className="space-y-1">
        {parts.map((p, i) => (
          <li key={i} className="group/part flex items-start gap-2">
            <span className="w-44 shrink-0">
              <TextBox
                label={`Name ${i + 1} of ${title.toLowerCase()}`}
                className="font-mono text-sm"
                value={p.name}
                onChange={(name) => name.trim() && (!isHeader || HEADER.test(name)) && set(i, { name }, 'name')}
              />
            </span>
            <WordsField
              plain
              name={`Value of ${p.name}`}
              value={p.value}
              place={place}
              onChange={(value) => set(i, { value }, 'value')}
            />
            <IconButton
              icon={X}
              size={14}
              label={`Remove ${p.name}`}
              onClick={() => onChange(parts.filter((_, k) => k !== i))}
            />
          </li>
        ))}
      </ul>
    </div>
  );
}
