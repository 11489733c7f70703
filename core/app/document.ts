import { z } from 'zod';
import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import { upgraded } from '../document/upgrade.ts';
import { inTodaysVersion } from '../document/earlier-versions.ts';
import { newId } from '../document/ids.ts';
import { AppSchema, type App } from './schema.ts';
import { firstIssue, UnreadableError } from '../document/unreadable.ts';
import { FORMAT, VERSION } from '../document/version.ts';

/** A new app with nothing in it but one empty screen. */
export function emptyApp(name: string, id = newId('a')): App {
  const screen = newId('s');
  return {
    format: FORMAT,
    version: VERSION,
    id,
    name,
    tables: [],
    screens: [
      {
        id: screen,
        name: 'Home',
        given: null,
        icon: 'house',
        root: { id: newId('e'), kind: 'box', runs: 'down', gap: 12, inside: 16, surface: 'none', children: [] },
      },
    ],
    tabs: [{ screen, name: 'Home', icon: 'house' }],
    routines: [],
    look: { theme: 'straw', accent: null, icon: { letters: initials(name), colour: '#C8441F', picture: null } },
    files: [],
  };
}

export function initials(name: string): string {
  const words = name.trim().split(/\s+/).filter(Boolean);
  const letters = words.length > 1 ? words[0]![0]! + words[1]![0]! : (words[0] ?? 'A').slice(0, 2);
  return letters.charAt(0).toUpperCase() + letters.slice(1);
}

/** An app's JSON is not deeper than this: elements in elements, each in its list. */
const MOST_DEEP = 120;

/** Looks without going into itself: what is too deep would end that. */
function isDeeper(json: unknown, most: number): boolean {
  let level: unknown[] = [json];
  for (let depth = 0; level.length; depth++) {
    if (depth > most) return true;
    level = level.flatMap((x) => (typeof x === 'object' && x !== null ? Object.values(x) : []));
  }
  return false;
}

/** Checks an app document of any known version. Throws {@link UnreadableError}. */
export function readApp(json: unknown, what = 'This file'): App {
  if (typeof json !== 'object' || json === null || (json as { format?: unknown }).format !== FORMAT) {
    throw new UnreadableError(`${what} is not a Mellow Kite app.`);
  }
  const doc = json as Record<string, unknown>;
  const version = Number(doc['version']);
  if (!Number.isInteger(version) || version < 1)
    throw new UnreadableError(`${what} does not say which version of the format it has.`);
  if (isDeeper(doc, MOST_DEEP))
    throw new UnreadableError(`${what} has elements or steps inside one another more than ${MOST_DEEP / 2} deep.`);
  if (version > VERSION) {
    throw new UnreadableError(
      `${what} was made with a newer Mellow Kite (format ${version}, this one reads up to ${VERSION}). Update this one, then open it again.`,
    );
  }
  const result = AppSchema.safeParse(upgraded(inTodaysVersion(doc), { elements: elementKinds, steps: stepKinds }));
  if (!result.success) throw new UnreadableError(`${what} is damaged: ${firstIssue(result.error)}`);
  return result.data;
}

/** The JSON Schema of the app document. */
export const appJsonSchema = (): object => z.toJSONSchema(AppSchema, { reused: 'ref', unrepresentable: 'any' });
