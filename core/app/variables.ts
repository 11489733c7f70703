import { builtins } from '../formula/builtins/index.ts';
import { newId } from '../document/ids.ts';
import { freeName } from '../document/names.ts';
import { resultsOf } from '../document/walk.ts';
import { takenByOthers } from '../tables/names.ts';
import type { Variable } from '../tables/schema.ts';
import type { App } from './schema.ts';

/** What a variable can keep, as the maker chooses it; records are kept as links are. */
export type VariableKind =
  | Extract<
      Variable['type'],
      'text' | 'longtext' | 'number' | 'money' | 'percent' | 'yesno' | 'date' | 'time' | 'datetime' | 'duration'
    >
  | Extract<Variable['type'], 'choice' | 'rating' | 'place' | 'picture' | 'sound'>
  | 'record'
  | 'records';

/** Every kind, in the order they are offered, with what it is called after "keeps". */
export const VARIABLE_KINDS: Readonly<Record<VariableKind, string>> = {
  text: 'a text',
  longtext: 'a long text',
  number: 'a number',
  yesno: 'yes or no',
  date: 'a date',
  time: 'a time',
  datetime: 'a date and time',
  duration: 'a duration',
  choice: 'a choice',
  record: 'a record',
  records: 'several records',
  picture: 'a picture or drawing',
  money: 'an amount',
  percent: 'a percentage',
  rating: 'a rating',
  place: 'a place',
  sound: 'a sound',
};

export const kindOfVariable = (v: Variable): VariableKind =>
  v.type === 'link' ? (v.several ? 'records' : 'record') : (v.type as VariableKind);

/** A name that formulas know nothing else by. */
const freeVariableName = (app: App, wanted: string, but?: string): string =>
  freeName(wanted, [
    ...takenByOthers(app),
    ...builtins().keys(),
    ...app.routines.flatMap((r) => [...(r.inputs ?? []), ...resultsOf(r.steps)].map((x) => x.name)),
    ...(app.variables ?? []).filter((v) => v.id !== but).map((v) => v.name),
  ]);

/** A new variable, of the app or of one screen. */
export function addVariable(app: App, screen: string | null = null, name = 'New variable'): Variable {
  const variable: Variable = {
    id: newId('v'),
    name: freeVariableName(app, name),
    type: 'text',
    ...(screen ? { lasts: 'screen' as const, screen } : { lasts: 'app' as const }),
    first: '',
  };
  app.variables = [...(app.variables ?? []), variable];
  return variable;
}

export function renameVariable(app: App, id: string, name: string): void {
  const v = app.variables?.find((x) => x.id === id);
  if (v) v.name = freeVariableName(app, name, id);
}

/** Makes a variable keep something else; what it began with fits no more. */
export function setVariableKind(app: App, id: string, kind: VariableKind): void {
  const at = app.variables?.findIndex((x) => x.id === id) ?? -1;
  if (!app.variables || at < 0) return;
  const { name, lasts, screen } = app.variables[at]!;
  const base = { id, name, lasts, ...(screen && { screen }), first: '' };
  const table = app.tables[0]?.id;
  if (kind !== 'record' && kind !== 'records')
    app.variables[at] = { ...base, type: kind, ...(kind === 'choice' && { choices: [] }) };
  else if (table)
    app.variables[at] = {
      ...base,
      type: 'link',
      link: { kind: 'picked', table, backName: '' },
      ...(kind === 'records' && { several: true }),
    };
}

export function removeVariable(app: App, id: string): void {
  app.variables = app.variables?.filter((v) => v.id !== id);
}
