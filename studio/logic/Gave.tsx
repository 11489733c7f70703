import { timeTaken } from '../ui/time-taken.ts';
import { clsx } from 'clsx';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { fileName, fileType } from '../../core/fields/kept-address.ts';
import type { Shown, StepTrace } from '../../core/routines/state.ts';
import type { PhoneApi } from '../../core/phone/api.ts';
import { useKept } from '../../player/kept.ts';
import { useStudio } from '../state/studio.ts';
import { Popover } from '../ui/popover.tsx';

/** What a step gave in the run that is shown; of several turns, the last, and the way to the others. */
export function Gave({ traces, ran }: { traces: readonly StepTrace[]; ran: boolean }) {
  const [at, setAt] = useState<number | null>(null);
  const shown = Math.min(at ?? traces.length - 1, traces.length - 1);
  const trace = traces[shown];
  const total = traces.reduce((n, t) => n + t.ms, 0);
  if (!trace) return <div className="pl-2 text-sm leading-[30px] text-ink-faint">{ran ? 'not reached' : ''}</div>;
  return (
    <div className="pl-2 text-sm leading-[30px]">
      <span
        className={clsx('line-clamp-2 pt-1.5 leading-[18px]', trace.error ? 'text-persimmon-deep' : 'text-kelp')}
        title={trace.error ?? trace.said}
      >
        {trace.error ?? trace.gave} <span className="font-mono text-xs text-ink-faint">{timeTaken(trace.ms)}</span>
      </span>
      {trace.shows && <Shows of={trace.shows} />}
      {traces.length > 1 && (
        <span className="flex items-center gap-1 text-xs leading-[18px] text-ink-soft">
          <button
            type="button"
            aria-label="The turn before"
            disabled={shown === 0}
            onClick={() => setAt(shown - 1)}
            className="disabled:opacity-30"
          >
            <ChevronLeft size={13} aria-hidden />
          </button>
          {shown + 1} of {traces.length}
          <button
            type="button"
            aria-label="The turn after"
            disabled={shown === traces.length - 1}
            onClick={() => setAt(shown + 1)}
            className="disabled:opacity-30"
          >
            <ChevronRight size={13} aria-hidden />
          </button>
          <span className="font-mono text-ink-faint">{timeTaken(total)}</span>
        </span>
      )}
    </div>
  );
}

/** What a step gave, as itself: a picture, a sound, a list, a message. */
function Shows({ of }: { of: Shown }) {
  const api = useStudio((s) => s.phone);
  if ('file' in of) return api && <FileShown api={api} address={of.file} />;
  const title = 'list' in of ? 'Show the list' : 'Show the message';
  return (
    <Popover
      align="end"
      width={320}
      trigger={
        <button type="button" className="text-xs font-semibold text-kelp underline underline-offset-2">
          {title}
        </button>
      }
    >
      {() =>
        'list' in of ? (
          <ol className="thin-scroll max-h-72 list-decimal overflow-y-auto py-2 pr-3 pl-9">
            {of.list.map((words, i) => (
              <li key={i}>{words || 'nothing'}</li>
            ))}
            {of.of > of.list.length && <li className="list-none text-ink-faint">and {of.of - of.list.length} more</li>}
          </ol>
        ) : (
          <div className="px-3 py-2">
            <p className="text-ink-soft">To {of.to.join(', ')}</p>
            {of.subject && <p className="font-semibold">{of.subject}</p>}
            <p className="whitespace-pre-wrap">{of.body}</p>
          </div>
        )
      }
    </Popover>
  );
}

function FileShown({ api, address }: { api: PhoneApi; address: string }) {
  const { url } = useKept(api, address);
  const type = fileType(address) ?? '';
  if (!url) return null;
  if (type.startsWith('image/'))
    return <img src={url} alt={fileName(address)} className="my-1 max-h-20 max-w-full rounded-md border border-line" />;
  if (type.startsWith('audio/')) return <audio controls src={url} className="my-1 h-8 w-full" />;
  return <span className="block truncate text-xs text-ink-soft">{fileName(address)}</span>;
}
