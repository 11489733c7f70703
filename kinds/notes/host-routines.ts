import { walkSteps } from '../../core/document/walk.ts';
import type { AnyStep } from '../../core/document/meaning.ts';
import type { Query } from '../../core/document/pieces.ts';
import type { App, Routine, Trigger } from '../../core/app/schema.ts';
import { aOrAn } from '../../core/document/names.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { minutesOf, scheduleProblem } from '../../core/routines/schedule.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import type { StepKinds } from '../../core/routines/step.ts';

/** Routines that start on the server and cannot run there: steps that need a phone, values that only phones have. */
export const hostRoutines = defineNote({
  name: 'routines that cannot run on the server',
  find({ app, steps }) {
    return app.routines.flatMap((r): Note[] => {
      const hosts = (r.starts ?? []).filter((t) => triggerKinds.get(t.on)?.at === 'host');
      if (hosts.length === 0) return [];
      const said = hosts.map((t) => triggerProblem(app, r, t)).find(Boolean) ?? stepsProblem(app, r, steps);
      return said ? [{ workspace: 'logic', routine: r.id, severity: 'stops', said: `${r.name}: ${said}` }] : [];
    });
  },
});

/** What is wrong with what starts it. */
function triggerProblem(app: App, r: Routine, t: Trigger): string | null {
  if (t.on === 'clock') {
    const wrong = scheduleProblem(t);
    if (wrong) return wrong;
  }
  if (t.on === 'date reached' && minutesOf(t.time) === null) return `“${t.time}” is not a time. Type one such as 9:00.`;
  if (!r.given) return null;
  const oneOf = (table: string): string => aOrAn(app.tables.find((x) => x.id === table)?.one ?? 'record');
  const gives = t.on === 'clock' ? t.for?.table : 'table' in t ? t.table : undefined;
  if (t.on === 'record changed' && t.how === 'removed')
    return `it works with ${oneOf(r.given)}, and a removed record is not there any more. Let it work with no record.`;
  if (gives === r.given) return null;
  return `it works with ${oneOf(r.given)}, and what starts it on the server gives ${gives ? oneOf(gives) : 'none'}.`;
}

/** Does a formula anywhere in a step name this id? */
const names = (step: object, id: string): boolean => new RegExp(`(?<![\\w])${id}(?![\\w])`).test(JSON.stringify(step));

/** The first step, of the routine or of one that it runs, that cannot be taken on the server. */
function stepsProblem(app: App, routine: Routine, kinds: StepKinds, seen = new Set<string>()): string | null {
  if (seen.has(routine.id)) return null;
  seen.add(routine.id);
  let found: string | null = null;
  walkSteps(routine.steps, (s) => {
    found ??= s.off ? null : stepProblem(app, s, kinds, seen);
  });
  return found;
}

function stepProblem(app: App, step: AnyStep, kinds: StepKinds, seen: Set<string>): string | null {
  const definition = kinds.get(step.do);
  if (definition?.only === 'phone')
    return `it starts on the server, where there is no phone for the step “${definition.said.name}”.`;
  const { query, routine } = step as AnyStep & { query?: Query; routine?: string };
  const fetched = app.tables.find((t) => t.fetched && t.id === query?.table);
  if (fetched)
    return `it starts on the server, which does not have the records of ${fetched.name}: ask its request in a step.`;
  const variable = app.variables?.find((v) => names(step, v.id));
  if (variable) return `it starts on the server, where the variable ${variable.name} has no value.`;
  const runs = step.do === 'run' ? app.routines.find((r) => r.id === routine) : undefined;
  return runs ? stepsProblem(app, runs, kinds, seen) : null;
}
