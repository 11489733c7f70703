import { useEffect, useMemo, useRef, useState } from 'react';
import { clsx } from 'clsx';
import type { Field, Table } from '../../core/app/schema.ts';
import { builtins } from '../../core/formula/builtins/index.ts';
import { toFormula, toSentence, type Sentence } from '../../core/formula/guided.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { Problems, useTrial } from '../chips/FormulaBox.tsx';
import { useModel } from '../state/model.ts';
import type { FormulaTrial } from '../engine/engine.ts';
import { useStudio } from '../state/studio.ts';
import { Button, Segmented } from '../ui/controls.tsx';
import { SENTENCES, SentenceCard } from './SentenceCard.tsx';

/** A formula field, as a sentence where it has the shape of one, or as a formula. */
export function FormulaCard({ table, field }: { table: Table; field: Field }) {
  const model = useModel();
  const { edit } = useStudio();
  const stored = field.formula ?? '';
  const written = useMemo(() => toSentence(stored), [stored]);
  const [mode, setMode] = useState<'sentence' | 'formula'>(() => (written || !stored ? 'sentence' : 'formula'));
  // A sentence with places to fill in yet has no formula; it is kept here until it has.
  const [draft, setDraft] = useState<Sentence | null>(null);
  const sentence = draft ?? written;
  const place = useMemo(() => ({ self: table.id, given: null }), [table.id]);
  const formula = sentence ? toFormula(sentence) : null;
  const trial = useTrial(place, mode === 'sentence' && formula ? model.shown(formula) : '', 4);

  const change = (next: Sentence): void => {
    const text = toFormula(next);
    setDraft(text === null ? next : null);
    if (text !== null && text !== stored)
      void edit(
        `Changed the formula of ${field.name}`,
        (a) => {
          a.tables.find((t) => t.id === table.id)!.fields.find((f) => f.id === field.id)!.formula = text;
        },
        { merge: `formula-${field.id}` },
      );
  };
  return (
    <div className="mt-2">
      <div className="mb-1 flex items-center gap-3">
        <Segmented<'sentence' | 'formula'>
          label="Written as"
          value={mode}
          options={[
            ['sentence', 'Sentence'],
            ['formula', 'Formula'],
          ]}
          onChange={(m) => {
            setDraft(null);
            setMode(m);
          }}
        />
        {mode === 'sentence' && sentence && (
          <ChoiceChip
            name="Kind of sentence"
            label={SENTENCES.find((s) => s.begin.kind === sentence.kind)!.label}
            value={null}
            choices={SENTENCES.map((s) => ({ value: s.begin, label: s.label, hint: s.hint }))}
            onChange={(s) => setDraft(s)}
          />
        )}
      </div>
      {mode === 'formula' ? (
        <FormulaEditor table={table} field={field} />
      ) : sentence ? (
        <>
          <SentenceCard table={table} sentence={sentence} onChange={change} />
          {formula && (
            <code className="mt-1.5 block rounded-control border border-line bg-paper px-2.5 py-1.5 font-mono text-[12px]">
              {model.shown(formula)}
            </code>
          )}
          {trial && <TrialResults trial={trial} />}
          {trial && <Problems text={model.shown(formula ?? '')} trial={trial} />}
        </>
      ) : stored ? (
        <p className="py-2 text-ink-soft">
          This formula has the shape of no sentence. It stays as it is; change it under Formula, or begin a sentence:{' '}
          <Begin onBegin={setDraft} />
        </p>
      ) : (
        <div className="py-1">
          <p className="mb-2 text-ink-soft">What should it work out?</p>
          <Begin onBegin={setDraft} />
        </div>
      )}
    </div>
  );
}

function Begin({ onBegin }: { onBegin(s: Sentence): void }) {
  return (
    <span className="flex flex-wrap gap-2">
      {SENTENCES.map((s) => (
        <Button key={s.label} small onClick={() => onBegin(s.begin)} title={s.hint}>
          {s.label}
        </Button>
      ))}
    </span>
  );
}

