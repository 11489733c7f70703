import type { App } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import type { AnyElement } from '../document/meaning.ts';
import type { Tap } from '../document/pieces.ts';
import { stepLists, walkElements } from '../document/walk.ts';
import type { MayHere } from '../records/may-here.ts';
import type { Row } from '../records/row.ts';

type Step = App['routines'][number]['steps'][number];
type At = (table?: string | null) => Row | null;
type Writes = Pick<MayHere, 'changes' | 'removes' | 'looksBack' | 'adds' | 'isClosed'>;

/**
 * Would what a tap does be refused? Only what is sure counts: of a routine its first steps, up to one that goes one way or
 * another, as far as they write to the record that it is given or add to a table.
 */
export function refusesTap(app: App, may: Writes, tap: Tap, at: At): boolean {
  if (tap.do === 'remove') {
    const row = at();
    return row !== null && !may.removes(row);
  }
  if (tap.do === 'open') return may.isClosed(tap.screen) || isVain(app, tap, may, at);
  const routine = tap.do === 'routine' ? app.routines.find((r) => r.id === tap.routine) : undefined;
  if (!routine) return false;
  const row = routine.given === null ? null : at(routine.given);
  for (const step of routine.steps) {
    if (step.off) continue;
    const refused = refusesStep(step, routine.given, row, may);
    if (refused !== null) return refused;
  }
  return false;
}

/** Null where it goes on behind this step. */
function refusesStep(step: Step, given: string | null, row: Row | null, may: Writes): boolean | null {
  const { values = [] } = step as unknown as { values?: { field: string }[] };
  const isGiven = given !== null && (step as unknown as { record?: string }).record === thisId(given);
  switch (step.do) {
    case 'add': {
      const fields = may.adds((step as unknown as { table: string }).table);
      return fields === null || values.some((v) => v.field && !fields.has(v.field)) ? true : null;
    }
    case 'set':
    case 'raise': {
      if (!isGiven || !row) return null;
      const fields = may.changes(row);
      return values.some((v) => v.field && !fields.has(v.field)) ? true : null;
    }
    case 'remove':
      return isGiven && row && !may.removes(row) ? true : null;
    case 'look back':
      return isGiven && row && !may.looksBack(row) ? true : null;
    default:
      // What holds other steps goes one way or another.
      return stepLists(step).length > 0 ? false : null;
  }
}

/** Does it open a form in which nothing may be filled in: for a new record, or for the one at hand? */
function isVain(app: App, { screen: id, give }: Extract<Tap, { do: 'open' }>, may: Writes, at: At): boolean {
  const screen = app.screens.find((s) => s.id === id);
  if (!screen) return false;
  const forms: { table: string; record: string }[] = [];
  walkElements<AnyElement>([screen.root], (e) => {
    if (e.kind === 'form') forms.push(e as unknown as { table: string; record: string });
  });
  const [form] = forms;
  if (!form || forms.length > 1) return false;
  const { table, record } = form;
  const isOfGiven = screen.given === table && record === thisId(table);
  if (record === '' || (isOfGiven && give === '')) return may.adds(table) === null;
  const row = isOfGiven && give === thisId(table) ? at(table) : null;
  return row !== null && may.changes(row).size === 0;
}
