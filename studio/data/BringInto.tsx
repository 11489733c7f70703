import { ArrowRight, Download, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { Table } from '../../core/app/schema.ts';
import { writableFields } from '../../core/formats/reimport.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { ImportPreview } from '../engine/importing.ts';
import { download } from '../state/keep.ts';
import { useEngine, useStudio } from '../state/studio.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';

const number = (n: number): string => n.toLocaleString('en-GB');

/** Brings a file into a table that is there: how its columns fit, how its records are found, and what it would do. */
export function BringInto({ table, file, onClose }: { table: Table; file: File; onClose(): void }) {
  const engine = useEngine();
  const { editRecords } = useStudio();
  const [preview, setPreview] = useState<ImportPreview | null>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);

  useEffect(() => {
    let current = true;
    void (async () => {
      try {
        const bytes = file.size > 52 * 1024 * 1024 ? null : new Uint8Array(await file.arrayBuffer());
        const first = await engine.readImport(table.id, file.name, bytes, file.size);
        if (current) setPreview(first);
      } catch (e) {
        if (current) setProblem((e as Error).message);
      }
    })();
    return () => {
      current = false;
    };
  }, [engine, table.id, file]);

  const change = (to: Parameters<typeof engine.planImport>[1]): void =>
    void engine.planImport(table.id, to).then(setPreview);
  const bringIn = async (): Promise<void> => {
    setBusy(true);
    const drafts = await engine.importDrafts();
    await editRecords(`Brought ${file.name} into ${table.name}`, drafts);
    setBusy(false);
    if (useStudio.getState().problem) return;
    toast(`${number(preview!.added)} new and ${number(preview!.changed)} changed in ${table.name}.`);
    onClose();
  };
  const report = (): void =>
    download(
      `${file.name} report.csv`,
      `\uFEFFLine,Reason\r\n${preview!.refused.map((r) => `${r.line},"${r.reason.replace(/"/g, '""')}"`).join('\r\n')}\r\n`,
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
          disabled={!preview || busy || preview.added + preview.changed === 0}
          onClick={() => void bringIn()}
        >
          {busy ? 'Bringing in' : 'Bring it in'}
        </Button>
        <IconButton icon={X} label="Leave it" onClick={onClose} />
      </header>
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
              <Button small icon={Download} className="mt-1.5" onClick={report}>
                Save the report
              </Button>
            </div>
          )}
        </>
      )}
    </section>
  );
}