/** What a formula gives for the first records. */
function TrialResults({ trial }: { trial: FormulaTrial }) {
  if (trial.problems.some((p) => p.severity === 'error')) return null;
  return (
    <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-sm">
      {trial.samples.map((s, i) => (
        <span key={i}>
          <b className="font-semibold">{s.title}</b> <span className="text-kelp">{s.value || 'nothing'}</span>
        </span>
      ))}
      <span className="text-ink-faint">a {trial.type}</span>
    </p>
  );
}

/** Writes a formula: names to put in, problems in words, results for real records while typing. */
function FormulaEditor({ table, field }: { table: Table; field: Field }) {
  const model = useModel();
  const { edit } = useStudio();
  const shown = model.shown(field.formula ?? '');
  const [text, setText] = useState(shown);
  const area = useRef<HTMLTextAreaElement>(null);
  const editing = useRef(false);
  const place = useMemo(() => ({ self: table.id, given: null }), [table.id]);
  const trial = useTrial(place, text, 4);
  const circle = model.formula(table.id, field).problems.find((p) => /circle|itself/.test(p.message));
  useEffect(() => {
    if (!editing.current) setText(shown);
  }, [shown]);

  // What is typed is kept as it stands, so that closing the tab loses nothing; a broken formula gives nothing until it is mended.
  useEffect(() => {
    if (!trial || !editing.current || trial.stored === field.formula) return;
    void edit(
      `Changed the formula of ${field.name}`,
      (a) => {
        a.tables.find((t) => t.id === table.id)!.fields.find((f) => f.id === field.id)!.formula = trial.stored;
      },
      { merge: `formula-${field.id}` },
    );
  }, [trial]); // eslint-disable-line react-hooks/exhaustive-deps

  const insert = (what: string): void => {
    const a = area.current!;
    const next = text.slice(0, a.selectionStart) + what + text.slice(a.selectionEnd);
    const at = a.selectionStart + what.length;
    editing.current = true;
    setText(next);
    requestAnimationFrame(() => {
      a.focus();
      a.setSelectionRange(at, at);
    });
  };
  const broken = trial?.problems.some((p) => p.severity === 'error');
  return (
    <div className="mt-2 grid grid-cols-[1fr_190px] gap-4 max-[1100px]:grid-cols-1">
      <div className="min-w-0">
        <textarea
          ref={area}
          rows={2}
          spellCheck={false}
          aria-label={`Formula of ${field.name}`}
          aria-invalid={broken}
          value={text}
          onFocus={() => {
            editing.current = true;
          }}
          onBlur={() => {
            editing.current = false;
          }}
          onChange={(e) => {
            editing.current = true;
            setText(e.target.value);
          }}
          placeholder="for example: sum(Visits.Fed litres)"
          className="field field-sizing-content min-h-[52px] resize-none !bg-paper font-mono text-[12.5px] leading-5"
        />
        {circle && <p className="mt-2 text-sm text-persimmon-deep">{circle.message}</p>}
        <Problems text={text} trial={trial} />
        {trial && <TrialResults trial={trial} />}
        {!text && (
          <p className="mt-2 text-sm text-ink-soft">
            A formula works a value out from the record and what it links to. Press a name to put it in.
          </p>
        )}
      </div>
      <div
        className="thin-scroll flex max-h-32 flex-wrap content-start gap-1 overflow-auto"
        aria-label="Names to put in"
      >
        {model
          .members(table.id)
          .filter((m) => m.id !== field.id)
          .map((m) => (
            <button
              key={m.id}
              type="button"
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => insert(m.name)}
              className={clsx(
                'rounded px-1.5 py-px text-xs',
                m.type.k === 'record' || m.type.k === 'list' ? 'bg-dusk-wash text-dusk' : 'bg-kelp-wash text-kelp',
              )}
            >
              {m.name}
            </button>
          ))}
        {['sum', 'count', 'max', 'min', 'mean', 'string join', 'today', 'now'].map((f) => (
          <button
            key={f}
            type="button"
            title={builtins().get(f)?.help}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => insert(f === 'today' || f === 'now' ? `${f}()` : `${f}(`)}
            className="rounded bg-sunk px-1.5 py-px font-mono text-[11px]"
          >
            {f}
          </button>
        ))}
      </div>
    </div>
  );
}
