import { FolderSync, X } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useEngine, useHome, useStudio } from '../state/studio.ts';
import { Button, IconButton, Note } from '../ui/controls.tsx';
import { mirrorOf, useMirrors } from './useMirrors.ts';

const NEW = '';

/** Sets up the file that a table is kept in step with. */
export function MirrorCard({ table, onClose }: { table: Table; onClose(): void }) {
  const home = useHome();
  const navigate = useNavigate();
  const { state, again } = useMirrors();
  const mirror = mirrorOf(state, table.id);
  const engine = useEngine();
  const released = useStudio((s) => s.kept?.released);
  const known = released?.app.tables.some((t) => t.id === table.id);
  return (
    <section
      aria-label="Mirror a file"
      className="card thin-scroll mx-6 mb-4 max-h-[46%] shrink-0 overflow-auto px-5 py-3.5"
    >
      <div className="flex items-center gap-2.5">
        <FolderSync size={16} className="text-ink-soft" aria-hidden />
        <h2 className="flex-1 text-[15px]">Mirror a file</h2>
        <IconButton icon={X} label="Close this card" onClick={onClose} />
      </div>
      <p className="mt-1 max-w-[720px] text-ink-soft">
        A CSV or XLSX file in the server’s sheets folder stays in step with {table.name}, both ways: what is saved in
        the file is here within two seconds, and what is changed here is in the file, cell by cell. Columns the table
        does not have are left alone.
      </p>
      {!released || !known ? (
        <div className="mt-3">
          <Note
            action={
              <Button small onClick={() => void navigate(`${home}/release`)}>
                Go to Release
              </Button>
            }
          >
            {released
              ? `The server does not know ${table.name} yet. Release the app again, then mirror it.`
              : 'The server keeps files in step even while the studio is closed, so it needs the app first. Release it, then mirror a file.'}
          </Note>
        </div>
      ) : mirror ? (
        <div className="mt-3 flex items-center gap-3">
          <span className="flex-1">
            It mirrors <b className="font-semibold">{mirror.file}</b> in the server’s sheets folder.
          </span>
          <Button
            small
            look="danger"
            onClick={() =>
              void engine.host.unmirror(table.id).then(() => {
                again();
                toast(`${table.name} and ${mirror.file} go their own ways now; both stay as they are.`);
              })
            }
          >
            Stop mirroring
          </Button>
        </div>
      ) : (
        state && <SetUp table={table} state={state} onDone={again} />
      )}
    </section>
  );
}

function SetUp({
  table,
  state,
  onDone,
}: {
  table: Table;
  state: NonNullable<ReturnType<typeof useMirrors>['state']>;
  onDone(): void;
}) {
  const engine = useEngine();
  const [file, setFile] = useState<string>(state.files.find((f) => !f.problem)?.name ?? NEW);
  const [sheet, setSheet] = useState<string | null>(null);
  const [name, setName] = useState(`${table.name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-')}.csv`);
  const [first, setFirst] = useState<'file' | 'app'>('file');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const chosen = state.files.find((f) => f.name === file);
  const begin = (): void => {
    setBusy(true);
    setProblem('');
    engine.host
      .mirror(table.id, { file: file === NEW ? name.trim() : file, sheet, first, create: file === NEW })
      .then(onDone, (e: Error) => setProblem(e.message))
      .finally(() => setBusy(false));
  };
  return (
    <>
      <p className="sentence mt-2">
        Keep it in step with{' '}
        <ChoiceChip
          name="File"
          tone="data"
          value={file}
          choices={[
            ...state.files.map((f) => ({
              value: f.name,
              label: f.name,
              hint: f.problem ? 'cannot be read' : undefined,
            })),
            { value: NEW, label: 'a new file' },
          ]}
          onChange={(f) => {
            setFile(f);
            setSheet(null);
          }}
        />
        {file === NEW && (
          <>
            {' '}
            called{' '}
            <input
              aria-label="Name of the new file"
              className="field mx-1 !inline !w-48"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </>
        )}
        {chosen && chosen.sheets.length > 1 && (
          <>
            , sheet{' '}
            <ChoiceChip
              name="Sheet"
              value={sheet ?? chosen.sheets[0]!}
              choices={chosen.sheets.map((s) => ({ value: s, label: s }))}
              onChange={setSheet}
            />
          </>
        )}
        {file !== NEW && (
          <>
            ; where both have a value the first time,{' '}
            <ChoiceChip
              name="Whose value"
              value={first}
              choices={[
                { value: 'file' as const, label: 'the file’s' },
                { value: 'app' as const, label: 'the app’s' },
              ]}
              onChange={setFirst}
            />{' '}
            stands
          </>
        )}
        .
      </p>
      {chosen?.problem && <p className="mt-1 text-persimmon-deep">{chosen.problem}</p>}
      {problem && (
        <p role="alert" className="mt-1 text-persimmon-deep">
          {problem}
        </p>
      )}
      <div className="mt-2 flex items-center gap-3">
        <Button small look="main" disabled={busy || Boolean(chosen?.problem)} onClick={begin}>
          {busy ? 'Reading the file' : 'Begin to mirror'}
        </Button>
        <span className="truncate text-sm text-ink-faint">Whoever runs the server can put files there.</span>
      </div>
    </>
  );
}
