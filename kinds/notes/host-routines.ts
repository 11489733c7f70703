import { walkSteps } from '../../core/document/walk.ts';
import type { AnyStep } from '../../core/document/meaning.ts';
import type { Query } from '../../core/document/pieces.ts';
import type { App, Routine, Trigger } from '../../core/app/schema.ts';
import { aOrAn } from '../../core/document/names.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { minutesOf, scheduleProblem } from '../../core/routines/schedule.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';
import type { StepKinds } from '../../core/routines/step.ts';

/** Routines that cannot run where they start: on the server without a phone, or on a phone that would have to stay open. */
export const hostRoutines = defineNote({
  name: 'routines that cannot run where they start',
  find({ app, steps }) {
    return app.routines.flatMap((r): Note[] => {
      const hosts = (r.starts ?? []).filter((t) => triggerKinds.get(t.on)?.at === 'host');
      const onPhone = startsOnPhones(app, r) ? stepsProblem(app, r, steps, phoneProblem) : null;
      const onHost = hosts.length
        ? (hosts.map((t) => triggerProblem(app, r, t)).find(Boolean) ?? stepsProblem(app, r, steps, hostProblem))
        : null;
      const said = onHost ?? onPhone;
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
  if (t.on === 'person came' && !app.access?.mail)
    return 'it starts when people come, and nobody signs in to an app that is open to all. Choose in People who may open it.';
  const oneOf = (table: string): string => aOrAn(app.tables.find((x) => x.id === table)?.one ?? 'record');
  const gives =
    t.on === 'clock' ? t.for?.table : t.on === 'person came' ? app.people : 'table' in t ? t.table : undefined;
  if (t.on === 'record changed' && t.how === 'removed')
    return `it works with ${oneOf(r.given)}, and a removed record is not there any more. Let it work with no record.`;
  if (gives === r.given) return null;
  return `it works with ${oneOf(r.given)}, and what starts it on the server gives ${gives ? oneOf(gives) : 'none'}.`;
}

/** Does a formula anywhere in a step name this id? */
const names = (step: object, id: string): boolean => new RegExp(`(?<![\\w])${id}(?![\\w])`).test(JSON.stringify(step));

/** Is it started on phones, by anything but another routine? */
const startsOnPhones = (app: App, { id }: Routine): boolean =>
  [...triggerKinds.values()].some(
    (t) => t.at !== 'host' && t.on !== 'routine' && t.starters(app, id, () => '').length > 0,
  );

/** What is wrong with a step where it is to be taken; null for nothing. */
type Problem = (app: App, step: AnyStep, kinds: StepKinds) => string | null;

/** The first problem of the steps, of the routine or of one that it runs. */
function stepsProblem(
  app: App,
  routine: Routine,
  kinds: StepKinds,
  problem: Problem,
  seen = new Set<string>(),
): string | null {
  if (seen.has(routine.id)) return null;
  seen.add(routine.id);
  let found: string | null = null;
  walkSteps(routine.steps, (s) => {
    if (s.off) return;
    const { routine: run } = s as AnyStep & { routine?: string };
    const runs = s.do === 'run' ? app.routines.find((r) => r.id === run) : undefined;
    found ??= problem(app, s, kinds) ?? (runs ? stepsProblem(app, runs, kinds, problem, seen) : null);
  });
  return found;
}

const phoneProblem: Problem = (_app, step, kinds) => {
  const definition = kinds.get(step.do);
  if (definition?.only !== 'host') return null;
  return `it starts on phones, which are closed before anybody answers the step “${definition.said.name}”. Start it on the server: when a record is changed, say.`;
};

function hostProblem(app: App, step: AnyStep, kinds: StepKinds): string | null {
  const definition = kinds.get(step.do);
  if (definition?.only === 'phone')
    return `it starts on the server, where there is no phone for the step “${definition.said.name}”.`;
  const { query } = step as AnyStep & { query?: Query };
  const fetched = app.tables.find((t) => t.fetched && t.id === query?.table);
  if (fetched)
    return `it starts on the server, which does not have the records of ${fetched.name}: ask its request in a step.`;
  const variable = app.variables?.find((v) => names(step, v.id));
  return variable ? `it starts on the server, where the variable ${variable.name} has no value.` : null;
}
