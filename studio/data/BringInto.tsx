import { GUESSES } from '../../kinds/fields/guesses.ts';
import { proxy } from 'comlink';
import { ArrowRight, Download, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { Field, Table } from '../../core/tables/schema.ts';
import { writableFields } from '../../core/formats/reimport.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { DayOrder } from '../../core/fields/read-text.ts';
import type { ImportColumn, ImportPreview, ImportResult } from '../engine/importing.ts';
import { download } from '../state/keep.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';

const number = (n: number): string => n.toLocaleString('en-GB');

/** Brings a file into a table that is there: how its columns fit, how its records are found, and what it would do. */
export function BringInto({ table, file, onClose }: { table: Table; file: File; onClose(): void }) {
  const engine = useEngine();
  const noteEdit = useStudio((s) => s.noteEdit);
  const [preview, setPreview] = useState<ImportPreview | null>(null);
  const [problem, setProblem] = useState('');
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  /** What happened, when it did not all go through. */
  const [late, setLate] = useState<ImportResult | null>(null);

  useEffect(() => {
    let current = true;
    void (async () => {
      try {
        const bytes = file.size > 52 * 1024 * 1024 ? null : new Uint8Array(await file.arrayBuffer());
        const first = await engine.importing.read(table.id, file.name, bytes, file.size);
        if (current) setPreview(first);
      } catch (e) {
        if (current) setProblem((e as Error).message);
      }
    })();
    return () => {
      current = false;
    };
  }, [engine, table.id, file]);

  const change = (to: Parameters<typeof engine.importing.plan>[1]): void =>
    void engine.importing.plan(table.id, to).then(setPreview);
  const bringIn = async (): Promise<void> => {
    setProgress({ done: 0, of: preview!.added + preview!.changed });
    const result = await engine.importing.run(proxy((done: number, of: number) => setProgress({ done, of })));
    setProgress(null);
    if (result.done) noteEdit(`Brought ${file.name} into ${table.name}`, result.written);
    if (result.refused.length || result.stopped) {
      setLate(result);
      return;
    }
    toast(`${number(preview!.added)} new and ${number(preview!.changed)} changed in ${table.name}.`);
    onClose();
  };
  const report = (refused: ImportResult['refused']): void =>
    download(
      `${file.name} report.csv`,
      `\uFEFFLine,Reason\r\n${refused.map((r) => `${r.line},"${r.reason.replace(/"/g, '""')}"`).join('\r\n')}\r\n`,
      'text/csv',
    );
  const fields = writableFields(table);
  return (
    <section
      aria-label={`Bring ${file.name} in`}
      className="card thin-scroll mx-6 mb-4 max-h-[60%] shrink-0 overflow-auto px-5 py-3.5"
    >
      <header className="flex items-center gap-3">
        <h2 className="min-w-0 flex-1 truncate text-[15px]">
          {file.name} into {table.name}
        </h2>
        <Button
          look="main"
          icon={ArrowRight}
          disabled={!preview || progress !== null || late !== null || preview.added + preview.changed === 0}
          onClick={() => void bringIn()}
        >
          {progress ? 'Bringing in' : 'Bring it in'}
        </Button>
        <IconButton icon={X} label="Leave it" onClick={onClose} />
      </header>
      {progress && (
        <div className="mt-2 flex items-center gap-3" role="status">
          <progress className="kite-progress flex-1" value={progress.done} max={progress.of} />
          <span className="tabular-nums">
            {number(progress.done)} of {number(progress.of)}
          </span>
          <Button small onClick={() => void engine.importing.stop()}>
            Stop
          </Button>
        </div>
      )}
      {late && (
        <div className="mt-2">
          <Note
            action={
              late.refused.length > 0 && (
                <Button small icon={Download} onClick={() => report(late.refused)}>
                  Save the report
                </Button>
              )
            }
          >
            {late.stopped ? `Stopped after ${number(late.done)}.` : `${number(late.done)} came in.`}{' '}
            {late.refused.length > 0 && `${number(late.refused.length)} were refused: ${late.refused[0]!.reason} `}
            Undo takes back what came in.
          </Note>
        </div>
      )}
      {problem && (
        <div className="mt-2">
          <Note tone="bad">{problem}</Note>
        </div>
      )}
      {!preview && !problem && (
        <p role="status" className="mt-2 text-ink-soft">
          Reading {file.name}
        </p>
      )}
      {preview && (
        <>
          <div className="sentence mt-1">
            {preview.sheets.length > 1 && (
              <>
                From the sheet{' '}
                <ChoiceChip
                  name="Sheet"
                  value={preview.sheet}
                  choices={preview.sheets.map((s, i) => ({ value: i, label: s }))}
                  onChange={(sheet) => change({ sheet })}
                />
                .{' '}
              </>
            )}
            A record is the same when its{' '}
            {preview.keys.map((k, i) => (
              <span key={k}>
                {i > 0 && ' and '}
                <ChoiceChip
                  name={`Key ${i + 1}`}
                  tone="data"
                  value={k}
                  choices={fields
                    .filter((f) => preview.mapping.includes(f.id))
                    .map((f) => ({ value: f.id, label: f.name }))}
                  onChange={(v) => change({ keys: preview.keys.map((x, j) => (j === i ? v : x)) })}
                />
                <button
                  type="button"
                  aria-label="Do not compare this field"
                  className="ml-0.5 text-ink-faint"
                  onClick={() => change({ keys: preview.keys.filter((_, j) => j !== i) })}
                >
                  <X size={12} className="inline" aria-hidden />
                </button>
              </span>
            ))}
            {preview.keys.length === 0 && <span className="text-ink-faint">nothing is compared: every row is new</span>}{' '}
            <ChoiceChip
              name="Compare by"
              label={preview.keys.length ? 'and…' : 'compare by'}
              value={null}
              choices={fields
                .filter((f) => preview.mapping.includes(f.id) && !preview.keys.includes(f.id))
                .map((f) => ({ value: f.id, label: f.name }))}
              onChange={(k) => change({ keys: [...preview.keys, k as string] })}
            />
            {preview.keys.length > 0 && ' is the same'}.
          </div>
          <ul className="mt-1.5 grid grid-cols-2 gap-x-6 max-[1150px]:grid-cols-1">
            {preview.columns.map((c, i) => (
              <li key={i} className="flex h-8 items-center gap-2 border-b border-line/60">
                <span className="min-w-0 flex-1 truncate">
                  <b className="font-semibold">{c.name}</b> <span className="text-ink-faint">{c.sample}</span>
                </span>
                <ReadAs
                  column={c}
                  field={fields.find((f) => f.id === preview.mapping[i])}
                  onChange={(how) => change({ column: { at: i, ...how } })}
                />
                <span aria-hidden className="text-ink-faint">
                  into
                </span>
                <ChoiceChip
                  name={`Field for ${c.name}`}
                  value={preview.mapping[i] ?? ''}
                  choices={[{ value: '', label: 'left out' }, ...fields.map((f) => ({ value: f.id, label: f.name }))]}
                  onChange={(id) =>
                    change({ mapping: preview.mapping.map((m, k) => (k === i ? id || null : m === id ? null : m)) })
                  }
                />
              </li>
            ))}
          </ul>
          <p className="mt-2.5 text-md">
            <b className="text-kelp">{number(preview.added)}</b> new,{' '}
            <b className="text-kelp">{number(preview.changed)}</b> changed, {number(preview.same)} as they are
            {preview.refusedCount > 0 && (
              <>
                , <b className="text-persimmon-deep">{number(preview.refusedCount)}</b> refused
              </>
            )}
            .{' '}
            {preview.gone > 0 && (
              <span className="text-ink-faint">
                {number(preview.gone)} of {table.name} are not in the file and stay.
              </span>
            )}
          </p>
          {preview.refusedCount > 0 && (
            <div className="mt-1.5">
              <ul>
                {preview.refused.slice(0, 4).map((r, i) => (
                  <li key={i} className="flex gap-3 text-sm">
                    <span className="w-14 shrink-0 font-mono text-xs leading-5 text-ink-faint">line {r.line}</span>
                    {r.reason}
                  </li>
                ))}
              </ul>
              <Button small icon={Download} className="mt-1.5" onClick={() => report(preview.refused)}>
                Save the report
              </Button>
            </div>
          )}
        </>
      )}
    </section>
  );
}

/** How a column is read where there are two ways: days or months first, a decimal comma or point. */
function ReadAs({
  column,
  field,
  onChange,
}: {
  column: ImportColumn;
  field: Field | undefined;
  onChange(how: { dayOrder?: DayOrder; decimal?: '.' | ',' }): void;
}) {
  if (field && GUESSES[field.type]?.asksDayOrder && /\d{1,2}[./-]\d{1,2}[./-]\d/.test(column.sample))
    return (
      <ChoiceChip
        name={`Dates of ${column.name}`}
        {...(column.ambiguous && { tone: 'empty' as const })}
        value={column.dayOrder}
        choices={[
          { value: 'day first' as const, label: 'day first' },
          { value: 'month first' as const, label: 'month first' },
        ]}
        onChange={(dayOrder) => onChange({ dayOrder })}
      />
    );
  if (field && ['number', 'money', 'percent'].includes(field.type) && /[.,]\d/.test(column.sample))
    return (
      <ChoiceChip
        name={`Decimals of ${column.name}`}
        value={column.decimal}
        choices={[
          { value: '.' as const, label: 'decimal point' },
          { value: ',' as const, label: 'decimal comma' },
        ]}
        onChange={(decimal) => onChange({ decimal })}
      />
    );
  return null;
}
