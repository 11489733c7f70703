import type { ReactNode } from 'react';
import type { App, Trigger } from '../../core/app/schema.ts';
import { dateTimeText } from '../../core/formula/temporal.ts';
import { inZone } from '../../core/formula/zones.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import { nextTime, scheduleProblem, type Schedule } from '../../core/routines/schedule.ts';
import { zoneOf } from '../../core/runs/starting.ts';
import { PropertyControl } from '../screens/DefaultDesk.tsx';
import { useApp } from '../state/studio.ts';
import { NumberBox, TextBox } from '../ui/TypedBox.tsx';

type Of<On extends Trigger['on']> = Extract<Trigger, { on: On }>;
type HostTriggerData = Of<'record changed'> | Of<'record becomes'> | Of<'clock'> | Of<'date reached'>;

/** Is it a trigger that the host waits for? */
export const isHostTrigger = (t: Trigger): t is HostTriggerData => triggerKinds.get(t.on)?.at === 'host';

/** What starts a routine on the host, as a sentence with its places to fill in. */
export function HostTrigger({ trigger, set }: { trigger: HostTriggerData; set(name: string, value: unknown): void }) {
  const held = trigger as unknown as Record<string, unknown>;
  const { properties } = triggerKinds.get(trigger.on)!;
  /** The control of one property. */
  const place = (name: string): ReactNode => (
    <PropertyControl
      key={name}
      p={properties[name]!}
      value={held[name]}
      place={{ self: null, things: [] }}
      held={held}
      onChange={(v) => set(name, v)}
    />
  );
  const time = (
    <TextBox label="Time" value={String(held['time'] ?? '')} onChange={(v) => set('time', v)} className="w-[68px]" />
  );
  const parts = { place, time, set };
  switch (trigger.on) {
    case 'record changed':
      return <RecordChanged t={trigger} {...parts} />;
    case 'record becomes':
      return (
        <>
          as soon as it becomes so that a record of {place('table')} is one {place('where')}, whatever made it so
        </>
      );
    case 'clock':
      return <ByClock t={trigger} {...parts} />;
    case 'date reached':
      return <DateReached t={trigger} {...parts} />;
  }
}

interface Parts {
  place(name: string): ReactNode;
  time: ReactNode;
  set(name: string, value: unknown): void;
}

function RecordChanged({ t, place }: Parts & { t: Of<'record changed'> }) {
  const wasThere = t.how !== 'added';
  return (
    <>
      when a record of {place('table')} is {place('how')}
      {(t.how === 'changed' || t.how === 'either') && <>, in the fields {place('fields')} (any, where none is named)</>}
      {wasThere && <>, it was one {place('was')}</>}
      {t.how !== 'removed' && <>, it is one {place('where')}</>}, {place('by')}
    </>
  );
}

function ByClock({ t, place, time, set }: Parts & { t: Of<'clock'> }) {
  const app = useApp();
  const isOften = t.each === 'minutes' || t.each === 'hours';
  const problem = scheduleProblem(t);
  return (
    <>
      by the clock, {place('each')}
      {isOften && (
        <>
          :{' '}
          <NumberBox
            label={t.each === 'minutes' ? 'Minutes' : 'Hours'}
            value={t.every}
            least={1}
            most={t.each === 'minutes' ? 30 : 12}
            onChange={(n) => set('every', n)}
            className="w-14"
          />{' '}
          {t.each}
        </>
      )}
      {t.each === 'week' && <> on {place('weekday')}</>}
      {t.each === 'month' && (
        <>
          {' '}
          on {place('which')} {t.which === 'date' ? place('number') : place('of')}
        </>
      )}
      {t.each === 'once' && (
        <>
          {' '}
          on{' '}
          <TextBox
            label="Date"
            value={t.date}
            placeholder="2026-12-24"
            onChange={(v) => set('date', v)}
            className="w-28"
          />
        </>
      )}
      {!isOften && <> at {time}</>}
      {t.for ? <>, for each of {place('for')}</> : <>, once for all records {place('for')}</>}. What is missed while the
      server is off is {place('missed')}
      {problem ? (
        <b className="font-semibold text-persimmon-deep"> {problem}</b>
      ) : (
        <span className="text-ink-faint"> {nextWords(app, t)}</span>
      )}
    </>
  );
}

/** When the clock starts it next, in words. */
function nextWords(app: App, t: Schedule): string {
  const zone = zoneOf(app);
  const next = nextTime(t, zone, Date.now());
  const shown = next === null ? null : inZone(next, zone);
  return shown ? `(next ${dateTimeText(shown).slice(0, 16).replace('T', ', ')})` : '(no time is left)';
}

function DateReached({ t, place, time, set }: Parts & { t: Of<'date reached'> }) {
  return (
    <>
      {t.way !== 'on' && (
        <>
          <NumberBox
            label="How many"
            value={t.many}
            least={0}
            most={3650}
            onChange={(n) => set('many', n)}
            className="w-16"
          />{' '}
          {place('unit')}{' '}
        </>
      )}
      {place('way')} {place('field')} of a record of {place('table')}
      {t.unit === 'days' || t.way === 'on' ? <> at {time} (or the time that it has)</> : null}, for one {place('where')}
      . What is missed while the server is off is {place('missed')}
    </>
  );
}
