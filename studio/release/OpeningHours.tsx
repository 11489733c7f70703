import { Clock4, Trash2 } from 'lucide-react';
import { useId, useState } from 'react';
import { readFreeDays, readTimes, timesText, usualWeek, WEEKDAYS } from '../../core/app/opening-hours.ts';
import type { App } from '../../core/app/schema.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';

type Work = NonNullable<App['work']>;

/** When the people behind the app work, day by day, and the days on which they do not. */
export function OpeningHours() {
  const { work } = useApp()!;
  const edit = useStudio((s) => s.edit);
  const change = (label: string, next: (work: Work) => void): void =>
    void edit(label, (a) => {
      if (a.work) next(a.work);
    });
  return (
    <section className="card px-5 py-4" aria-label="Opening hours">
      <div className="flex items-start gap-3">
        <div className="min-w-0 grow">
          <h2 className="text-[14px]">Opening hours</h2>
          <p className="text-sm leading-5 text-ink-soft">
            {work
              ? 'By the time zone of the app. Formulas reckon by them with working time(…), after working time(…) and is working time(…).'
              : 'Where the app says when it is open, formulas can reckon in working time: a target of four working hours, say.'}
          </p>
        </div>
        {work ? (
          <Button
            icon={Trash2}
            onClick={() =>
              void edit('Removed the opening hours', (a) => {
                delete a.work;
              })
            }
          >
            Remove
          </Button>
        ) : (
          <Button
            icon={Clock4}
            onClick={() =>
              void edit('Said when the app is open', (a) => {
                a.work = { days: usualWeek(), free: [] };
              })
            }
          >
            Say when it is open
          </Button>
        )}
      </div>
      {work && (
        <div className="mt-3 grid grid-cols-[6.5rem_minmax(0,1fr)] items-start gap-x-3 gap-y-1.5">
          {WEEKDAYS.map((name, i) => (
            <Read
              key={name}
              label={name}
              value={timesText(work.days[i] ?? [])}
              empty="closed"
              read={(typed) => {
                const read = readTimes(typed);
                if ('problem' in read) return read.problem;
                change(`Changed the hours of ${name}`, (w) => {
                  w.days[i] = read.times;
                });
                return null;
              }}
            />
          ))}
          <Read
            label="Days off"
            value={work.free.join(', ')}
            empty="2026-12-25, 2026-12-26"
            read={(typed) => {
              const read = readFreeDays(typed);
              if ('problem' in read) return read.problem;
              change('Changed the days off', (w) => {
                w.free = read.free;
              });
              return null;
            }}
          />
        </div>
      )}
    </section>
  );
}

/** A line that is read when it is left, or Enter is pressed; what is wrong with it stands below, and it stays as typed. */
function Read({
  label,
  value,
  empty,
  read,
}: {
  label: string;
  value: string;
  empty: string;
  read(typed: string): string | null;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const take = (): void => {
    if (typed === null || typed === value) {
      setProblem(null);
      return setTyped(null);
    }
    const wrong = read(typed);
    setProblem(wrong);
    if (wrong === null) setTyped(null);
  };
  return (
    <>
      <label htmlFor={id} className="pt-1.5 text-sm text-ink-soft">
        {label}
      </label>
      <div>
        <input
          id={id}
          className="field w-full max-w-sm"
          value={typed ?? value}
          placeholder={empty}
          aria-invalid={problem !== null}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => {
            if (e.key === 'Enter') take();
            if (e.key !== 'Escape') return;
            setTyped(null);
            setProblem(null);
          }}
        />
        {problem && <p className="mt-1 text-sm text-persimmon-deep">{problem}</p>}
      </div>
    </>
  );
}
