import { clsx } from 'clsx';
import { useEffect, useMemo, useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import { SERVER, type Note } from '../../core/rehearsal/notes.ts';
import { useHome } from '../state/studio.ts';
import { useTrace } from '../state/trace.ts';
import { ExpectThis } from './ExpectThis.tsx';
import { useRoom } from './room.ts';

const LANE = 15;
const TONES: Record<Note['sort'], string> = {
  done: 'bg-dusk',
  travelled: 'bg-line-strong',
  taken: 'bg-kelp',
  run: 'bg-kelp',
  sent: 'bg-saffron',
  told: 'bg-dusk',
  refused: 'bg-persimmon',
};
/** So many of the latest are drawn. */
const DRAWN = 400;

/** Where a note leads to, below the app. */
function placeOf({ about }: Note): string | null {
  if (!about) return null;
  if (about.routine) return `logic/${about.routine}`;
  if (about.screen) return `screens/${about.screen}${about.element ? `/${about.element}` : ''}`;
  if (about.table) return `data/${about.table}`;
  return null;
}

/** Everything that happened, on one line of time with a lane for each phone and one for the server. */
export function RoomTrace() {
  const all = useRoom((s) => s.notes);
  const engine = useRoom((s) => s.engine);
  const phones = useRoom((s) => s.state?.phones) ?? [];
  const home = useHome();
  const navigate = useNavigate();
  /** Shows a run beside the steps of its routine. */
  const showRun = async (note: Note): Promise<void> => {
    const run = await engine!.room.runOf(note.n).catch(() => null);
    if (run) useTrace.getState().show(run, new Date(note.at));
  };
  const end = useRef<HTMLLIElement>(null);
  const notes = useMemo(() => all.slice(-DRAWN), [all]);
  const names = useMemo(
    () => new Map([...phones.map((p) => [p.id, p.name] as const), [SERVER, 'Server'] as const]),
    [phones],
  );
  const lanes = [...names.keys()];
  // The latest is followed, as long as nobody looks at what came before.
  const follows = useRef(true);
  useEffect(() => {
    if (follows.current) end.current?.scrollIntoView({ block: 'nearest' });
  }, [notes]);
  useEffect(() => {
    const box = end.current?.closest('[data-scrolls]');
    const look = (): void => {
      if (box) follows.current = box.scrollTop + box.clientHeight > box.scrollHeight - 40;
    };
    box?.addEventListener('scroll', look);
    return () => box?.removeEventListener('scroll', look);
  }, [notes.length === 0]);
  if (notes.length === 0)
    return (
      <p className="px-4 py-3 text-ink-soft">Nothing yet. Use a phone, let time pass, or write a mail to the app.</p>
    );
  return (
    <ol className="py-1.5">
      {notes.map((n, i) => {
        const to = placeOf(n);
        const before = notes[i - 1]?.at;
        const isNewDay = before === undefined || day(before) !== day(n.at);
        const isNew = isNewDay || clock(before) !== clock(n.at);
        return (
          <li key={n.n} ref={i === notes.length - 1 ? end : undefined} className="group flex gap-2.5 px-4">
            <span className="w-[58px] shrink-0 pt-1 font-mono text-xs leading-5 text-ink-faint">
              {isNewDay && <span className="block text-ink-soft">{day(n.at)}</span>}
              {isNew && clock(n.at)}
            </span>
            <span aria-hidden className="relative shrink-0" style={{ width: lanes.length * LANE }}>
              {lanes.map((lane, at) => (
                <span key={lane} className="absolute inset-y-0 w-px bg-line" style={{ left: at * LANE + LANE / 2 }} />
              ))}
              <span
                className={clsx(
                  'absolute top-[9px] size-[9px] -translate-x-1/2 rounded-full ring-2 ring-raised',
                  TONES[n.sort],
                )}
                style={{ left: Math.max(0, lanes.indexOf(n.of)) * LANE + LANE / 2 + 0.5 }}
              />
            </span>
            <span className={clsx('min-w-0 flex-1 py-1 break-words', n.sort === 'refused' && 'text-persimmon-deep')}>
              <b className={clsx('font-semibold', n.of === SERVER ? 'text-kelp' : 'text-dusk')}>
                {names.get(n.of) ?? 'Somebody'}
              </b>{' '}
              {to ? (
                <Link
                  to={`${home}/${to}`}
                  title={n.ofRun ? 'Show its steps' : 'Go there'}
                  className="hover:underline"
                  onClick={(e) => {
                    if (!n.ofRun || e.metaKey || e.ctrlKey || e.shiftKey) return;
                    e.preventDefault();
                    void showRun(n).then(() => navigate(`${home}/${to}`));
                  }}
                >
                  {n.said}
                </Link>
              ) : (
                n.said
              )}
            </span>
            {n.of !== SERVER && (n.sort === 'told' || n.sort === 'refused') && (
              <ExpectThis what={n.said} expect={() => engine!.expectNote(n.n)} />
            )}
          </li>
        );
      })}
    </ol>
  );
}

const clock = (at: number): string => new Date(at).toLocaleTimeString('en-GB');
const day = (at: number): string => new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
