import { freeName } from '../document/names.ts';
import { newId, thisId } from '../document/ids.ts';
import { walkSteps } from '../document/walk.ts';
import type { App, Routine, Step } from './schema.ts';
import { findStep, topSteps } from './steps.ts';

const RESULT = /(?<![a-z0-9])v_[a-z0-9]{6,24}/g;

/** The ids of results that some steps give. */
function given(steps: readonly Step[]): Set<string> {
  const ids = new Set<string>();
  walkSteps(steps, (s) => {
    const { result } = s as { result?: string };
    if (result) ids.add(result);
    if (s.reason) ids.add(s.reason);
  });
  return ids;
}

/**
 * Makes a routine of steps that stand together, and puts one that runs it where they stood. Gives why it cannot be done,
 * or nothing: results that go in or out would be lost on the way.
 */
export function liftSteps(app: App, routine: Routine, ids: readonly string[], id = newId): string | null {
  const lifted = topSteps(routine.steps, ids);
  const [first] = lifted;
  const at = first && findStep(routine.steps, first.id);
  if (!first || !at) return null;
  const together = lifted.every((s, i) => at.list[at.at + i]?.id === s.id);
  if (!together) return 'Only steps that stand below one another can become a routine.';
  const own = given(lifted);
  const results = given(routine.steps);
  const named = (s: unknown): string[] => (JSON.stringify(s).match(RESULT) ?? []).filter((x) => results.has(x));
  if (lifted.some((s) => named(s).some((x) => !own.has(x))))
    return 'They use what an earlier step gave. Lift that step too.';
  const rest = JSON.parse(JSON.stringify(routine.steps)) as Step[];
  const there = findStep(rest, first.id)!;
  there.list.splice(there.at, lifted.length);
  if (named(rest).some((x) => own.has(x))) return 'A later step uses what they give. Lift that step too.';
  const made: Routine = {
    id: id('q'),
    name: freeName(
      `Part of ${routine.name}`,
      app.routines.map((r) => r.name),
    ),
    given: routine.given,
    steps: lifted,
  };
  at.list.splice(at.at, lifted.length, {
    id: id('p'),
    do: 'run',
    routine: made.id,
    ...(routine.given && { record: thisId(routine.given) }),
    result: id('v'),
    resultName: 'what it gave',
  } as Step);
  app.routines.push(made);
  return null;
}
