import { timeTaken } from '../ui/time-taken.ts';
import { Activity, ChevronDown, ChevronUp } from 'lucide-react';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';
import { useSaving } from '../state/saving.ts';
import { useTrace, type TraceEntry } from '../state/trace.ts';
import { usePhone } from '../state/phone.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { ALL, KINDS, peopleOf, shownOf, type TraceFilter } from './trace-filter.ts';
import { Outbox } from './Outbox.tsx';
import { Segmented } from '../ui/controls.tsx';

const ms = (n: number | undefined): string => (n === undefined ? '' : timeTaken(n));
const clock = (d: Date): string => d.toLocaleTimeString('en-GB');

/** The bottom line of the desk: what happened last; opens upward to all of it. */
export function TracePane() {
  const trace = useTrace((s) => s.trace);
  const host = useRevisions((s) => s.host);
  const saved = useSaving((s) => s.saved);
  const [open, setOpen] = useState(false);
  const [tab, setTab] = useState<'trace' | 'outbox'>('trace');
  const [filter, setFilter] = useState(ALL);
  const shown = open ? shownOf(trace, filter) : [];
  const last = trace.at(-1);
  return (
    <section aria-label="Trace" className="shrink-0 border-t border-line bg-raised">
      <div className="flex h-[34px] items-center gap-2.5 px-4">
        <button
          type="button"
          className="flex min-w-0 flex-1 items-center gap-2.5 text-left"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          <Activity size={15} className="shrink-0 text-ink-soft" aria-hidden />
          <b className="font-semibold">Trace</b>
          {!open && last && (
            <>
              <span className={clsx('truncate', last.tone === 'bad' ? 'text-persimmon-deep' : 'text-ink-soft')}>
                {last.said}
              </span>
              <span className="shrink-0 font-mono text-xs text-ink-faint">{ms(last.ms)}</span>
            </>
          )}
          {!open && !last && <span className="text-ink-faint">What happens is written here</span>}
        </button>
        {host && (
          <span className={clsx('shrink-0 text-xs', host.online ? 'text-kelp' : 'text-saffron')}>
            {host.sending
              ? `Sending ${host.sending.name.slice(0, 40)}, ${Math.floor((host.sending.sent / host.sending.of) * 100)} %${host.sending.more ? `, ${host.sending.more} more` : ''}`
              : host.online
                ? 'In step with the released app'
                : `The server is away${host.waiting ? `, ${host.waiting} to send` : ''}`}
          </span>
        )}
        <span className="shrink-0 text-xs text-ink-faint">{saved ? 'Kept' : 'Keeping'}</span>
        <button
          type="button"
          aria-label={open ? 'Close the trace' : 'Open the trace'}
          onClick={() => setOpen(!open)}
          className="grid size-6 place-items-center rounded-md text-ink-soft hover:bg-sunk"
        >
          {open ? <ChevronDown size={15} aria-hidden /> : <ChevronUp size={15} aria-hidden />}
        </button>
      </div>
      {open && (
        <div className="h-[220px] border-t border-line">
          <div className="flex h-full flex-col">
            <div className="flex items-center gap-2 px-4 pt-2">
              <Segmented<'trace' | 'outbox'>
                label="Show"
                value={tab}
                onChange={setTab}
                options={[
                  ['trace', 'Trace'],
                  ['outbox', 'Outbox'],
                ]}
              />
              {tab === 'trace' && <Filter filter={filter} onChange={setFilter} />}
            </div>
            <div className="thin-scroll min-h-0 flex-1 overflow-auto px-4 py-1.5">
              {tab === 'outbox' ? (
                <Outbox />
              ) : (
                <ol>
                  {shown.map((t) => (
                    <Entry key={t.key} t={t} />
                  ))}
                </ol>
              )}
              {tab === 'trace' && trace.length > 0 && shown.length === 0 && (
                <p className="py-3 text-ink-faint">Nothing of the kind happened.</p>
              )}
              {tab === 'trace' && trace.length === 0 && (
                <p className="py-3 text-ink-faint">Nothing yet. Use the phone or change something.</p>
              )}
            </div>
          </div>
        </div>
      )}
    </section>
  );
}

/** Narrows the trace: by kind, by a routine or screen, by who used the phone, by words. */
function Filter({ filter, onChange }: { filter: TraceFilter; onChange(filter: TraceFilter): void }) {
  const app = useStudio((s) => s.shown);
  const people = peopleOf(useTrace((s) => s.trace));
  const things = [
    ...(app?.routines ?? []).map((r) => ({ value: r.id, label: r.name, group: 'Routines' })),
    ...(app?.screens ?? []).map((s) => ({ value: s.id, label: s.name, group: 'Screens' })),
  ];
  return (
    <>
      <ChoiceChip
        name="Kind"
        value={filter.kind}
        choices={KINDS.map(([value, label]) => ({ value, label }))}
        onChange={(kind) => onChange({ ...filter, kind })}
      />
      <ChoiceChip
        name="Of"
        value={filter.of}
        choices={[{ value: '', label: 'anywhere' }, ...things]}
        onChange={(of) => onChange({ ...filter, of })}
      />
      {people.length > 0 && (
        <ChoiceChip
          name="By"
          tone="person"
          value={filter.by}
          choices={[{ value: '', label: 'anybody' }, ...people.map((name) => ({ value: name, label: name }))]}
          onChange={(by) => onChange({ ...filter, by })}
        />
      )}
      <input
        type="search"
        className="field !h-7 !w-52"
        placeholder="Search the trace"
        aria-label="Search the trace"
        value={filter.words}
        onChange={(e) => onChange({ ...filter, words: e.target.value })}
      />
    </>
  );
}

function Entry({ t }: { t: TraceEntry }) {
  const navigate = useNavigate();
  const home = useHome();
  const go = usePhone((s) => s.go);
  const to = t.about?.routine
    ? `logic/${t.about.routine}`
    : t.about?.screen
      ? `screens/${t.about.screen}${t.about.element ? `/${t.about.element}` : ''}`
      : t.about?.table
        ? `data/${t.about.table}`
        : null;
  return (
    <li className="border-b border-line/60 py-1 last:border-0">
      <div className="flex gap-3">
        <span className="w-16 shrink-0 font-mono text-xs leading-5 text-ink-faint">{clock(t.at)}</span>
        <span className={clsx('min-w-0 flex-1', t.tone === 'bad' && 'text-persimmon-deep')}>{t.said}</span>
        <span className="shrink-0 font-mono text-xs leading-5 text-ink-faint">{ms(t.ms)}</span>
        {to && (
          <button
            type="button"
            className="shrink-0 text-sm font-semibold text-kelp hover:underline"
            onClick={() => {
              if (t.about?.screen) go({ screen: t.about.screen, record: null });
              void navigate(`${home}/${to}`);
            }}
          >
            go there
          </button>
        )}
      </div>
      {t.run &&
        t.run.steps.map((s, i) => (
          <div key={i} className="flex gap-3 pl-16">
            <span className={clsx('min-w-0 flex-1 pl-3', s.error ? 'text-persimmon-deep' : 'text-ink-soft')}>
              {s.said}
              {s.error ? `: ${s.error}` : ''}
            </span>
            <span className="shrink-0 text-sm text-kelp">{s.gave}</span>
            <span className="w-16 shrink-0 text-right font-mono text-xs leading-5 text-ink-faint">{ms(s.ms)}</span>
          </div>
        ))}
    </li>
  );
}
