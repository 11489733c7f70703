import { allId } from '../document/ids.ts';
import type { AnyElement } from '../document/meaning.ts';
import type { ScreenDoc } from '../screens/live-screen.ts';
import type { Part } from './schema.ts';

const partScreens = new WeakMap<Part, ScreenDoc>();

/** A part as a screen of its own, with samples in its inputs, for whoever works on it. */
export function partScreen(part: Part): ScreenDoc {
  const known = partScreens.get(part);
  if (known) return known;
  const values = part.inputs.flatMap((i) => (i.isTap ? [] : [{ field: i.id, value: i.first || sampleOf(i) }]));
  const use = { id: part.root.id, kind: 'part', part: part.id, values } as AnyElement;
  const frame = { kind: 'box', runs: 'down', gap: 0, inside: 16, surface: 'none' };
  const root = { id: 'e_partscr0', ...frame, children: [use] } as AnyElement;
  const doc: ScreenDoc = { id: part.id, name: part.name, given: null, root };
  partScreens.set(part, doc);
  return doc;
}

const sampleOf = (i: Part['inputs'][number]): string =>
  i.link ? (i.several ? allId(i.link.table) : `${allId(i.link.table)}[1]`) : JSON.stringify(i.name);
