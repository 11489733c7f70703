import { useEffect, useMemo, useRef, useState } from 'react';
import type { Field, Table } from '../../core/tables/schema.ts';
import type { Problem } from '../../core/formula/ast.ts';
import { setFormula } from '../../core/app/formula-unit.ts';
import { formatFormula } from '../../core/formula/format-text.ts';
import { toFormula, toSentence, type Sentence } from '../../core/formula/guided.ts';
import { toStored } from '../../core/formula/stored.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { CodeEditor, type CodeHandle } from '../chips/CodeEditor.tsx';
import { InWords, Problems, useOptions, useTrial } from '../chips/FormulaBox.tsx';
import { useModel } from '../state/model.ts';
import type { FormulaTrial } from '../engine/trying.ts';
import { useStudio } from '../state/studio.ts';
import { Button, Segmented } from '../ui/controls.tsx';
import { SENTENCES, SentenceCard } from './SentenceCard.tsx';

/** A formula field, as a sentence where it has the shape of one, or as a formula. */
export function FormulaCard({ table, field }: { table: Table; field: Field }) {
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const stored = field.formula ?? '';
  const written = useMemo(() => toSentence(stored), [stored]);
  const [mode, setMode] = useState<'sentence' | 'formula'>(() => (written || !stored ? 'sentence' : 'formula'));
  // A sentence with places to fill in yet has no formula; it is kept here until it has.
  const [draft, setDraft] = useState<Sentence | null>(null);
  const sentence = draft ?? written;
  const place = useMemo(() => ({ self: table.id, things: [] }), [table.id]);
  const formula = sentence ? toFormula(sentence) : null;
  const trial = useTrial(place, mode === 'sentence' && formula ? model.shown(formula) : '', 4);

  const change = (next: Sentence): void => {
    const text = toFormula(next);
    setDraft(text === null ? next : null);
    if (text !== null && text !== stored)
      void edit(
        `Changed the formula of ${field.name}`,
        (a) => {
          setFormula(
            a,
            a.tables.find((t) => t.id === table.id)!.fields.find((f) => f.id === field.id)!,
            text,
          );
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

/** Writes a formula: completion, problems in place, results for real records while typing. */
function FormulaEditor({ table, field }: { table: Table; field: Field }) {
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const shown = model.shown(field.formula ?? '');
  const [text, setText] = useState(shown);
  const code = useRef<CodeHandle>(null);
  const editing = useRef(false);
  const place = useMemo(() => ({ self: table.id, things: [] }), [table.id]);
  const options = useOptions(place);
  const trial = useTrial(place, text, 6);
  const circle = model.formula(table.id, field).problems.find((p) => /circle|itself/.test(p.message));
  useEffect(() => {
    if (!editing.current) setText(shown);
  }, [shown]);

  // What is typed is kept at once, as it stands, so that closing the tab loses nothing; a broken formula gives nothing until it is mended.
  const write = (next: string): void => {
    editing.current = true;
    setText(next);
    const { stored } = toStored(next, options);
    if (stored === field.formula) return;
    void edit(
      `Changed the formula of ${field.name}`,
      (a) => {
        setFormula(
          a,
          a.tables.find((t) => t.id === table.id)!.fields.find((f) => f.id === field.id)!,
          stored,
        );
      },
      { merge: `formula-${field.id}` },
    );
  };
  const tidy = formatFormula(text, options.names?.map((n) => n.name) ?? []);
  return (
    <div className="mt-2 grid grid-cols-[1fr_250px] gap-5 max-[1100px]:grid-cols-1">
      <div className="min-w-0">
        <CodeEditor
          ref={code}
          label={`Formula of ${field.name}`}
          value={text}
          options={options}
          problems={trial?.problems ?? NONE}
          placeholder="for example: sum(Visits.Fed litres)"
          onChange={write}
          onFocus={(focused) => {
            editing.current = focused;
          }}
        />
        <div className="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1 text-xs text-ink-faint">
          <button
            type="button"
            className="rounded px-1 font-semibold text-dusk hover:bg-dusk-wash disabled:text-ink-faint"
            disabled={tidy === text}
            onClick={() => write(tidy)}
          >
            Lay it out
          </button>
          <span>The record’s own fields come first; a whole table is called “all …”.</span>
        </div>
        {trial?.problems.some((p) => p.severity === 'error') && (
          <InWords text={text} options={options} onTake={write} />
        )}
        {circle && <p className="mt-2 text-sm text-persimmon-deep">{circle.message}</p>}
        <Problems text={text} trial={trial} inPlace />
      </div>
      <div className="min-w-0">
        {text ? (
          <FirstRecords trial={trial} />
        ) : (
          <p className="text-sm text-ink-soft">
            A formula works a value out from the record and what it links to. Begin with a name, or press Control with
            the space bar to see what there is.
          </p>
        )}
      </div>
    </div>
  );
}

const NONE: readonly Problem[] = [];

/** What the formula gives for the first records, one a line. */
function FirstRecords({ trial }: { trial: FormulaTrial | null }) {
  if (!trial || trial.problems.some((p) => p.severity === 'error'))
    return <p className="text-sm text-ink-faint">Results for the first records appear here.</p>;
  return (
    <table className="w-full table-fixed text-sm" aria-label="Results for the first records">
      <tbody>
        {trial.samples.map((s, i) => (
          <tr key={i} className="border-b border-line/60 last:border-0">
            <th scope="row" className="truncate py-0.5 pr-2 text-left font-semibold">
              {s.title}
            </th>
            <td className="truncate py-0.5 text-right text-kelp tabular-nums">
              {s.value || <span className="text-ink-faint">nothing</span>}
            </td>
          </tr>
        ))}
      </tbody>
      <caption className="caption-bottom pt-1 text-left text-xs text-ink-faint">a {trial.type}</caption>
    </table>
  );
}
