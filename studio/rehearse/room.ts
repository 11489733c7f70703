import { proxy, wrap, type Remote } from 'comlink';
import { z } from 'zod';
import { create } from 'zustand';
import type { App } from '../../core/app/schema.ts';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { WalkApi } from '../../core/phone/walk.ts';
import type { Note } from '../../core/rehearsal/notes.ts';
import type { Scene } from '../../core/app/scene-schema.ts';
import type { RehearsalState } from '../../core/rehearsal/state.ts';
import { MOST_PHONES, type Persona } from '../../core/rehearsal/cast.ts';
import { remotePhone, remoteWalk } from '../../player/remote.ts';
import { useStudio } from '../state/studio.ts';
import type { RehearsalEngine } from './worker.ts';

type Room = Remote<RehearsalEngine['room']>;
type EngineRemote = Remote<Omit<RehearsalEngine, 'room' | 'phones'>> & {
  room: Room;
  phones: Record<string, { api: Remote<PhoneApi>; walk: Remote<WalkApi> }>;
};

const LooksSchema = z.object({
  size: z.tuple([z.number().min(200).max(4000), z.number().min(200).max(4000)]),
  dark: z.boolean(),
  rtl: z.boolean(),
  zoom: z.number().min(1).max(2),
  lacks: z.array(z.string()),
});
/** How a phone of the room looks. */
export type Looks = z.infer<typeof LooksSchema>;
export const NEW_LOOKS: Looks = { size: [390, 844], dark: false, rtl: false, zoom: 1, lacks: [] };

const PersonaSchema: z.ZodType<Persona> = z.discriminatedUnion('is', [
  z.object({ is: z.literal('person'), record: z.string() }),
  z.object({ is: z.literal('nobody') }),
  z.object({ is: z.literal('invited'), mail: z.string(), role: z.string().optional() }),
]);
/** Somebody of a cast, and how their phone looks. */
const CastOne = z.object({ persona: PersonaSchema, looks: LooksSchema });
type CastOne = z.infer<typeof CastOne>;

interface RoomState {
  /** The app that is rehearsed, as it was when the rehearsal began; null while there is none. */
  app: App | null;
  engine: EngineRemote | null;
  state: RehearsalState | null;
  notes: Note[];
  /** By the ids of phones. */
  looks: Record<string, Looks>;
  problem: string;
  /** What was done so far, as the steps of a scene. */
  soFar: Pick<Scene, 'cast' | 'steps'> & { isFull: boolean };
  /** What is pressed on a phone is expected, and not done. */
  expecting: boolean;
  expect(on: boolean): void;
  /** Which rehearsal it is: another number for each that is begun. */
  which: number;
  /** Begins a rehearsal with the records as they are, in place of the one before. */
  begin(cast?: readonly Persona[]): Promise<void>;
  end(): void;
  add(persona: Persona): Promise<void>;
  remove(id: string): Promise<void>;
  look(id: string, change: Partial<Looks>): void;
  say(problem: string): void;
}

let worker: Worker | null = null;
let beginnings = 0;
/** Who is in the room, by the ids of their phones. */
let cast = new Map<string, Persona>();
/** The last cast of each app, so that the same people come again. */
const castKey = (app: string): string => `rehearsal-${app}`;

function castOf(app: string): CastOne[] | null {
  try {
    return z
      .array(CastOne)
      .max(MOST_PHONES)
      .parse(JSON.parse(localStorage.getItem(castKey(app)) ?? 'null'));
  } catch {
    // Nobody was here yet, or what was kept is of another time.
    return null;
  }
}

const phones = new Map<string, { api: PhoneApi; walk: WalkApi }>();

/** A phone of the room, as the player asks it: the same as long as it is opened. */
export function phoneOf(engine: EngineRemote, id: string, openings: number): { api: PhoneApi; walk: WalkApi } {
  const key = `${id} ${openings}`;
  const known = phones.get(key);
  if (known) return known;
  const there = engine.phones[id]!;
  const made = { api: remotePhone(there.api), walk: remoteWalk(there.walk) };
  phones.set(key, made);
  return made;
}

