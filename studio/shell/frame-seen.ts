import { hostsOf } from '../../core/app/elsewhere.ts';
import { peopleTable, personalScreens } from '../../core/app/people.ts';
import type { App } from '../../core/app/schema.ts';
import { frameOf, type Frame } from '../../player/api.ts';

let last: { app: App; frame: Frame } | null = null;

/** The frame around the screens of an app: the same one as before where nothing of it has changed, as by most edits. */
export function frameSeen(app: App): Frame {
  if (last?.app === app) return last.frame;
  const frame = frameOf(app, [...hostsOf(app)], personalScreens(app), peopleTable(app)?.id ?? null);
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
