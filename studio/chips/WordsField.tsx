import { Plus, SquareFunction, Trash2 } from 'lucide-react';
import { Popover as Radix } from 'radix-ui';
import type { EditorView } from '@codemirror/view';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { compile } from '../../core/formula/compile.ts';
import { toStored } from '../../core/formula/stored.ts';
import { SPOKEN } from '../../core/records/spoken.ts';
import { typedBraces, type Placed } from '../../core/records/words.ts';
import type { FormulaPlace } from './place.ts';
import { useModel } from '../state/model.ts';
import { OwnChanges } from '../state/own-changes.ts';
import { useApp } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';
import { ChoiceChip } from './ChoiceChip.tsx';
import { useOptions } from './FormulaBox.tsx';
import { chipLabel, pathsAt } from './paths.ts';
import { ValueChip, ValueList } from './ValueChip.tsx';
import { decoded, encoded, encodedPlace, wordsEditor, type Pressed, type WordsHome } from './words-editor.ts';

interface Props {
  value: string;
  onChange(stored: string): void;
  place: FormulaPlace;
  name: string;
  rows?: number;
  placeholder?: string | undefined;
  /** Values stand as they are, without a way of telling them. */
  plain?: boolean;
  /** It is written in as soon as it is there, behind its words. */
  autoFocus?: boolean;
}

/** Words with values in them: typed as they stand, each value a chip that opens. An open brace offers values. */
export function WordsField({
  value,
  onChange,
  place,
  name,
  rows = 1,
  placeholder = '',
  plain = false,
  autoFocus = false,
}: Props) {
  const app = useApp();
  const model = useModel();
  const options = useOptions(place);
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const [pressed, setPressed] = useState<Pressed | null>(null);
  const [own] = useState(() => new OwnChanges<string>());

  const [braces] = typedBraces(value);
  const read = (typed: string): string | null => {
    if (!typed.trim()) return null;
    const { stored, compiled } = toStored(typed.trim(), options);
    return compiled.problems.some((p) => p.severity === 'error') ? null : stored;
  };
  // The editor lives longer than one render; it looks here for what is current.
  const home = useRef<WordsHome>(null);
  useLayoutEffect(() => {
    home.current = {
      label: name,
      placeholder,
      nameOf: (p) => {
        const value = chipName(p.formula ? chipLabel(model, p.formula).label : 'choose a value');
        return p.spoken ? `${value}, ${SPOKEN[p.spoken] ?? p.spoken}` : value;
      },
      isBroken: (p) => !p.formula || compile(p.formula, options).problems.some((x) => x.severity === 'error'),
      offers: () => pathsAt(app, model, place, 'any').slice(0, 80),
      read,
      onChange: (stored) => {
        own.tell(stored);
        onChange(stored);
      },
      onPress: setPressed,
    };
  });
  useEffect(() => {
    const made = wordsEditor(box.current!, value, () => home.current!);
    view.current = made;
    if (autoFocus) {
      made.dispatch({ selection: { anchor: made.state.doc.length } });
      made.focus();
    }
    return () => made.destroy();
  }, []);
  // What changed elsewhere, as by undo, or what things are called now.
  useEffect(() => {
    const editor = view.current!;
    const text = editor.state.doc.toString();
    const same = own.isOwn(value) || decoded(text) === value;
    editor.dispatch({
      ...(!same && { changes: { from: 0, to: text.length, insert: encoded(value) } }),
      userEvent: same ? 'kite.names' : 'kite.names.outside',
    });
  }, [own, value, model]);

  const put = (from: number, to: number, placed: Placed | null): void => {
    const insert = placed ? encodedPlace(placed) : '';
    view.current!.dispatch({ changes: { from, to, insert }, selection: { anchor: from + insert.length } });
  };
  const insert = (stored: string): void => {
    const { from, to } = view.current!.state.selection.main;
    put(from, to, { formula: stored });
    view.current!.focus();
  };
  const change = (more: Partial<Placed>): void => {
    if (!pressed) return;
    const next = { ...pressed.place, ...more };
    put(pressed.from, pressed.to, next);
    setPressed({ ...pressed, place: next, to: pressed.from + encodedPlace(next).length });
  };
  return (
    <span className="flex w-full min-w-0 items-start gap-1.5 align-middle">
      <span className="block min-w-0 flex-1">
        <div
          ref={box}
          onBlur={() => own.forget()}
          className="kite-words field !p-0"
          style={{ '--rows': rows } as React.CSSProperties}
        />
        {braces && (
          <span role="note" className="block pt-1 text-sm text-saffron">
            {braces} names nothing here: people read it as it is typed. Put a value in its place with “+ value”.
          </span>
        )}
      </span>
      <Popover
        width={340}
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
          <ValueList name={name} value="" literals={false} wanted="any" place={place} onChange={insert} close={close} />
        )}
      </Popover>
      {pressed && (
        <Radix.Root open onOpenChange={(open) => !open && setPressed(null)}>
          <Radix.Anchor asChild>
            <span
              aria-hidden
              className="pointer-events-none fixed"
              style={{
                left: pressed.rect.left,
                top: pressed.rect.top,
                width: pressed.rect.width,
                height: pressed.rect.height,
              }}
            />
          </Radix.Anchor>
          <Radix.Portal>
            <Radix.Content
              align="start"
              sideOffset={5}
              collisionPadding={10}
              aria-label={`The value in ${name}`}
              className="float z-40 w-80 px-3.5 py-3"
            >
              <PlaceCard
                placed={pressed.place}
                plain={plain}
                at={place}
                onChange={change}
                onRemove={() => {
                  put(pressed.from, pressed.to, null);
                  setPressed(null);
                }}
              />
            </Radix.Content>
          </Radix.Portal>
        </Radix.Root>
      )}
    </span>
  );
}

