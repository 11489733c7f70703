import type { App, Routine, Trigger } from '../app/schema.ts';
import type { Where } from '../document/pieces.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere, everyCondition, type CompiledWhere } from '../records/conditions.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';

/** A trigger of the host with the routine that it starts; `at` is its place among those of the routine. */
export interface ReadyTrigger<On extends Trigger['on']> {
  routine: Routine;
  trigger: Extract<Trigger, { on: On }>;
  at: number;
}

/** The triggers of a kind in an app. */
export const triggersOf = <On extends Trigger['on']>(app: App, on: On): ReadyTrigger<On>[] =>
  app.routines.flatMap((routine) =>
    (routine.starts ?? []).flatMap((trigger, at) =>
      trigger.on === on ? [{ routine, trigger: trigger as Extract<Trigger, { on: On }>, at }] : [],
    ),
  );

/** Conditions over a record, ready to be asked. */
export interface RecordTest {
  reads: CompiledWhere['reads'];
  volatile: boolean;
  /** Are there any conditions? */
  any: boolean;
  holds(row: Row): boolean;
}

/** Conditions over records of a table; those that do not work out hold for none. */
export function recordTest(records: Records, table: string, where: Where): RecordTest {
  const compiled = compileWhere(where, records.model.optionsFor(table, []));
  const isBroken = compiled.problems.some((p) => p.severity === 'error');
  const frame: Value[] = [records.runtime as unknown as Value, null];
  return {
    reads: compiled.reads,
    volatile: compiled.volatile,
    any: everyCondition(where).length > 0,
    holds(row) {
      if (isBroken) return false;
      frame[1] = row;
      try {
        return compiled.test(frame) && !compiled.stopped();
      } catch {
        return false; // a condition that runs away holds for nothing
      }
    },
  };
}
