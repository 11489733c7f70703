import { Pause, Play, RotateCcw, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { NEAR } from '../../core/runs/day.ts';
import { startsByHost } from '../../core/runs/starting.ts';
import type { BoardMessage } from '../../core/runs/board.ts';
import { useApp, useHome } from '../state/studio.ts';
import { useTrace } from '../state/trace.ts';
import { Button, Empty, IconButton, Note } from '../ui/controls.tsx';
import { timeTaken } from '../ui/time-taken.ts';
import { momentWords } from './moment.ts';
import { useBoard, type RunWish } from './useBoard.ts';

type Live = BoardMessage['live'][number];
type Past = BoardMessage['past'][number];

/** What the host of the released app does: what failed, runs, holds, comes next, and has been. */
export function Board() {
  const app = useApp();
  const { address, board, problem, wish, trace, setProblem } = useBoard();
  const home = useHome();
  const navigate = useNavigate();
  const name = (id: string): string => app.routines.find((r) => r.id === id)?.name ?? 'A routine that is gone';
  /** Shows a run beside the steps of its routine. */
  const open = async (run: Past | Live): Promise<void> => {
    const found = await trace(run.id).catch((e: Error) => {
      setProblem(e.message);
      return null;
    });
    if (!found) return;
    useTrace.getState().show(found, new Date(run.at));
    void navigate(`${home}/logic/${run.routine}`);
  };
  if (!address)
    return (
      <Empty
        title="Nothing runs on the server yet"
        words="Routines that start on the server, by the clock or when records change, work while phones sleep. They begin when the app is released."
      />
    );
  if (!board) return <p className="text-ink-soft">{problem || 'Asking the server…'}</p>;
  const isPaused = board.paused.includes('');
  const of = (...stands: Live['stands'][]): Live[] => board.live.filter((r) => stands.includes(r.stands));
  const count = (...stands: Live['stands'][]): number => stands.reduce((n, s) => n + (board.counts[s] ?? 0), 0);
  const row = (run: Live | Past, words: ReactNode, more?: ReactNode) => (
    <Row key={run.id} name={name(run.routine)} given={run.given} onOpen={() => void open(run)} words={words}>
      {more}
    </Row>
  );
  const isEmpty = board.live.length === 0 && board.past.length === 0 && board.next.length === 0;
  return (
    <>
      <header className="mb-4 flex items-center gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="text-xl">Board</h1>
          <p className="text-ink-soft">
            What the server does for <b className="font-semibold text-ink">{address}</b>, whether a phone is open or not
          </p>
        </div>
        <Button
          icon={isPaused ? Play : Pause}
          look={isPaused ? 'main' : 'plain'}
          onClick={() => void wish({ do: isPaused ? 'go on' : 'pause', routine: '' })}
        >
          {isPaused ? 'Go on' : 'Pause all'}
        </Button>
      </header>
      {problem && (
        <div className="mb-3">
          <Note tone="bad">{problem}</Note>
        </div>
      )}
      {isPaused && (
        <div className="mb-3">
          <Note>All routines of the server are held up. What starts them is kept, and begins when they go on.</Note>
        </div>
      )}
      {board.day
        .filter((d) => d.used >= d.most * NEAR)
        .map((d) => (
          <div key={d.of} className="mb-3">
            <Note tone={d.used >= d.most ? 'bad' : 'look'}>{dayWords(d)}</Note>
          </div>
        ))}
      {isEmpty && (
        <Empty
          title="Nothing has happened yet"
          words={
            startsByHost(app)
              ? 'As soon as something starts a routine on the server, it is seen here.'
              : 'No routine starts on the server. Open one, and choose below its name what starts it there: a changed record, the clock, a date.'
          }
        />
      )}
      <div className="space-y-3">
        <Part title="Failed" count={count('failed')} tone="bad">
          {of('failed').map((r) =>
            row(
              r,
              <b className="font-medium text-persimmon-deep">{r.error}</b>,
              <RunButtons run={r} wish={wish} again />,
            ),
          )}
        </Part>
        <Part title="Runs now" count={count('runs', 'waits', 'retries')}>
          {of('runs', 'waits', 'retries').map((r) =>
            row(
              r,
              r.stands === 'retries'
                ? `${r.error} It is tried again at ${momentWords(r.wakes ?? r.at)}.`
                : r.stands === 'waits'
                  ? `waits for its turn: ${r.said}`
                  : r.said,
              r.stands === 'retries' && <RunButtons run={r} wish={wish} again />,
            ),
          )}
        </Part>
        <Part title="Holds" count={count('holds')}>
          {of('holds').map((r) =>
            row(
              r,
              <>
                {r.returned && <span className="text-persimmon-deep">A mail of it did not arrive. {r.returned} </span>}
                {r.holdsFor || 'waits'}
                <span className="text-ink-faint">
                  {' '}
                  · since {momentWords(r.at)}
                  {r.earlier && ', with the steps of an earlier release'}
                  {r.wakes !== null && `, until ${momentWords(r.wakes)} at the latest`}
                </span>
              </>,
              <RunButtons run={r} wish={wish} />,
            ),
          )}
        </Part>
        <Part title="Starts next" count={board.next.length}>
          {board.next.slice(0, 12).map((n) => (
            <Row key={`${n.routine} ${n.at} ${n.said}`} name={name(n.routine)} given="" words={n.said}>
              <span className="text-ink-soft tabular-nums">{momentWords(n.at)}</span>
            </Row>
          ))}
        </Part>
        <ByRoutine board={board} name={name} wish={wish} />
        <Part title="Lately" count={board.past.length}>
          {board.past.map((p) =>
            row(
              p,
              p.error || p.returned ? (
                <span className="text-persimmon-deep">{p.error || `A mail of it did not arrive. ${p.returned}`}</span>
              ) : (
                p.said
              ),
              <span className="text-ink-faint tabular-nums">
                {momentWords(p.at)} · {timeTaken(p.ms)}
              </span>,
            ),
          )}
        </Part>
      </div>
    </>
  );
}

/** What an app has used of what it may in a day, and what that means. */
function dayWords({ of, used, most }: BoardMessage['day'][number]): string {
  const n = (x: number): string => x.toLocaleString('en-GB');
  const what = of === 'minutes' ? 'minutes of work' : of;
  return used >= most
    ? `The app has used all ${n(most)} ${what} that it may in 24 hours. What starts is kept, and goes on as soon as it may. Whoever runs the server can allow more.`
    : `The app has used ${n(used)} of the ${n(most)} ${what} that it may in 24 hours. After that it waits until it may again.`;
}

function Part({
  title,
  count,
  tone = 'plain',
  children,
}: {
  title: string;
  count: number;
  tone?: 'plain' | 'bad';
  children: ReactNode;
}) {
  if (count === 0) return null;
  return (
    <section aria-label={title} className="card px-4 py-2.5">
      <h2 className={`mb-0.5 text-md font-semibold ${tone === 'bad' ? 'text-persimmon-deep' : ''}`}>
        {title} <span className="font-normal text-ink-faint tabular-nums">{count.toLocaleString('en-GB')}</span>
      </h2>
      <ul className="divide-y divide-line">{children}</ul>
    </section>
  );
}

function Row({
  name,
  given,
  words,
  onOpen,
  children,
}: {
  name: string;
  given: string;
  words: ReactNode;
  onOpen?: () => void;
  children?: ReactNode;
}) {
  return (
    <li className="flex min-h-[34px] items-center gap-3 py-1">
      <span className="w-[34%] min-w-0 shrink-0 truncate">
        {onOpen ? (
          <button
            type="button"
            className="font-semibold underline decoration-line-strong underline-offset-4"
            onClick={onOpen}
          >
            {name}
          </button>
        ) : (
          <b className="font-semibold">{name}</b>
        )}
        {given && <span className="text-ink-soft"> · {given}</span>}
      </span>
      {/* Why something failed, and what is held for, are read whole. */}
      <span className={`min-w-0 flex-1 text-ink-soft ${typeof words === 'string' ? 'line-clamp-2' : ''}`}>{words}</span>
      <span className="flex shrink-0 items-center gap-1 text-sm">{children}</span>
    </li>
  );
}

/** What can be done about a run by hand. */
function RunButtons({ run, wish, again = false }: { run: Live; wish(w: RunWish): Promise<void>; again?: boolean }) {
  return (
    <>
      {again && (
        <Button small icon={RotateCcw} onClick={() => void wish({ do: 'run again', id: run.id })}>
          Run again from here
        </Button>
      )}
      <IconButton icon={X} label="End this run" onClick={() => void wish({ do: 'end', id: run.id })} />
    </>
  );
}

/** How often each routine ran lately, how long it took, and whether it is held up. */
function ByRoutine({
  board,
  name,
  wish,
}: {
  board: BoardMessage;
  name(id: string): string;
  wish(w: RunWish): Promise<void>;
}) {
  const ids = [...new Set([...Object.keys(board.routines), ...board.paused.filter(Boolean)])];
  return (
    <Part title="By routine" count={ids.length}>
      {ids.map((id) => {
        const of = board.routines[id];
        const isPaused = board.paused.includes(id);
        return (
          <Row
            key={id}
            name={name(id)}
            given=""
            words={
              of
                ? `${of.runs} ${of.runs === 1 ? 'run' : 'runs'}, ${timeTaken(of.ms)} each${of.failed ? `, ${of.failed} failed` : ''}`
                : 'held up before it ran'
            }
          >
            <Button
              small
              icon={isPaused ? Play : Pause}
              onClick={() => void wish({ do: isPaused ? 'go on' : 'pause', routine: id })}
            >
              {isPaused ? 'Go on' : 'Pause'}
            </Button>
          </Row>
        );
      })}
    </Part>
  );
}
