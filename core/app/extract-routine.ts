import { freeName } from '../document/names.ts';
import { newId, thisId } from '../document/ids.ts';
import { copyOf } from '../document/copy.ts';
import { walkSteps } from '../document/walk.ts';
import type { Type } from '../formula/types.ts';
import type { Thing } from '../records/model.ts';
import type { FieldType } from '../tables/schema.ts';
import type { App, Routine, Step } from './schema.ts';
import { findStep, topSteps } from './steps.ts';

const RESULT = /(?<![a-z0-9])v_[a-z0-9]{6,24}/g;
type RunStep = Extract<Step, { do: 'run' }>;

/** The types of values that routines are given as they are. */
const TYPES: Partial<Record<Type['k'], FieldType>> = {
  text: 'text',
  number: 'number',
  boolean: 'yesno',
  date: 'date',
  time: 'time',
  datetime: 'datetime',
  days: 'duration',
};

/** An input that takes what a thing holds; null where no kind of input does. */
function inputFor({ name, type }: Thing, id: string): NonNullable<Routine['inputs']>[number] | null {
  const of = type.k === 'list' ? type.of : type;
  const base = { id, name: name.replace(/^this /, ''), first: '' };
  if (of.k === 'record')
    return {
      ...base,
      type: 'link',
      link: { kind: 'picked', table: of.table, backName: '' },
      ...(of !== type && { several: true }),
    };
  const plain = of === type && TYPES[type.k];
  return plain ? { ...base, type: plain } : null;
}

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

/** A copy of steps in which ids stand for others, or for formulas. */
function replaced<T>(steps: T, by: ReadonlyMap<string, string>): T {
  const inText = (text: string): string =>
    text.replace(/(?<![a-z0-9_])(?:this_)?[a-z]_[a-z0-9]{6,24}(?![a-z0-9_])/g, (id) => by.get(id) ?? id);
  const renewed = (value: unknown): unknown => {
    if (typeof value === 'string') return inText(value);
    if (Array.isArray(value)) return value.map(renewed);
    if (value && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, renewed(v)]));
    return value;
  };
  return renewed(steps) as T;
}

/**
 * Makes a routine of steps that stand together, and puts one that runs it where they stood. What they use of earlier
 * steps becomes its inputs; one result that later steps use is what it gives back. Gives why it cannot be done, or
 * nothing. `things` are what formulas of the routine may name.
 */
export function extractRoutine(
  app: App,
  routine: Routine,
  ids: readonly string[],
  things: readonly Thing[],
  id = newId,
): string | null {
  const extracted = topSteps(routine.steps, ids);
  const [first] = extracted;
  const at = first && findStep(routine.steps, first.id);
  if (!first || !at) return null;
  const together = extracted.every((s, i) => at.list[at.at + i]?.id === s.id);
  if (!together) return 'Only steps that stand below one another can become a routine.';
  const own = given(extracted);
  const around = new Set([...given(routine.steps), ...(routine.inputs ?? []).map((i) => i.id)]);
  const named = (s: unknown): string[] => [
    ...new Set((JSON.stringify(s).match(RESULT) ?? []).filter((x) => around.has(x))),
  ];
  const used = named(extracted).filter((x) => !own.has(x));
  const rest = JSON.parse(JSON.stringify(routine.steps)) as Step[];
  const there = findStep(rest, first.id)!;
  there.list.splice(there.at, extracted.length);
  const outs = named(rest).filter((x) => own.has(x));
  if (outs.length > 1) return 'Later steps use several of what they give; a routine gives back one value.';
  const [out] = outs;
  const inside = new Map<string, string>();
  const inputs = used.flatMap((of) => {
    const thing = things.find((t) => t.id === of);
    if (!thing) return [];
    const input = inputFor(thing, id('v'));
    if (!input) return [];
    inside.set(of, input.id);
    return [input];
  });
  if (inputs.length < used.length) return 'They use something that a routine cannot be given.';
  if (out) inside.set(out, id('v'));
  let outName = 'what it gave';
  walkSteps(extracted, (s) => {
    const { result, resultName } = s as { result?: string; resultName?: string };
    if (out && result === out && resultName) outName = resultName;
  });
  const made: Routine = {
    id: id('q'),
    name: freeName(
      `Part of ${routine.name}`,
      app.routines.map((r) => r.name),
    ),
    given: routine.given,
    ...(inputs.length > 0 && { inputs }),
    steps: [
      ...replaced(extracted, inside),
      ...(out ? [{ id: id('p'), do: 'give', value: inside.get(out)! } as Step] : []),
    ],
  };
  at.list.splice(at.at, extracted.length, {
    id: id('p'),
    do: 'run',
    routine: made.id,
    ...(routine.given && { record: thisId(routine.given) }),
    ...(used.length > 0 && { values: used.map((of) => ({ field: inside.get(of)!, value: of })) }),
    result: out ?? id('v'),
    resultName: outName,
  } as Step);
  app.routines.push(made);
  return null;
}

/** A formula that needs no brackets where it stands in another. */
const IS_PLAIN = /^(?:[\w.]+|"(?:\\.|[^"\\])*"|-?\d+(?:\.\d+)?)$/;
const inBrackets = (formula: string): string => (IS_PLAIN.test(formula) ? formula : `(${formula})`);

/**
 * Puts the steps of a routine in the place of the step that runs it. Gives why it cannot be done, or nothing. The
 * routine stays: others may run it.
 */
export function inlineSteps(app: App, routine: Routine, step: string, id = newId): string | null {
  const at = findStep(routine.steps, step);
  const run = at?.list[at.at] as RunStep | undefined;
  const target = run && app.routines.find((r) => r.id === run.routine);
  if (!at || run?.do !== 'run' || !target) return 'It runs no routine yet.';
  if (target.id === routine.id) return 'It runs this routine itself.';
  if (run.ifFails || run.again) return 'Take off “If it fails” first: it is for all of its steps together.';
  const last = target.steps.at(-1);
  const gives = last?.do === 'give' ? last : null;
  let ends = 0;
  walkSteps(target.steps, (s) => {
    if (s.do === 'give' || s.do === 'stop') ends++;
  });
  if (ends > (gives ? 1 : 0)) return `${target.name} ends in the middle, which would end this routine too.`;
  if (target.given && !run.record) return `${target.name} needs a record, and is given none.`;
  const by = new Map<string, string>();
  if (target.given) by.set(thisId(target.given), inBrackets(run.record!));
  for (const i of target.inputs ?? []) {
    const value = run.values?.find((v) => v.field === i.id)?.value || i.first || 'null';
    by.set(i.id, inBrackets(value));
  }
  const steps = replaced(copyOf({ id: 'p_whole000', steps: target.steps }, id).steps, by);
  if (gives) {
    // What it gave is worked out here, under the name by which later steps know it.
    const { value } = steps.pop() as typeof gives;
    steps.push({ id: id('p'), do: 'work out', value, result: run.result, resultName: run.resultName } as Step);
  }
  at.list.splice(at.at, 1, ...steps);
  return null;
}
