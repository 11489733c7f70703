import fc from 'fast-check';
import type { App } from '../app/schema.ts';
import type { Scene } from '../app/scene-schema.ts';
import { stampText } from '../host/clock.ts';
import type { RecordState } from '../records/change.ts';
import type { Persona } from '../rehearsal/cast.ts';
import { Rehearsal } from '../rehearsal/rehearsal.ts';
import type { Kinds } from '../session/session.ts';
import type { ChanceMap, ChanceMemory } from './chance-map.ts';
import { begin } from './doing.ts';
import { Recorder } from './recorder.ts';
import { rest } from './resting.ts';
import { ChanceHands, type ChanceAct, type ShakenAct } from './shake-acts.ts';

/** What acts by chance are done with. */
export interface ChanceOptions {
  app: App;
  states: readonly Pick<RecordState, 'table' | 'id' | 'cells'>[];
  kinds: Kinds;
  cast: readonly Persona[];
  at: number;
}

/** Looks at a rehearsal for what is sought; null while it is not there. */
export interface Watch<T> {
  after(act: ShakenAct): T | null;
  /** When all phones have a network again, and nothing is under way. */
  atEnd?(): T | null;
  /** It goes on no further. */
  isOver?: boolean;
  /** Adds to the scene what must be so. */
  expects?(found: T): void;
  close(): void;
}

/** What acts by chance have led to. */
export interface Attempt<T> {
  found: T | null;
  /** The acts up to where it was found. */
  did: ShakenAct[];
  scene: Scene;
}

const HOUR = 3_600_000;

const act: fc.Arbitrary<ChanceAct> = fc.record({
  who: fc.nat(5),
  sort: fc.nat(99),
  pick: fc.nat(999),
  value: fc.nat(999),
});

/** So many lists of acts by chance, each of so many at most; the same for the same seed. */
export const chanceLists = (acts: number, times: number, seed: number): ChanceAct[][] =>
  fc.sample(fc.array(act, { minLength: Math.ceil(acts / 2), maxLength: acts }), { numRuns: times, seed });

/** Plays acts in a new rehearsal, chosen by chance or as they were, up to where what is sought is there. */
export async function attempt<T>(
  { app, states, kinds, cast, at }: ChanceOptions,
  watches: (room: Rehearsal, recorder: Recorder) => Watch<T>,
  by: { map: ChanceMap; memory: ChanceMemory; faults: boolean },
  acts: readonly (ChanceAct | ShakenAct)[],
): Promise<Attempt<T>> {
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
  let watch: Watch<T> | null = null;
  const did: ShakenAct[] = [];
  const hands = new ChanceHands(app, room, by.map, by.memory, by.faults);
  try {
    for (const persona of cast) {
      await begin(room.phones[await room.add(persona)]!);
      await rest(room);
    }
    watch = watches(room, recorder);
    const end = async (found: T | null): Promise<Attempt<T>> => {
      if (found) watch?.expects?.(found);
      return { found, did, scene: await recorder.scene('Found by chance') };
    };
    for (const one of acts) {
      const does = 'does' in one ? one : hands.choose(one);
      if (!does || !(await hands.do(does))) continue;
      did.push(does);
      await rest(room);
      const found = watch.after(does);
      if (found || watch.isOver) return await end(found);
    }
    if (!watch.atEnd) return await end(null);
    for (const phone of Object.values(room.phones)) phone.network = 'on';
    await rest(room);
    await room.pass(60_000);
    return await end(watch.atEnd());
  } finally {
    watch?.close();
    await room.end();
  }
}

/**
 * The shortest way that still leads there, as fast-check makes lists shorter, after so many tries at most; `leads` gives
 * what came of some of its acts, and null where they do not.
 */
export async function shortened<T>(
  tried: Attempt<T>,
  most: number,
  leads: (some: readonly ShakenAct[]) => Promise<Attempt<T> | null>,
): Promise<Attempt<T>> {
  let tries = 0;
  let shortest = tried;
  // Each act stays what it is; some are left out.
  const some = fc.array(fc.noShrink(fc.constantFrom(...tried.did)), { maxLength: tried.did.length });
  const holds = fc.asyncProperty(some, async (acts) => {
    if (++tries > most) return true;
    const attempted = await leads(acts);
    if (!attempted) return true;
    if (attempted.did.length <= shortest.did.length) shortest = attempted;
    return false;
  });
  await fc.check(holds, { examples: [[tried.did]], numRuns: 1 });
  return shortest;
}
