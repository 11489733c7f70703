import { clsx } from 'clsx';
import { CircleAlert, FolderSync, RefreshCw, Settings2 } from 'lucide-react';
import { useState } from 'react';
import type { Table } from '../../core/tables/schema.ts';
import type { MirrorConflict, MirrorStatus } from '../../core/mirror/state.ts';
import type { MirrorAnswer } from '../engine/host-connection.ts';
import { useEngine } from '../state/studio.ts';
import { tellProblem } from '../state/saving.ts';
import { Button, IconButton } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { mirrorOf, useMirrors } from './useMirrors.ts';

const time = (iso: string): string =>
  new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });

/** What a table follows, as it is spoken of. */
const OTHER = { file: 'file', service: 'service' } as const;

const STATE_WORDS: Record<MirrorStatus['state'], string> = {
  'in step': 'in step',
  open: 'waiting',
  broken: 'cannot be read',
  gone: 'gone',
  renamed: 'renamed',
  held: 'rows are missing',
};

/** How a table stands with the file or the service it follows, with what a person should settle. Nothing for other tables. */
export function MirrorStrip({ table, onSettings }: { table: Table; onSettings(): void }) {
  const engine = useEngine();
  const { state, again } = useMirrors();
  const mirror = mirrorOf(state, table.id);
  const [busy, setBusy] = useState(false);
  if (!mirror) return null;
  const answer = (a: MirrorAnswer): void => {
    setBusy(true);
    engine.host
      .settle(table.id, a)
      .catch((e: Error) => tellProblem(e.message))
      .finally(() => {
        setBusy(false);
        again();
      });
  };
  const fine = mirror.state === 'in step';
  const isService = mirror.from === 'service';
  return (
    <div
      role="status"
      aria-label={isService ? 'Kept in step with a service' : 'Mirrored file'}
      className={clsx(
        'mx-6 mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 rounded-card border px-3 py-1.5',
        fine ? 'border-line bg-raised' : 'border-[#E8CE8A] bg-saffron-wash',
      )}
    >
      {isService ? (
        <RefreshCw size={15} className={fine ? 'text-kelp' : 'text-saffron'} aria-hidden />
      ) : (
        <FolderSync size={15} className={fine ? 'text-kelp' : 'text-saffron'} aria-hidden />
      )}
      <span className="min-w-0 truncate">
        {isService && (fine ? 'In step with ' : '')}
        {!isService && 'Mirrors '}
        <b className="font-semibold">{mirror.file}</b>
        {isService && ` of ${mirror.sheet}`}
        {(!isService || !fine) && (
          <>
            {isService ? ': ' : ' '}
            <span className={clsx(fine ? 'text-kelp' : 'font-semibold')}>
              {isService && mirror.state === 'broken' ? 'gives nothing' : STATE_WORDS[mirror.state]}
            </span>
          </>
        )}
        {fine && mirror.at && <span className="text-ink-faint"> since {time(mirror.at)}</span>}
      </span>
      {mirror.words && <span className="min-w-0 flex-1 text-ink-soft">{mirror.words}</span>}
      <span className="ml-auto flex items-center gap-2">
        {mirror.state === 'renamed' && (
          <Button small disabled={busy} onClick={() => answer({ about: 'name' })}>
            Follow “{mirror.renamedTo}”
          </Button>
        )}
        {mirror.state === 'held' && (
          <>
            <Button small disabled={busy} onClick={() => answer({ about: 'rows', take: 'write again' })}>
              {isService ? 'Add them there again' : 'Write them again'}
            </Button>
            <Button small look="danger" disabled={busy} onClick={() => answer({ about: 'rows', take: 'remove' })}>
              Remove them here too
            </Button>
          </>
        )}
        {mirror.misfits.length > 0 && (
          <Popover
            width={380}
            align="end"
            trigger={
              <Button small icon={CircleAlert}>
                {isService
                  ? `${mirror.misfits.length} ${mirror.misfits.length === 1 ? 'thing' : 'things'} to know`
                  : `${mirror.misfits.length} ${mirror.misfits.length === 1 ? 'cell does' : 'cells do'} not fit`}
              </Button>
            }
          >
            {() => (
              <ul
                className="p-3 text-sm"
                aria-label={isService ? 'What was said of the records' : 'Cells that do not fit'}
              >
                {mirror.misfits.map((m) => (
                  <li key={m}>{m}</li>
                ))}
                {!isService && (
                  <li className="mt-1.5 text-ink-soft">The file keeps them as they are, and the app what it had.</li>
                )}
              </ul>
            )}
          </Popover>
        )}
        {mirror.conflicts.length > 0 && (
          <Popover
            width={420}
            align="end"
            trigger={
              <Button small icon={CircleAlert}>
                {mirror.conflicts.length} {mirror.conflicts.length === 1 ? 'cell' : 'cells'} edited on both sides
              </Button>
            }
          >
            {() => <Conflicts list={mirror.conflicts} other={OTHER[mirror.from]} busy={busy} onAnswer={answer} />}
          </Popover>
        )}
        {mirror.unsure.length > 0 && (
          <Popover
            width={400}
            align="end"
            trigger={
              <Button small icon={CircleAlert}>
                {mirror.unsure.length} sent without an answer
              </Button>
            }
          >
            {() => <Unsure list={mirror.unsure} busy={busy} onAnswer={answer} />}
          </Popover>
        )}
        {isService ? (
          <Button small icon={RefreshCw} disabled={busy} onClick={() => answer({ about: 'now' })}>
            {busy ? 'Fetching…' : 'Fetch now'}
          </Button>
        ) : (
          <IconButton icon={Settings2} label="Settings of the mirrored file" onClick={onSettings} />
        )}
      </span>
    </div>
  );
}

