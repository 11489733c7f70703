import { walkSteps } from '../document/walk.ts';
import { triggerKinds } from '../routines/kinds.ts';
import type { App } from '../app/schema.ts';
import { elementName } from '../app/names.ts';
import { walkTaps } from '../app/ways-between.ts';

/** Screens that a tab, a tap or a step opens. */
export function reachedScreens(app: App): Set<string> {
  const reached = new Set<string>(
    [...app.tabs, ...(app.drawer?.ways ?? [])].map((t) => t.screen).concat(Object.values(app.starts ?? {})),
  );
  if (app.tabs.length === 0 && app.screens[0]) reached.add(app.screens[0].id);
  if (app.signIn) reached.add(app.signIn.screen);
  for (const s of app.screens)
    walkTaps(app, s.root, (tap) => {
      if (tap.do === 'open') reached.add(tap.screen);
    });
  for (const r of app.routines)
    walkSteps(r.steps, (s) => {
      if (s.do === 'open') reached.add(s.screen);
    });
  return reached;
}

/** Routines that something starts, other routines among it. */
export const startedRoutines = (app: App): Set<string> =>
  new Set(
    app.routines
      .filter((r) =>
        [...triggerKinds.values()].some((t) => t.starters(app, r.id, (e) => elementName(app, e)).length > 0),
      )
      .map((r) => r.id),
  );
