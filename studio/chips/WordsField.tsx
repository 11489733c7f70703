import { Plus } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { shownTemplate, storedTemplate } from '../../core/records/template.ts';
import type { FormulaPlace } from './place.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { ChoiceList } from './ChoiceChip.tsx';
import { pathsAt } from './paths.ts';

/** Words with values in them: typed as they stand, values put in from a list as `{…}`. */
export function WordsField({
  value,
  onChange,
  place,
  name,
  rows = 1,
  placeholder,
}: {
  value: string;
  onChange(stored: string): void;
  place: FormulaPlace;
  name: string;
  rows?: number;
  placeholder?: string;
}) {
  const app = useApp();
  const model = useModel();
  const shown = shownTemplate(value, model.nameOf);
  const [text, setText] = useState(shown);
  const editing = useRef(false);
  const area = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (!editing.current) setText(shown);
  }, [shown]);

  const change = (next: string): void => {
    setText(next);
    onChange(storedTemplate(next, model.optionsFor(place.self, place.things)));
  };
  const insert = (label: string): void => {
    const at = area.current?.selectionStart ?? text.length;
    const end = area.current?.selectionEnd ?? at;
    change(`${text.slice(0, at)}{${label}}${text.slice(end)}`);
  };
  return (
    <span className="flex w-full items-start gap-1.5 align-middle">
      <textarea
        ref={area}
        rows={rows}
        value={text}
        aria-label={name}
        placeholder={placeholder}
        onFocus={() => {
          editing.current = true;
        }}
        onBlur={() => {
          editing.current = false;
          setText(shown);
        }}
        onChange={(e) => change(e.target.value)}
        className="field field-sizing-content max-h-64 flex-1 resize-none leading-5"
      />
      <Popover
        width={320}
        align="end"
        trigger={
          <button
            type="button"
            aria-label={`Put a value into ${name}`}
            className="mt-px flex h-7 shrink-0 items-center gap-1 rounded-control bg-kelp-wash px-2 text-xs font-semibold text-kelp"
          >
            <Plus size={13} aria-hidden /> value
          </button>
        }
      >
        {(close) => (
          <ChoiceList
            choices={pathsAt(app, model, place, 'any')
              .slice(0, 80)
              .map((p) => ({ value: p.stored, label: p.label, group: p.group }))}
            onChoose={(stored) => {
              insert(model.shown(stored));
              close();
            }}
            onType={() => undefined}
          />
        )}
      </Popover>
    </span>
  );
}
