import type { ReactNode } from 'react';
import type { App, Routine, Trigger } from '../../core/app/schema.ts';
import { allOf, NO_TABLE, noConditions } from '../../core/document/queries.ts';
import { DateTime } from '../../core/formula/values.ts';
import { inZone } from '../../core/formula/zones.ts';
import { display } from '../../core/records/format.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import { nextTime, scheduleProblem, type Schedule } from '../../core/routines/schedule.ts';
import { zoneOf } from '../../core/runs/starting.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import type { FormulaPlace } from '../chips/place.ts';
import { QuerySentence } from '../chips/QuerySentence.tsx';
import { PropertyControl } from '../screens/DefaultDesk.tsx';
import { choicesOf, labelOf } from '../screens/properties.ts';
import { useApp } from '../state/studio.ts';
import { HookAddress } from './HookAddress.tsx';
import { NumberBox, TextBox } from '../ui/TypedBox.tsx';

type Of<On extends Trigger['on']> = Extract<Trigger, { on: On }>;
type HostTriggerData =
  | Of<'record changed'>
  | Of<'record becomes'>
  | Of<'clock'>
  | Of<'date reached'>
  | Of<'mail came'>
  | Of<'hook called'>
  | Of<'person came'>
  | Of<'run failed'>;

/** Nothing is at hand where something starts. */
const NOWHERE: FormulaPlace = { self: null, things: [] };

/** Is it a trigger that the host waits for? */
export const isHostTrigger = (t: Trigger): t is HostTriggerData => triggerKinds.get(t.on)?.at === 'host';

/** What starts a routine on the host, as a sentence with its places to fill in. */
export function HostTrigger({
  trigger,
  routine,
  change,
}: {
  trigger: HostTriggerData;
  /** The routine that it starts, by its id. */
  routine: string;
  change(more: object): void;
}) {
  const app = useApp();
  // Conditions over records of another table would say nothing any more.
  const set = (name: string, value: unknown): void =>
    change({
      [name]: value,
      ...(name === 'table' && value !== held['table'] && aboutTable(app, trigger, String(value))),
    });
  const held = trigger as unknown as Record<string, unknown>;
  const { properties } = triggerKinds.get(trigger.on)!;
  /** The control of one property. */
  const place = (name: string): ReactNode => (
    <PropertyControl
      key={name}
      p={properties[name]!}
      value={held[name]}
      place={NOWHERE}
      held={held}
      onChange={(v) => set(name, v)}
    />
  );
  const time = (
    <TextBox label="Time" value={String(held['time'] ?? '')} onChange={(v) => set('time', v)} className="w-[68px]" />
  );
  /** One of a few values, as a word of the sentence. */
  const word = (name: string): ReactNode => (
    <ChoiceChip
      name={labelOf(properties[name]!)}
      value={String(held[name])}
      choices={choicesOf(properties[name]!)}
      onChange={(v) => set(name, v)}
    />
  );
  const parts = { place, word, time, set };
  switch (trigger.on) {
    case 'record changed':
      return <RecordChanged t={trigger} {...parts} />;
    case 'record becomes':
      return (
        <>
          as soon as a record of {place('table')} becomes one {place('where')}, whatever makes it so
        </>
      );
    case 'clock':
      return <ByClock t={trigger} {...parts} />;
    case 'mail came':
      return <>when a mail comes to the address of the app, from {word('by')}</>;
    case 'person came':
      return <>when somebody {word('did')}</>;
    case 'run failed':
      return (
        <>
          when a run of{' '}
          <ChoiceChip
            name="Which routine"
            value={trigger.of ?? ''}
            choices={[
              { value: '', label: 'any other routine' },
              ...app.routines.filter((r) => r.id !== routine).map((r) => ({ value: r.id, label: r.name })),
            ]}
            onChange={(of) => set('of', of || undefined)}
          />{' '}
          on the server has failed for good
        </>
      );
    case 'hook called':
      return <HookCalled t={trigger} routine={routine} {...parts} />;
    case 'date reached':
      return <DateReached t={trigger} {...parts} />;
  }
}

/** What a trigger says of its table, for another one. */
function aboutTable(app: App, t: HostTriggerData, table: string): object {
  const fields = app.tables.find((x) => x.id === table)?.fields ?? [];
  return {
    where: noConditions(),
    ...('was' in t && { was: noConditions(), fields: undefined }),
    ...('field' in t && { field: fields.find((f) => f.type === 'date' || f.type === 'datetime')?.id ?? '' }),
  };
}

/** A new trigger, about the table that the routine works with. */
export function aboutGiven(app: App, routine: Routine, trigger: Trigger): Trigger {
  const { given } = routine;
  if (!given || !isHostTrigger(trigger) || !('table' in trigger) || trigger.table === given) return trigger;
  return { ...trigger, table: given, ...aboutTable(app, trigger, given) } as Trigger;
}

interface Parts {
  place(name: string): ReactNode;
  word(name: string): ReactNode;
  time: ReactNode;
  set(name: string, value: unknown): void;
}

function RecordChanged({ t, place, word }: Parts & { t: Of<'record changed'> }) {
  const wasThere = t.how !== 'added';
  return (
    <>
      when a record of {place('table')} is {word('how')}
      {(t.how === 'changed' || t.how === 'either') && <>, in the fields {place('fields')} (any, where none is named)</>}
      {wasThere && <>, it was one {place('was')}</>}
      {t.how !== 'removed' && <>, it is one {place('where')}</>}, {word('by')}
    </>
  );
}

function ByClock({ t, place, word, time, set }: Parts & { t: Of<'clock'> }) {
  const app = useApp();
  const isOften = t.each === 'minutes' || t.each === 'hours';
  const problem = scheduleProblem(t);
  return (
    <>
      by the clock, {word('each')}
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
      {t.each === 'week' && <> on {word('weekday')}</>}
      {t.each === 'month' && (
        <>
          {' '}
          on {word('which')} {t.which === 'date' ? place('number') : place('of')}
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
      {!isOften && <> at {time}</>},{' '}
      <ChoiceChip
        name="How often at each time"
        value={t.for ? 'each' : 'once'}
        choices={[
          { value: 'once', label: 'once' },
          { value: 'each', label: 'once for each of' },
        ]}
        onChange={(v) => set('for', v === 'each' ? allOf(app.tables[0]?.id ?? NO_TABLE) : undefined)}
      />
      {t.for && (
        <>
          {' '}
          <QuerySentence query={t.for} place={NOWHERE} onChange={(query) => set('for', query)} />
        </>
      )}
      . What is missed while the server is off is {word('missed')}
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
  return shown ? `(next ${display(new DateTime(shown.ms))})` : '(no time is left)';
}

function DateReached({ t, place, word, time, set }: Parts & { t: Of<'date reached'> }) {
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
          {word('unit')}{' '}
        </>
      )}
      {word('way')} {place('field')} of a record of {place('table')}
      {t.unit === 'days' || t.way === 'on' ? <> at {time} (or the time that it has)</> : null}, for one {place('where')}
      . What is missed while the server is off is {word('missed')}
    </>
  );
}

function HookCalled({ t, routine, word, set }: Parts & { t: Of<'hook called'>; routine: string }) {
  return (
    <>
      when another system calls its address, with {word('proof')}. Calls with the same{' '}
      <TextBox label="Header" value={t.once} onChange={(v) => set('once', v)} className="w-40" /> in their headers are
      one. What it sends is JSON, and goes to the inputs of the same names
      <HookAddress routine={routine} proof={t.proof} />
    </>
  );
}