/** The end of a long path tells most of it. */
const chipName = (label: string): string => {
  const parts = label.split(' › ');
  return parts.length > 2 ? `… › ${parts.slice(-2).join(' › ')}` : label;
};

/** A value in words: which, how it is told, and what stands there when it is missing. */
function PlaceCard({
  placed: p,
  plain,
  at,
  onChange,
  onRemove,
}: {
  placed: Placed;
  plain: boolean;
  at: FormulaPlace;
  onChange(more: Partial<Placed>): void;
  onRemove(): void;
}) {
  return (
    <div className="sentence">
      <p>
        <SquareFunction size={14} className="mr-1 inline align-[-2px] text-ink-faint" aria-hidden />
        <ValueChip
          name="Value"
          value={p.formula}
          wanted="any"
          literals={false}
          place={at}
          onChange={(formula) => onChange({ formula })}
        />
        {!plain && (
          <>
            {' '}
            told as{' '}
            <ChoiceChip
              name="Told as"
              value={p.spoken ?? ''}
              choices={[
                { value: '', label: 'its field tells it' },
                ...Object.entries(SPOKEN).map(([value, label]) => ({ value, label })),
                ...(p.spoken && !(p.spoken in SPOKEN) ? [{ value: p.spoken, label: p.spoken }] : []),
              ]}
              onChange={(spoken) => onChange({ spoken })}
            />
          </>
        )}
      </p>
      {!plain && (
        <label className="mt-1 flex items-center gap-2">
          <span className="shrink-0">When missing,</span>
          <input
            className="field min-w-0 flex-1"
            aria-label="When it is missing"
            placeholder="nothing"
            value={p.missing ?? ''}
            onChange={(e) => onChange({ missing: e.target.value })}
          />
        </label>
      )}
      <button
        type="button"
        onClick={onRemove}
        className="mt-2 flex items-center gap-1.5 text-sm text-persimmon-deep hover:underline"
      >
        <Trash2 size={13} aria-hidden /> Take it out
      </button>
    </div>
  );
}
