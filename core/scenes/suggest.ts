import { RuledAccess } from '../access/ruled.ts';
import { peopleTable } from '../app/people.ts';
import { namedScene } from '../app/scene-edits.ts';
import type { App } from '../app/schema.ts';
import type { Scene } from '../app/scene-schema.ts';
import { Replica } from '../host/replica.ts';
import { Records } from '../records/store.ts';
import { MOST_PHONES, type Persona } from '../rehearsal/cast.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { attempt, chanceLists, shortened, type ChanceOptions, type Watch } from './attempt.ts';
import { ChanceMap, ChanceMemory } from './chance-map.ts';
import type { Covered } from './covered.ts';
import type { Touched } from './result.ts';
import { ownRecords } from './shake.ts';
import { Touching } from './touching.ts';
import type { ShakenAct } from './shake-acts.ts';

/** A scene that comes to something that no scene does. */
export interface Suggested {
  of: { sort: keyof Touched; id: string; name: string };
  scene: Scene;
}

export interface SuggestOptions extends ChanceOptions {
  /** What no scene comes to. */
  missing: readonly Covered[];
  times: number;
  acts: number;
  seed: number;
  heard?(progress: { tried: number; suggested: Suggested[] }): void;
  ends?(): boolean;
}

/**
 * Whom suggested scenes are tried with: two people, somebody in each role as far as there is room, and where the app is
 * open to all or has no people, somebody not signed in.
 */
export function castFor(app: App, states: SuggestOptions['states']): Persona[] {
  const people = app.people ?? peopleTable(app)?.id;
  const all = states.filter((s) => s.table === people).map((s) => s.id);
  const chosen = new Set(all.slice(0, 2));
  if (app.access) {
    const records = new Records(app);
    new Replica(records).load(states.map((s) => ({ ...s, cells: { ...s.cells }, stamp: '' })));
    const rules = new RuledAccess(records, () => app);
    const held = new Set<string>();
    for (const person of all)
      for (const role of rules.rolesOf(person))
        if (!held.has(role)) {
          held.add(role);
          chosen.add(person);
        }
    rules.close();
  }
  const cast = [...chosen].slice(0, MOST_PHONES - 1).map((record): Persona => ({ is: 'person', record }));
  return cast.length === 0 || app.access?.opens === 'anybody' ? [...cast, { is: 'nobody' }] : cast;
}

/** So often a way is tried shorter: there are many of them. */
const MOST_SHORTER = 30;

type Wanted = Suggested['of'];
const keyOf = ({ sort, id }: Pick<Wanted, 'sort' | 'id'>): string => `${sort} ${id}`;

/** Plays by chance, as people do who make no mistakes and lose no network, and proposes scenes that come to what none does. */
export async function suggest(options: SuggestOptions): Promise<Suggested[]> {
  const { app, missing, times, acts, seed, heard, ends } = options;
  const wanted = new Map(
    missing.flatMap((c) => c.missing.map((m) => [keyOf({ ...m, sort: c.sort }), { ...m, sort: c.sort }] as const)),
  );
  const suggested: Suggested[] = [];
  const map = new ChanceMap(app);
  const memory = new ChanceMemory();
  for (const [tried, list] of chanceLists(acts, times, seed).entries()) {
    heard?.({ tried, suggested: [...suggested] });
    if (ends?.() || wanted.size === 0) break;
    const seeks = (of: ReadonlySet<string>) => (room: Rehearsal) => watched(app, room, of);
    const first = await attempt(options, seeks(new Set(wanted.keys())), { map, memory, faults: false }, list);
    if (!first.found) continue;
    const one = wanted.get(first.found.key)!;
    const only = seeks(new Set([first.found.key]));
    const shortest = await shortened(first, MOST_SHORTER, async (some) => {
      const again = await attempt(options, only, { map, memory: new ChanceMemory(), faults: false }, some);
      return again.found ? again : null;
    });
    // What it comes to on its way needs no other.
    for (const key of shortest.found!.all) wanted.delete(key);
    const scene = { ...shortest.scene, name: namedScene(one.name), records: ownRecords(options.states) };
    suggested.push({ of: one, scene });
  }
  heard?.({ tried: times, suggested: [...suggested] });
  return suggested;
}

interface Reached {
  /** What was sought, and all else that was come to on the way. */
  key: string;
  all: string[];
}

/** Seeks one of several things; where something is refused or stops, that is no way there. */
function watched(app: App, room: Rehearsal, wanted: ReadonlySet<string>): Watch<Reached> {
  const touching = new Touching(app, room);
  let noted = room.notesSince(0).at(-1)?.n ?? 0;
  const watch: Watch<Reached> = {
    after(act: ShakenAct) {
      const notes = room.notesSince(noted);
      noted = notes.at(-1)?.n ?? noted;
      if (notes.some((n) => n.sort === 'refused')) {
        watch.isOver = true;
        return null;
      }
      touching.look();
      if (act.does === 'one' && act.of.startsWith('save ')) touching.saved(act.of.slice('save '.length));
      const all = Object.entries(touching.touched).flatMap(([sort, ids]: [string, string[]]) =>
        ids.map((id) => keyOf({ sort: sort as keyof Touched, id })),
      );
      const key = all.find((k) => wanted.has(k));
      return key === undefined ? null : { key, all };
    },
    close: () => touching.close(),
  };
  touching.look();
  return watch;
}
