import fc from 'fast-check';
import type { App } from '../app/schema.ts';
import { MOST_OWN_RECORDS, type Scene } from '../app/scene-schema.ts';
import { stampText } from '../host/clock.ts';
import type { RecordState } from '../records/change.ts';
import { Rehearsal } from '../rehearsal/rehearsal.ts';
import type { Persona } from '../rehearsal/cast.ts';
import type { Kinds } from '../session/session.ts';
import { begin } from './doing.ts';
import { Recorder } from './recorder.ts';
import { rest } from './resting.ts';
import { ChanceMap, ChanceMemory } from './chance-map.ts';
import { ChanceHands, type ChanceAct, type ShakenAct } from './shake-acts.ts';
import { Looks, type Fault } from './shake-looks.ts';

export interface ShakeOptions {
  app: App;
  states: readonly Pick<RecordState, 'table' | 'id' | 'cells'>[];
  kinds: Kinds;
  cast: readonly Persona[];
  at: number;
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

const HOUR = 3_600_000;
/** So often a way is tried shorter. */
const MOST_SHORTER = 50;

const act: fc.Arbitrary<ChanceAct> = fc.record({
  who: fc.nat(5),
  sort: fc.nat(99),
  pick: fc.nat(999),
  value: fc.nat(999),
});

/** Plays sensible acts by chance, by everybody and with faults of the network, and looks for what must never be. */
export async function shake(options: ShakeOptions): Promise<ShakeFound[]> {
  const { app, times, acts, seed, heard, ends } = options;
  const found = new Map<string, ShakeFound>();
  const map = new ChanceMap(app);
  const memory = new ChanceMemory();
  const lists = fc.sample(fc.array(act, { minLength: Math.ceil(acts / 2), maxLength: acts }), { numRuns: times, seed });
  for (const [i, list] of lists.entries()) {
    heard?.({ tried: i, found: [...found.values()] });
    if (ends?.()) break;
    const known = new Set(found.keys());
    const tried = await attempt(options, known, map, memory, list);
    if (!tried.fault) continue;
    const { key } = tried.fault;
    const again = (some: readonly ShakenAct[]): Promise<Attempt> =>
      attempt(options, known, map, new ChanceMemory(), some);
    const shortest = await shortened(tried, async (some) => {
      const attempted = await again(some);
      return attempted.fault?.key === key ? attempted : null;
    });
    found.set(key, {
      fault: shortest.fault!,
      scene: failing({ ...shortest.scene, records: ownRecords(options.states) }, shortest.fault!),
      from: tried.did.length,
      to: shortest.did.length,
    });
  }
  heard?.({ tried: times, found: [...found.values()] });
  return [...found.values()];
}

/** The shortest way that still leads there, as fast-check makes lists shorter; `leads` gives what came of some of its acts. */
async function shortened(
  tried: Attempt,
  leads: (some: readonly ShakenAct[]) => Promise<Attempt | null>,
): Promise<Attempt> {
  let tries = 0;
  let shortest = tried;
  // Each act stays what it is; some are left out.
  const some = fc.array(fc.noShrink(fc.constantFrom(...tried.did)), { maxLength: tried.did.length });
  const holds = fc.asyncProperty(some, async (acts) => {
    if (++tries > MOST_SHORTER) return true;
    const attempted = await leads(acts);
    if (!attempted) return true;
    if (attempted.did.length <= shortest.did.length) shortest = attempted;
    return false;
  });
  await fc.check(holds, { examples: [[tried.did]], numRuns: 1 });
  return shortest;
}

interface Attempt {
  fault: Fault | null;
  /** The acts up to where it was found. */
  did: ShakenAct[];
  scene: Scene;
}

/** Plays acts in a new rehearsal, chosen by chance or as they were, up to the first fault that is not known. */
async function attempt(
  { app, states, kinds, cast, at }: ShakeOptions,
  known: ReadonlySet<string>,
  map: ChanceMap,
  memory: ChanceMemory,
  acts: readonly (ChanceAct | ShakenAct)[],
): Promise<Attempt> {
  const stamp = stampText(at - HOUR, 0, 'scene');
  const begins = states.map(({ table, id, cells }): RecordState => ({ table, id, cells, stamp }));
  const recorder = new Recorder(app, begins);
  const room = new Rehearsal({
    app,
    states: begins,
    kinds,
    at,
    file: async () => null,
    changed: () => undefined,
    byHand: true,
    acts: recorder,
  });
  recorder.of(room);
  let looks: Looks | null = null;
  const did: ShakenAct[] = [];
  const hands = new ChanceHands(app, room, map, memory);
  try {
    for (const persona of cast) {
      await begin(room.phones[await room.add(persona)]!);
      await rest(room);
    }
    looks = new Looks(app, room);
    const first = (faults: readonly Fault[]): Fault | null => faults.find((f) => !known.has(f.key)) ?? null;
    const end = async (fault: Fault | null): Promise<Attempt> => {
      const { on, told } = fault ?? {};
      // Whose change is the later one hangs on moments: nobody must be told so.
      for (const id of told === undefined ? [] : Object.keys(room.phones)) {
        const each = recorder.memberOf(id);
        if (each) recorder.expect({ do: 'expect told', who: each, how: 'is not there', words: told! });
      }
      const who = on === undefined || told !== undefined ? null : recorder.memberOf(on);
      if (who) recorder.expect({ do: 'expect refused', who, words: '' });
      return { fault, did, scene: await recorder.scene('Found by chance') };
    };
    for (const one of acts) {
      const act = 'does' in one ? one : hands.choose(one);
      if (!act || !(await hands.do(act))) continue;
      did.push(act);
      await rest(room);
      const fault = first(looks.after());
      if (fault) return await end(fault);
    }
    for (const phone of Object.values(room.phones)) phone.network = 'on';
    await rest(room);
    await room.pass(60_000);
    const fault = first([...looks.after(), ...looks.atEnd()]);
    return await end(fault);
  } finally {
    looks?.close();
    await room.end();
  }
}

/** The records that it began with, as a scene keeps them. */
const ownRecords = (states: ShakeOptions['states']): NonNullable<Scene['records']> =>
  states.slice(0, MOST_OWN_RECORDS).map(({ table, id, cells }) => ({ table, id, cells: { ...cells } as never }));

/** A scene that fails as long as the fault is there. */
function failing(scene: Scene, fault: Fault): Scene {
  const steps = scene.steps.map((s) => ({ ...s }));
  const last = steps.at(-1);
  if (last) {
    last.note = fault.said.slice(0, 2000);
    // What goes wrong there must not.
    if (fault.sort === 'stops' || fault.sort === 'dead end') delete last.wrong;
  }
  return { ...scene, name: fault.said.slice(0, 80), steps };
}

/** A few records of each table, those that these link to included, so that it is quick. */
export function fewRecords<S extends Pick<RecordState, 'table' | 'id' | 'cells'>>(
  app: App,
  states: readonly S[],
  most: number,
  always: readonly string[],
): S[] {
  const count = new Map<string, number>();
  const kept = new Set<string>(always);
  for (const s of states) {
    const n = count.get(s.table) ?? 0;
    if (n >= most) continue;
    count.set(s.table, n + 1);
    kept.add(s.id);
  }
  const links = new Map(app.tables.map((t) => [t.id, t.fields.filter((f) => f.link).map((f) => f.id)]));
  const byId = new Map(states.map((s) => [s.id, s]));
  for (const id of kept) {
    const state = byId.get(id);
    for (const f of (state && links.get(state.table)) ?? []) {
      const cell = state!.cells[f];
      if (typeof cell === 'string') for (const to of cell.split(/[^\w-]+/)) if (byId.has(to)) kept.add(to);
    }
  }
  return states.filter((s) => kept.has(s.id));
}
