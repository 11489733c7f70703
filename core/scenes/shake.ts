import { namedScene } from '../app/scene-edits.ts';
import type { App } from '../app/schema.ts';
import { MOST_OWN_RECORDS, type Scene } from '../app/scene-schema.ts';
import type { RecordState } from '../records/change.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { attempt, chanceLists, shortened, type ChanceOptions, type Watch } from './attempt.ts';
import { ChanceMap, ChanceMemory } from './chance-map.ts';
import type { Recorder } from './recorder.ts';
import { Looks, type Fault } from './shake-looks.ts';

export interface ShakeOptions extends ChanceOptions {
  /** So many times it is tried, each with so many acts at most. */
  times: number;
  acts: number;
  /** What is tried. What comes of it also hangs on the ids of new records, which are by chance each time. */
  seed: number;
  heard?(progress: { tried: number; found: ShakeFound[] }): void;
  ends?(): boolean;
}

/** A fault that was found, and the shortest way there that was, as a scene. */
export interface ShakeFound {
  fault: Fault;
  scene: Scene;
  /** Acts that led there first, and after it was made shorter. */
  from: number;
  to: number;
}

/** So often a way is tried shorter. */
const MOST_SHORTER = 50;

/** Plays sensible acts by chance, by everybody and with faults of the network, and looks for what must never be. */
export async function shake(options: ShakeOptions): Promise<ShakeFound[]> {
  const { app, times, acts, seed, heard, ends } = options;
  const found = new Map<string, ShakeFound>();
  const map = new ChanceMap(app);
  const memory = new ChanceMemory();
  for (const [i, list] of chanceLists(acts, times, seed).entries()) {
    heard?.({ tried: i, found: [...found.values()] });
    if (ends?.()) break;
    const known = new Set(found.keys());
    const watch = (room: Rehearsal, recorder: Recorder): Watch<Fault> => watched(app, room, recorder, known);
    const tried = await attempt(options, watch, { map, memory, faults: true }, list);
    if (!tried.found) continue;
    const { key } = tried.found;
    const shortest = await shortened(tried, MOST_SHORTER, async (some) => {
      const again = await attempt(options, watch, { map, memory: new ChanceMemory(), faults: true }, some);
      return again.found?.key === key ? again : null;
    });
    found.set(key, {
      fault: shortest.found!,
      scene: failing({ ...shortest.scene, records: ownRecords(options.states) }, shortest.found!),
      from: tried.did.length,
      to: shortest.did.length,
    });
  }
  heard?.({ tried: times, found: [...found.values()] });
  return [...found.values()];
}

/** Looks for a fault that is not known. */
function watched(app: App, room: Rehearsal, recorder: Recorder, known: ReadonlySet<string>): Watch<Fault> {
  const looks = new Looks(app, room);
  const first = (faults: readonly Fault[]): Fault | null => faults.find((f) => !known.has(f.key)) ?? null;
  return {
    after: () => first(looks.after()),
    atEnd: () => first([...looks.after(), ...looks.atEnd()]),
    expects({ on, told }) {
      // Whose change is the later one hangs on moments: nobody must be told so.
      for (const id of told === undefined ? [] : Object.keys(room.phones)) {
        const each = recorder.memberOf(id);
        if (each) recorder.expect({ do: 'expect told', who: each, how: 'is not there', words: told! });
      }
      const who = on === undefined || told !== undefined ? null : recorder.memberOf(on);
      if (who) recorder.expect({ do: 'expect refused', who, words: '' });
    },
    close: () => looks.close(),
  };
}

/** The records that it began with, as a scene keeps them. Throws where they are more than a scene takes. */
export function ownRecords(states: ShakeOptions['states']): NonNullable<Scene['records']> {
  if (states.length > MOST_OWN_RECORDS)
    throw new RangeError(`A scene takes ${MOST_OWN_RECORDS} records of its own at most, not ${states.length}.`);
  return states.map(({ table, id, cells }) => ({ table, id, cells: { ...cells } as never }));
}

/** A scene that fails as long as the fault is there. */
function failing(scene: Scene, fault: Fault): Scene {
  const steps = scene.steps.map((s) => ({ ...s }));
  const last = steps.at(-1);
  if (last) {
    last.note = fault.said.slice(0, 2000);
    // What goes wrong there must not.
    if (fault.sort === 'stops' || fault.sort === 'dead end') delete last.wrong;
  }
  return { ...scene, name: namedScene(fault.said), steps };
}

/**
 * A few records of each table, those that these link to included, so that it is quick: fewer than `most` of each where a
 * scene could not take them all.
 */
export function fewRecords<S extends Pick<RecordState, 'table' | 'id' | 'cells'>>(
  app: App,
  states: readonly S[],
  most: number,
  always: readonly string[],
): S[] {
  const links = new Map(app.tables.map((t) => [t.id, t.fields.filter((f) => f.link).map((f) => f.id)]));
  const byId = new Map(states.map((s) => [s.id, s]));
  for (let each = most; ; each = Math.floor(each / 2)) {
    const count = new Map<string, number>();
    const kept = new Set<string>(always.filter((id) => byId.has(id)));
    for (const s of states) {
      const n = count.get(s.table) ?? 0;
      if (n >= each) continue;
      count.set(s.table, n + 1);
      kept.add(s.id);
    }
    for (const id of kept) {
      const state = byId.get(id)!;
      for (const f of links.get(state.table) ?? []) {
        const cell = state.cells[f];
        if (typeof cell !== 'string') continue;
        for (const to of cell.split(/[^\w-]+/)) if (byId.has(to) && kept.size < MOST_OWN_RECORDS) kept.add(to);
      }
    }
    // With none of each, only those that are always there are left, and what they link to.
    if (kept.size < MOST_OWN_RECORDS || each === 0) return states.filter((s) => kept.has(s.id));
  }
}