const NOTHING_YET: RoomState['soFar'] = { cast: [], steps: [], isFull: false };

/** The rehearsal of the open app. */
export const useRoom = create<RoomState>((set, get) => {
  const keepCast = (): void => {
    const { app, looks } = get();
    if (!app) return;
    const all = Array.from(cast, ([id, persona]): CastOne => ({ persona, looks: looks[id] ?? NEW_LOOKS }));
    localStorage.setItem(castKey(app.id), JSON.stringify(all));
  };
  let written = -1;
  const hear = (engine: EngineRemote, mine: number) => async (state: RehearsalState, steps: number) => {
    if (mine !== beginnings) return;
    if (steps !== written) {
      written = steps;
      const soFar = await engine.soFar;
      if (mine !== beginnings) return;
      set({ soFar });
    }
    const known = get().notes.at(-1)?.n ?? 0;
    const more = state.notes > known ? await engine.room.notesSince(known) : [];
    if (mine !== beginnings) return;
    const last = get().notes.at(-1)?.n ?? 0;
    const fresh = more.filter((n) => n.n > last);
    set((s) => ({ state, notes: fresh.length ? [...s.notes, ...fresh].slice(-2000) : s.notes }));
  };
  return {
    app: null,
    engine: null,
    state: null,
    notes: [],
    looks: {},
    problem: '',
    soFar: NOTHING_YET,
    expecting: false,
    expect: (on) => set({ expecting: on }),
    which: 0,

    async begin(people) {
      get().end();
      const mine = ++beginnings;
      const { app, engine: studio } = useStudio.getState();
      if (!app || !studio) return;
      const before = castOf(app.id);
      const wanted: CastOne[] = before?.length
        ? before
        : (people ?? []).map((persona) => ({ persona, looks: NEW_LOOKS }));
      try {
        const states = await studio.states();
        if (mine !== beginnings) return;
        worker = new Worker(new URL('worker.ts', import.meta.url), { type: 'module' });
        const stopped = (words: string): void =>
          set({ problem: `The rehearsal has stopped: ${words} Begin it anew; nothing of the app is touched.` });
        worker.addEventListener('error', (e) => stopped(e.message));
        const engine = wrap<RehearsalEngine>(worker) as unknown as EngineRemote;
        phones.clear();
        cast = new Map();
        set({ app, engine, which: mine });
        const file = proxy((hash: string) => studio.fileOf(hash));
        await engine.open(app, states, file, proxy(hear(engine, mine)));
        for (const { persona, looks } of wanted) {
          if (mine !== beginnings) return;
          await addOne(persona, looks);
        }
        keepCast();
      } catch (e) {
        if (mine === beginnings) set({ problem: (e as Error).message });
      }
    },

    end() {
      beginnings++;
      worker?.terminate();
      worker = null;
      set({
        app: null,
        engine: null,
        state: null,
        notes: [],
        looks: {},
        problem: '',
        soFar: NOTHING_YET,
        expecting: false,
      });
      written = -1;
    },

    async add(persona) {
      await addOne(persona, NEW_LOOKS);
      keepCast();
    },

    async remove(id) {
      await get().engine?.room.remove(id);
      cast.delete(id);
      keepCast();
    },

    look(id, change) {
      set((s) => ({ looks: { ...s.looks, [id]: { ...(s.looks[id] ?? NEW_LOOKS), ...change } } }));
      keepCast();
    },

    say: (problem) => set({ problem }),
  };

  async function addOne(persona: Persona, looks: Looks): Promise<void> {
    const { engine } = get();
    if (!engine) return;
    try {
      const id = await engine.room.add(persona);
      cast.set(id, persona);
      set((s) => ({ looks: { ...s.looks, [id]: looks }, problem: '' }));
    } catch (e) {
      set({ problem: (e as Error).message });
    }
  }
});

// A rehearsal is of the open app, and ends with it.
useStudio.subscribe((now, before) => {
  if (now.kept?.id !== before.kept?.id) useRoom.getState().end();
});
