import type { App } from '../app/schema.ts';
import { mayWords, type Rule } from '../app/access-schema.ts';
import { elementName } from '../app/names.ts';
import type { AnyElement } from '../document/meaning.ts';
import { walkElements } from '../document/walk.ts';
import { ownerOf } from '../screens/part-places.ts';
import { tableOf } from '../tables/names.ts';
import type { Touched } from './result.ts';

/** How much of an app its scenes have come to, of one sort. */
export interface Covered {
  sort: keyof Touched;
  all: number;
  /** What no scene has come to, by id and name, in the order of the app. */
  missing: { id: string; name: string }[];
}

/** Whether somebody looked back at a record is not known of a scene. */
const isSeen = ({ may }: Rule): boolean => may.some((m) => m !== 'look back');
const isFilled = (c: Covered): boolean => c.all > 0;

/** What the scenes of an app have come to together, and what none of them has; sorts that the app has none of are left out. */
export function covered(app: App, played: readonly Touched[]): Covered[] {
  const of = (sort: keyof Touched, things: readonly { id: string; name: string }[]): Covered => {
    const touched = new Set(played.flatMap((t) => t[sort].map(ownerOf)));
    return { sort, all: things.length, missing: things.filter((t) => !touched.has(t.id)) };
  };
  const { roles = [], rules = [] } = app.access ?? {};
  return [
    of('screens', app.screens),
    of('routines', app.routines),
    of('forms', forms(app)),
    of('rules', rules.filter(isSeen).map((rule) => ({ id: rule.id, name: ruleName(app, rule) }))),
    of('roles', roles),
  ].filter(isFilled); // prettier-ignore
}

function forms(app: App): { id: string; name: string }[] {
  const found: { id: string; name: string }[] = [];
  for (const screen of app.screens)
    walkElements<AnyElement>([screen.root], (e) => {
      if (e.kind === 'form') found.push({ id: e.id, name: `${elementName(app, e)} on ${screen.name}` });
    });
  return found;
}

function ruleName(app: App, { who, may, table }: Rule): string {
  const everybody = { anybody: 'Anybody', 'signed in': 'Whoever has signed in' };
  const whom = everybody[who as keyof typeof everybody] ?? app.access?.roles.find((r) => r.id === who)?.name ?? '';
  return `${whom} can ${may.map(mayWords).join(', ')} ${tableOf(app, table)?.name ?? 'a table that is gone'}`;
}
