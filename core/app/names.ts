import { elementKinds } from '../screens/kinds.ts';
import type { AnyElement } from '../document/meaning.ts';
import { isPartUse } from '../screens/part-places.ts';
import { tableOf, type Tables } from '../tables/names.ts';
import type { App, Part, Routine, Screen } from './schema.ts';

/** Everything that has elements: screens, and parts of them. */
export const drawnOf = (app: App): (Screen | Part)[] => [...app.screens, ...(app.parts ?? [])];
export const partOf = (app: Pick<App, 'parts'>, id: string): Part | undefined => app.parts?.find((p) => p.id === id);
export const screenOf = (app: App, id: string): Screen | undefined => app.screens.find((s) => s.id === id);
export const routineOf = (app: App, id: string): Routine | undefined => app.routines.find((r) => r.id === id);

/** What people call a kind of element. */
export const kindName = (kind: string): string => elementKinds.get(kind)?.said.name ?? kind;

/** The property that holds what an element says; undefined for one that says nothing. */
export const wordsOf = (e: AnyElement): string | undefined =>
  Object.entries(elementKinds.get(e.kind)?.properties ?? {}).find(([, p]) => p.is === 'words')?.[0];

/** What an element is called in outlines: the name it was given, or what its kind makes of what it shows. */
export function elementName(app: Tables, e: AnyElement): string {
  if (e.name) return e.name;
  const part = isPartUse(e) && app.parts?.find((p) => p.id === e.part);
  if (part) return part.name;
  const definition = elementKinds.get(e.kind);
  const fields = [...app.tables.flatMap((t) => t.fields), ...(app.variables ?? [])];
  const field = (id: string) => fields.find((f) => f.id === id);
  const words = (template: string): string =>
    template
      .replace(/\{[^}]*\}/g, (place) => field(place.match(/[fv]_[a-z0-9]{6,}(?!\w)/g)?.at(-1) ?? '')?.name ?? '…')
      .trim();
  return definition?.name?.(e, { words, table: (id) => tableOf(app, id), field }) || kindName(e.kind);
}