/** What was sent to be added, and nobody knows whether it is there. */
function Unsure({
  list,
  busy,
  onAnswer,
}: {
  list: MirrorStatus['unsure'];
  busy: boolean;
  onAnswer(a: MirrorAnswer): void;
}) {
  return (
    <div className="p-3">
      <p className="text-sm text-ink-soft">
        No answer came, so it is not known whether the service has them. Look there first: what is sent again may be
        there twice.
      </p>
      <ul className="mt-2" aria-label="Sent without an answer">
        {list.map(({ record, title }) => (
          <li key={record} className="flex items-center gap-2 border-t border-line/70 py-2">
            <b className="min-w-0 flex-1 truncate font-semibold">{title}</b>
            <Button small disabled={busy} onClick={() => onAnswer({ about: 'unsure', record })}>
              Send it again
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Conflicts({
  list,
  other: outside,
  busy,
  onAnswer,
}: {
  list: MirrorConflict[];
  other: 'file' | 'service';
  busy: boolean;
  onAnswer(a: MirrorAnswer): void;
}) {
  return (
    <div className="p-3">
      <p className="text-sm text-ink-soft">
        {outside === 'file'
          ? 'Where a cell was edited in the file and in the app, the later edit stands. '
          : 'Where a value was changed at the service and in the app, that of the service stands, as well as where the service does not take it. '}
        A row removed on one side and edited on the other stays.
      </p>
      <ul className="mt-2" aria-label="Edits on both sides">
        {list.map((c) => {
          const kept = c.kept === 'file' ? c.fileShown : c.appShown;
          const other = c.kept === 'file' ? c.appShown : c.fileShown;
          return (
            <li key={c.id} className="border-t border-line/70 py-2">
              <p>
                <b className="font-semibold">{c.title}</b>
                {c.fieldName && <> › {c.fieldName}</>}: “{kept || 'nothing'}” from the{' '}
                {c.kept === 'file' ? outside : 'app'} stands, not “{other || 'nothing'}” from the{' '}
                {c.kept === 'file' ? 'app' : outside}. <span className="text-sm text-ink-faint">{time(c.at)}</span>
              </p>
              <p className="mt-1 flex gap-2">
                <Button small disabled={busy} onClick={() => onAnswer({ about: 'conflict', id: c.id, take: 'other' })}>
                  {c.field ? `Take “${(other || 'nothing').slice(0, 24)}”` : 'Remove it after all'}
                </Button>
                <Button
                  small
                  look="quiet"
                  disabled={busy}
                  onClick={() => onAnswer({ about: 'conflict', id: c.id, take: 'leave' })}
                >
                  Leave it
                </Button>
              </p>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
