import { Clock, FastForward, RotateCcw, Square, UserPlus } from 'lucide-react';
import { useState } from 'react';
import { MOST_PHONES } from '../../core/rehearsal/cast.ts';
import type { Pace } from '../../core/rehearsal/pace.ts';
import { momentWords } from '../logic/moment.ts';
import { Button, IconButton, Segmented } from '../ui/controls.tsx';
import { Popover } from '../ui/popover.tsx';
import { AddPhone } from './AddPhone.tsx';
import { useRoom } from './room.ts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

/** The time of a rehearsal as it is written above the phones. */
export const roomTime = (at: number): string =>
  new Date(at).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

/** The one clock of the room: how it goes, and where it is to go. */
export function ClockBar() {
  const state = useRoom((s) => s.state);
  const engine = useRoom((s) => s.engine);
  const begin = useRoom((s) => s.begin);
  if (!state || !engine)
    return <header className="h-[52px] shrink-0 border-b border-line bg-raised" aria-label="Clock" />;
  const { now, pace, target, next } = state;
  const pass = (ms: number): void => void engine.room.pass(ms);
  return (
    <header
      aria-label="Clock"
      className="flex min-h-[52px] shrink-0 items-center gap-1.5 border-b border-line bg-raised px-4 py-2 max-[1240px]:flex-wrap"
    >
      <Clock size={16} aria-hidden className="shrink-0 text-ink-soft" />
      <time
        className="mr-1 shrink-0 font-head text-lg font-semibold whitespace-nowrap tabular-nums"
        dateTime={new Date(now).toISOString()}
      >
        {roomTime(now)}
      </time>
      <div className="shrink-0">
        <Segmented<Pace>
          label="The clock"
          value={pace}
          onChange={(p) => void engine.room.setPace(p)}
          options={[
            ['stands', 'Stands'],
            ['runs', 'Runs'],
            ['fast', 'Fast'],
          ]}
        />
      </div>
      {target === null ? (
        <>
          <Button small onClick={() => pass(10 * MINUTE)}>
            +10 min
          </Button>
          <Button small onClick={() => pass(24 * HOUR)}>
            +1 day
          </Button>
          <GoTo now={now} go={(at) => void engine.room.to(at)} />
          {next && (
            <Button
              small
              icon={FastForward}
              className="min-w-24 !shrink"
              title={next.said}
              onClick={() => void engine.room.to(next.at)}
            >
              <span className="truncate">
                To {momentWords(next.at, now)}, {next.said}
              </span>
            </Button>
          )}
        </>
      ) : (
        <>
          <span className="text-sm text-ink-soft" role="status">
            On the way to {momentWords(target, now)}
          </span>
          <Button small icon={Square} onClick={() => void engine.room.stop()}>
            Stop here
          </Button>
        </>
      )}
      <span className="ml-auto flex shrink-0 items-center gap-1.5">
        <IconButton icon={RotateCcw} label="Begin anew, with the records as they are" onClick={() => void begin()} />
        <AddPhone
          trigger={
            <Button icon={UserPlus} look="main" small disabled={state.phones.length >= MOST_PHONES}>
              Add a phone
            </Button>
          }
        />
      </span>
    </header>
  );
}

/** A moment that the clock is to go to. */
function GoTo({ now, go }: { now: number; go(at: number): void }) {
  const local = (at: number): string =>
    new Date(at - new Date(at).getTimezoneOffset() * MINUTE).toISOString().slice(0, 16);
  const [text, setText] = useState('');
  const at = Date.parse(text);
  const isAhead = at > now;
  return (
    <Popover
      trigger={
        <Button small onClick={() => setText(local(now + HOUR))}>
          To a time
        </Button>
      }
      width={260}
    >
      {(close) => (
        <form
          className="space-y-2 p-3.5"
          onSubmit={(e) => {
            e.preventDefault();
            if (!isAhead) return;
            close();
            go(at);
          }}
        >
          <input
            type="datetime-local"
            aria-label="The moment to go to"
            className="field w-full"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {!isAhead && (
            <p className="text-sm text-persimmon-deep">
              The clock does not go back: choose a later time, or begin anew.
            </p>
          )}
          <div className="flex justify-end">
            <Button look="main" type="submit" disabled={!isAhead}>
              Go there
            </Button>
          </div>
        </form>
      )}
    </Popover>
  );
}
