import { Plus } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { shownTemplate, storedTemplate } from '../../core/records/template.ts';
import type { Model } from '../../core/records/model.ts';
import { chipLabel, pathsAt } from '../chips/paths.ts';
import type { FormulaPlace } from '../chips/place.ts';
import { useModel } from '../state/model.ts';
import { useApp } from '../state/studio.ts';
import { Menu } from '../ui/popover.tsx';

/** Every text of a JSON value, made into another. */
function withTexts(json: unknown, change: (text: string) => string): unknown {
  if (typeof json === 'string') return change(json);
  if (Array.isArray(json)) return json.map((x) => withTexts(x, change));
  if (typeof json !== 'object' || json === null) return json;
  return Object.fromEntries(Object.entries(json).map(([k, v]) => [k, withTexts(v, change)]));
}

const shownJson = (stored: string, model: Model): string => {
  try {
    return JSON.stringify(
      withTexts(JSON.parse(stored), (t) => shownTemplate(t, model.nameOf)),
      null,
      2,
    );
  } catch {
    return stored;
  }
};

/** A body of JSON as text. A text in it that is a value in braces alone becomes that value, with its type. */
export function JsonBody({
  json,
  place,
  onChange,
}: {
  json: string;
  place: FormulaPlace;
  onChange(json: string): void;
}) {
  const app = useApp();
  const model = useModel();
  const options = useMemo(() => model.optionsFor(null, place.things), [model, place.things]);
  const shown = shownJson(json, model);
  const [typed, setTyped] = useState<string | null>(null);
  const box = useRef<HTMLTextAreaElement>(null);
  const text = typed ?? shown;
  let wrong: string | null = null;
  try {
    JSON.parse(text);
  } catch (e) {
    wrong = (e as Error).message;
  }
  const tell = (next: string): void => {
    setTyped(next);
    try {
      onChange(JSON.stringify(withTexts(JSON.parse(next), (t) => storedTemplate(t, options))));
    } catch {
      // It stays as it is typed until it is JSON again.
    }
  };
  const insert = (label: string): void => {
    const { selectionStart: from, selectionEnd: to } = box.current!;
    // Between quotes it joins the text; elsewhere it is one of its own.
    const inText = (text.slice(0, from).match(/(?<!\\)"/g)?.length ?? 0) % 2 === 1;
    tell(text.slice(0, from) + (inText ? `{${label}}` : `"{${label}}"`) + text.slice(to));
  };
  return (
    <div className="mt-1">
      <div className="flex items-start gap-1.5">
        <textarea
          ref={box}
          aria-label="Body of the request as JSON"
          aria-invalid={wrong !== null}
          spellCheck={false}
          className="field field-sizing-content max-h-80 !min-h-[72px] flex-1 resize-none font-mono text-sm leading-[19px]"
          value={text}
          onChange={(e) => tell(e.target.value)}
          onBlur={() => !wrong && setTyped(null)}
        />
        <Menu
          align="end"
          trigger={
            <button
              type="button"
              aria-label="Put a value into the body"
              className="flex h-7 shrink-0 items-center gap-1 rounded-control bg-kelp-wash px-2 text-xs font-semibold text-kelp"
            >
              <Plus size={13} aria-hidden /> value
            </button>
          }
          items={pathsAt(app, model, place, 'value')
            .slice(0, 40)
            .map((p) => ({ label: p.label, run: () => insert(chipLabel(model, p.stored).label) }))}
        />
      </div>
      {wrong && (
        <p role="alert" className="mt-1 text-sm text-persimmon-deep">
          This is no JSON yet, so the body is as it was: {wrong}
        </p>
      )}
    </div>
  );
}
