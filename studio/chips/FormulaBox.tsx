import { useEffect, useState } from 'react';
import { clsx } from 'clsx';
import { builtins } from '../../core/formula/builtins/index.ts';
import type { FormulaPlace, FormulaTrial } from '../engine/engine.ts';
import { useModel } from '../state/model.ts';
import { useApp, useEngine } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { thingsAt } from './paths.ts';

/** Works a formula out while it is typed, for the first records. */
export function useTrial(place: FormulaPlace, text: string, samples = 3): FormulaTrial | null {
  const engine = useEngine();
  const [trial, setTrial] = useState<FormulaTrial | null>(null);
  const key = JSON.stringify(place);
  useEffect(() => {
    let current = true;
    const t = setTimeout(() => {
      if (text.trim() === '') setTrial(null);
      else void engine.tryFormula(place, text, samples).then((r) => current && setTrial(r));
    }, 80);
    return () => {
      current = false;
      clearTimeout(t);
    };
  }, [engine, key, text, samples]); // eslint-disable-line react-hooks/exhaustive-deps
  return trial;
}

/** The text with the places of problems underlined. */
export function Problems({ text, trial }: { text: string; trial: FormulaTrial | null }) {
  if (!trial?.problems.length) return null;
  return (
    <ul className="mt-2 space-y-1.5" aria-label="Problems">
      {trial.problems.slice(0, 4).map((p, i) => (
        <li key={i} className={clsx('text-sm', p.severity === 'error' ? 'text-persimmon-deep' : 'text-saffron')}>
          {p.to > p.from && (
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

/** Writes a formula in FEEL, with names to put in, its problems in words and its result for the first records. */
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
  const app = useApp();
  const model = useModel();
  const [text, setText] = useState(() => model.shown(stored));
  const trial = useTrial(place, text);
  const names = [
    ...(place.self ? model.members(place.self).map((m) => m.name) : []),
    ...thingsAt(app, model, place).map((t) => t.name),
  ];
  const insert = (what: string): void => setText((t) => `${t}${t && !/[\s(.]$/.test(t) ? ' ' : ''}${what}`);
  return (
    <div className="p-3">
      <textarea
        autoFocus
        rows={3}
        aria-label={`Formula for ${name}`}
        value={text}
        spellCheck={false}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey) && trial) onKeep(trial.stored);
        }}
        className="field resize-y font-mono text-[12.5px] leading-5"
        placeholder={'for example: if Weight > 20 then "heavy" else "light"'}
      />
      <div className="mt-2 flex max-h-16 flex-wrap gap-1 overflow-auto thin-scroll">
        {names.slice(0, 24).map((n) => (
          <button
            key={n}
            type="button"
            onClick={() => insert(n)}
            className="rounded bg-kelp-wash px-1.5 py-px text-xs text-kelp"
          >
            {n}
          </button>
        ))}
        {['sum', 'count', 'max', 'min', 'mean', 'string'].map((f) => (
          <button
            key={f}
            type="button"
            title={builtins().get(f)?.help}
            onClick={() => insert(`${f}(`)}
            className="rounded bg-sunk px-1.5 py-px font-mono text-xs"
          >
            {f}
          </button>
        ))}
      </div>
      <Problems text={text} trial={trial} />
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
      <div className="mt-3 flex justify-end gap-2">
        <Button small look="quiet" onClick={onCancel}>
          Back to choices
        </Button>
        <Button small look="main" disabled={!trial} onClick={() => trial && onKeep(trial.stored)}>
          Keep it
        </Button>
      </div>
    </div>
  );
}
