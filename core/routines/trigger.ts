import type { AnyElement, Held, Properties } from '../document/meaning.ts';
import type { TriggerValue } from './trigger-values.ts';
import type { RoutineDoc } from './program.ts';
import type { KeptValue } from '../records/kept-value.ts';

/** What is known of something that happened. */
export type Knows = Partial<Record<TriggerValue, KeptValue>>;

/** Something that happened while an app is used, as triggers are asked about it. */
export type Happening =
  | { on: 'screen opened' | 'screen left' | 'screen returned'; screen: string; record: string | null }
  | { on: 'app started' }
  /** `before` it is written: for routines that are part of the save. */
  | { on: 'form'; how: 'saved' | 'refused'; table: string; record: string | null; problems?: string; before?: true }
  | { on: 'variable changed'; variable: string; before: KeptValue; now: KeptValue }
  | { on: 'field changed'; table: string; field: string; record: string; before: KeptValue; now: KeptValue }
  | { on: 'notice opened'; title: string; words: string };

/** Where a routine is started from, in words and with the place to go to. */
export interface Starter {
  /** "Save on Hives". */
  said: string;
  screen?: string;
  element?: string;
  /** The routine that runs it. */
  routine?: string;
}

/** As much of an app as triggers look at. */
export interface TriggersDoc {
  parts?: readonly { id: string; name: string; root: AnyElement }[] | undefined;
  screens: readonly { id: string; name: string; given: string | null; root: AnyElement }[];
  routines: readonly (RoutineDoc & { starts?: readonly { on: string }[] | undefined })[];
  tables: readonly {
    id: string;
    name: string;
    one: string;
    fields: readonly { id: string; name: string; type?: string }[];
  }[];
  variables?: readonly { id: string; name: string }[] | undefined;
}

/**
 * A kind of trigger. Those with properties are kept with the routine they start; a tap is kept with its element, so
 * its trigger only finds where it is.
 */
export interface TriggerDefinition<K extends string = string, P extends Properties = Properties> {
  readonly on: K;
  /** How the index groups routines that it starts: "When a screen opens". */
  readonly said: { group: string; name: string };
  readonly properties: P;
  /** It is waited for by the host of the released app, whether a phone is open or not; the others by phones. */
  readonly at?: 'host';
  /** What it knows beside the record. */
  readonly knows?: readonly TriggerValue[];
  /** What a new one begins with; absent where it is not kept with the routine. */
  begin?(app: TriggersDoc): Held<P>;
  /** Everything of this kind that starts the routine. `elementName` says what an element is called. */
  starters(app: TriggersDoc, routine: string, elementName: (e: AnyElement) => string): Starter[];
  /** Does this trigger answer what happened? Then the record that the routine is given, or null for none. */
  answers?(trigger: Held<P> & { on: string }, happening: Happening): Answered | false;
}

/** What a trigger gives to the routine that it starts: a record, and what it knows of what happened. */
export interface Answered {
  record: string | null;
  knows?: Knows;
}

type TriggerData<K extends string, P extends Properties> = Pick<
  TriggerDefinition<K, P>,
  'on' | 'said' | 'properties' | 'knows' | 'at'
>;
/** Defines a kind of trigger: first what it is and holds, then what it does. */
export const defineTrigger = <const K extends string, P extends Properties>(data: TriggerData<K, P>) => ({
  does: (functions: Omit<TriggerDefinition<K, P>, keyof TriggerData<K, P>>): TriggerDefinition<K, P> => ({
    ...data,
    ...functions,
  }),
});

/** A definition of any kind, as generic code sees it. */
export interface AnyTriggerDefinition extends Pick<
  TriggerDefinition,
  'on' | 'said' | 'properties' | 'knows' | 'at' | 'starters'
> {
  begin?(app: TriggersDoc): object;
  answers?(trigger: { on: string }, happening: Happening): Answered | false;
}
export type TriggerKinds = ReadonlyMap<string, AnyTriggerDefinition>;

/** What the inputs of a routine get of what is known, by their ids. */
export const inputsFrom = (routine: RoutineDoc, knows: Knows = {}): Record<string, KeptValue> =>
  Object.fromEntries(
    (routine.inputs ?? []).flatMap((i) => {
      const value = i.from && knows[i.from];
      return value === undefined ? [] : [[i.id, value]];
    }),
  );

/** The routines that something starts, with the record and the values each is given. */
export function startedBy(
  kinds: TriggerKinds,
  app: TriggersDoc,
  happening: Happening,
): { routine: RoutineDoc; record: string | null; values: Record<string, KeptValue> }[] {
  return app.routines.flatMap((routine) => {
    for (const trigger of routine.starts ?? []) {
      const answer = kinds.get(trigger.on)?.answers?.(trigger, happening);
      if (answer) return [{ routine, record: answer.record, values: inputsFrom(routine, answer.knows) }];
    }
    return [];
  });
}
