import { hostsOf } from '../../core/app/elsewhere.ts';
import { peopleTable, personalScreens } from '../../core/app/people.ts';
import type { App } from '../../core/app/schema.ts';
import { dressed, type Dressed } from '../../core/app/themes.ts';
import { frameOf, type Around, type Frame } from '../../player/api.ts';

const looks = new WeakMap<object, Dressed>();

/** The frame of the app that is worked on; `more` are the screens that depend on the person, and the table of people. */
export function frameFor(app: App, more: Pick<Around, 'personal' | 'people'> = {}): Frame {
  const look = looks.get(app.look) ?? dressed(app.look);
  looks.set(app.look, look);
  return frameOf(app, { look, hosts: [...hostsOf(app)], ...more });
}

let last: { app: App; frame: Frame } | null = null;

/** The frame around the screens of an app: the same one as before where nothing of it has changed, as by most edits. */
export function frameSeen(app: App): Frame {
  if (last?.app === app) return last.frame;
  const frame = frameFor(app, { personal: personalScreens(app), people: peopleTable(app)?.id ?? null });
  last = { app, frame: last && isSame(last.frame, frame) ? last.frame : frame };
  return last.frame;
}

function isSame({ screens: a, hosts, ...frame }: Frame, { screens: b, hosts: now, ...other }: Frame): boolean {
  return (
    hosts?.join() === now?.join() &&
    Object.entries(frame).every(([key, value]) => value === other[key as keyof typeof other]) &&
    a.length === b.length &&
    a.every((s, i) => Object.entries(s).every(([key, value]) => value === b[i]![key as keyof typeof s]))
  );
}
