import { useEffect, useMemo, useRef, useState } from 'react';
import { clsx } from 'clsx';
import type { Problem } from '../../core/formula/ast.ts';
import type { CompileOptions } from '../../core/formula/compile.ts';
import { saidCondition } from '../../core/formula/said-condition.ts';
import { Model } from '../../core/records/model.ts';
import { toStored } from '../../core/formula/stored.ts';
import type { FormulaTrial } from '../engine/trying.ts';
import type { FormulaPlace } from './place.ts';
import { useModel } from '../state/model.ts';
import { useApp, useEngine } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { CodeEditor } from './CodeEditor.tsx';

/** Works a formula out while it is typed, for the first records. */
export function useTrial(place: FormulaPlace, text: string, samples = 3): FormulaTrial | null {
  const engine = useEngine();
  const [trial, setTrial] = useState<FormulaTrial | null>(null);
  const key = JSON.stringify(place);
  useEffect(() => {
    let current = true;
    const t = setTimeout(() => {
      if (text.trim() === '') setTrial(null);
      else void engine.trying.formula(place, text, samples).then((r) => current && setTrial(r));
    }, 80);
    return () => {
      current = false;
      clearTimeout(t);
    };
  }, [engine, key, text, samples]);
  return trial;
}

/** Problems in words; with the piece of text they are about, where that is not underlined in its place. */
export function Problems({
  text,
  trial,
  inPlace = false,
}: {
  text: string;
  trial: FormulaTrial | null;
  inPlace?: boolean;
}) {
  if (!trial?.problems.length) return null;
  return (
    <ul className="mt-2 space-y-1.5" aria-label="Problems">
      {trial.problems.slice(0, 4).map((p, i) => (
        <li key={i} className={clsx('text-sm', p.severity === 'error' ? 'text-persimmon-deep' : 'text-saffron')}>
          {!inPlace && p.to > p.from && (
            <code className="block truncate font-mono text-xs text-ink-soft">
              {text.slice(Math.max(0, p.from - 24), p.from)}
              <mark
                className={clsx(
                  'bg-transparent underline decoration-wavy underline-offset-4',
                  p.severity === 'error'
                    ? 'text-persimmon-deep decoration-persimmon'
                    : 'text-saffron decoration-saffron',
                )}
              >
                {text.slice(p.from, p.to) || ' '}
              </mark>
              {text.slice(p.to, p.to + 24)}
            </code>
          )}
          {p.message}
        </li>
      ))}
    </ul>
  );
}

/** Names nothing of an app. */
const NO_TABLES = new Model({ tables: [] });

/** What may be named at a place, as completion and the compiler take it. */
export function useOptions(place: FormulaPlace): CompileOptions {
  const app = useApp();
  const model = useModel();
  const key = JSON.stringify(place);
  return useMemo(() => (place.alone ? NO_TABLES : model).optionsFor(place.self, place.things), [app, model, key]);
}

/** What was typed, where it is a condition in words and no formula: a press writes it as one. */
export function InWords({
  text,
  options,
  onTake,
}: {
  text: string;
  options: CompileOptions;
  onTake(text: string): void;
}) {
  const meant = useMemo(() => saidCondition(text, options), [text, options]);
  if (!meant) return null;
  return (
    <button
      type="button"
      className="mt-2 block w-full rounded-control bg-kelp-wash px-2.5 py-1.5 text-left text-sm hover:underline"
      onClick={() => onTake(meant)}
    >
      Write it as <code className="font-mono text-[12px]">{meant}</code>
    </button>
  );
}

/** Writes a formula in FEEL: completion, problems in words, and its result for the first records. */
export function FormulaBox({
  stored,
  place,
  name,
  onKeep,
  onCancel,
}: {
  stored: string;
  place: FormulaPlace;
  name: string;
  onKeep(stored: string): void;
  onCancel(): void;
}) {
  const model = useModel();
  const options = useOptions(place);
  const [text, setText] = useState(() => model.shown(stored));
  const trial = useTrial(place, text);
  const changed = text !== model.shown(stored);
  const { broken, made } = useMemo(() => {
    const { stored: made, compiled } = toStored(text, options);
    return { made, broken: text.trim() !== '' && compiled.problems.some((p) => p.severity === 'error') };
  }, [text, options]);
  const keep = (): void => {
    if (!broken) onKeep(text.trim() === '' ? '' : made);
  };
  const escaped = useRef(false);
  const [warned, setWarned] = useState(false);
  return (
    <div
      className="p-3"
      {...(changed && { 'data-unkept': true })}
      onKeyDownCapture={(e) => {
        if (e.key !== 'Escape' || !changed || document.querySelector('.cm-tooltip-autocomplete')) return;
        // Once is a slip; a second time means it.
        if (escaped.current) onCancel();
        escaped.current = true;
        setWarned(true);
      }}
    >
      <CodeEditor
        autoFocus
        label={`Formula for ${name}`}
        value={text}
        options={options}
        problems={trial?.problems ?? NONE}
        placeholder={'for example: if Weight > 20 then "heavy" else "light"'}
        onChange={setText}
        onDone={keep}
      />
      {broken && <InWords text={text} options={options} onTake={setText} />}
      <Problems text={text} trial={trial} inPlace />
      {trial && trial.samples.length > 0 && !trial.problems.some((p) => p.severity === 'error') && (
        <p className="mt-2 text-sm text-ink-soft">
          A {trial.type}:{' '}
          {trial.samples.map((s, i) => (
            <span key={i} className="mr-3">
              {s.title && <b className="font-semibold text-ink">{s.title} </b>}
              <span className="text-kelp">{s.value || 'nothing'}</span>
            </span>
          ))}
        </p>
      )}
      <div className="mt-3 flex items-center justify-end gap-2">
        <span role="status" className="mr-auto text-xs text-ink-faint">
          {broken
            ? 'Mend what is underlined, then it can be kept'
            : warned
              ? 'Not kept yet. Escape again leaves it as it was'
              : 'Ctrl and the space bar show what can be named here'}
        </span>
        <Button small look="quiet" onClick={onCancel}>
          Back
        </Button>
        <Button small look="main" disabled={broken} onClick={keep}>
          Keep it
        </Button>
      </div>
    </div>
  );
}

const NONE: readonly Problem[] = [];
