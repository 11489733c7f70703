import { applyPatches, enablePatches, freeze, produceWithPatches, type Draft as ImmerDraft, type Patch } from 'immer';
import { useMemo } from 'react';
import { create } from 'zustand';
import { AppSchema, type App } from '../../core/app/schema.ts';
import type { Written } from '../../core/host/undo.ts';
import type { Draft } from '../../core/records/change.ts';
import type { Happened } from '../../core/session/effects.ts';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { WalkApi } from '../../core/phone/walk.ts';
import type { EngineRemote } from './engine.ts';
import { startEngine, type RunningEngine } from './engine.ts';
import { holdApp } from './hold.ts';
import { inOrder } from './in-order.ts';
import { readSteps, type Step } from './kept-steps.ts';
import { registry, stepsOf, takeUnwritten, type KeptApp } from './registry.ts';
import { DeskFollows } from './phone-first.ts';
import { previewOf } from './preview.ts';
import { revised } from './revisions.ts';
import { keepDocument, keepStepsOf, lastSave, tellProblem } from './saving.ts';
import { say, useTrace } from './trace.ts';

enablePatches();

interface StudioState {
  kept: KeptApp | null;
  /** The document as it is. */
  app: App | null;
  /** The same as the desk draws it: for a moment the one before, while somebody types into a property. */
  shown: App | null;
  engine: EngineRemote | null;
  /** The engine as the phone asks it. */
  phone: PhoneApi | null;
  /** Leads whoever uses the phone through the app. */
  walk: WalkApi | null;
  /** Whose records the phone beside the work gets, and only those; null where it has all. */
  persona: { id: string; title: string } | null;
  /** Has the phone beside the work be one of the people, as a host would serve them; null for all records. */
  be(person: { id: string; title: string } | null): Promise<void>;
  past: Step[];
  future: Step[];

  open(id: string): Promise<void>;
  close(): void;
  /** Changes the document as one named, undoable edit. */
  edit(
    label: string,
    recipe: (app: ImmerDraft<App>) => void,
    options?: {
      merge?: string;
      drafts?: Draft[];
      about?: Happened['about'];
      /** The desk shows it when the phone has drawn it; see `DeskFollows`. */
      phoneFirst?: boolean;
    },
  ): Promise<void>;
  /** Changes records as one named, undoable edit. */
  editRecords(label: string, drafts: Draft[]): Promise<void>;
  /** Takes note of record edits that were made elsewhere, as one undoable edit. */
  noteEdit(label: string, written: Written, tried?: string): void;
  /** Takes the last step back, and gives what it is called: null where there is none, undefined where that failed. */
  undo(): Promise<string | null | undefined>;
  redo(): Promise<string | null | undefined>;
  setReleased(released: KeptApp['released']): Promise<void>;
}

const MERGE_MS = 1500;
const KEPT_STEPS = 300;
/** Now, and in any case later than a moment before: it names one state of the document. */
const laterThan = (before: string): string =>
  new Date(Math.max(Date.now(), (Date.parse(before) || 0) + 1)).toISOString();
const step = (label: string, more: Partial<Step>): Step => ({
  label,
  patches: [],
  inverse: [],
  drafts: [],
  written: null,
  merge: null,
  at: Date.now(),
  ...more,
});

let running: RunningEngine | null = null;
let release: (() => void) | null = null;
/** Counts openings and closings: an opening that takes its time may be overtaken by the next. */
let openings = 0;

const desk = new DeskFollows(() => {
  useStudio.setState((s) => ({ shown: s.app }));
  revised.document();
});
/** The phone beside the work has drawn something new. */
export const phoneDrew = (): void => desk.phoneDrew();
for (const leaves of ['pointerdown', 'focusout']) addEventListener(leaves, () => desk.catchUp(), true);

/** The open app: its document, the way back, and its engine. */
export const useStudio = create<StudioState>((set, get) => {
  const persist = (app: App, more: Partial<KeptApp> = {}): Promise<void> => {
    const kept = { ...get().kept!, ...more, app, changed: laterThan(get().kept!.changed) };
    set({ app, kept });
    return keepDocument(kept);
  };

  /** Keeps what can be undone, with the document as it is. */
  const keepSteps = (): void => {
    const { kept } = get();
    if (kept) void keepDocument(kept);
  };

  /** Whether a step of before leads to a document that can be read. */
  const fits = (patches: Patch[]): boolean => {
    try {
      return AppSchema.safeParse(applyPatches(get().app!, patches)).success;
    } catch {
      return false;
    }
  };

  /** Puts a changed document in place, here and in the engine, which hears of the change alone, and first. */
  const change = async (next: App, patches: Patch[], phoneFirst = false): Promise<void> => {
    const told = get().engine?.change(patches);
    void persist(next);
    desk.changed(phoneFirst);
    await told;
  };

  /** Applies one step in either direction: first the document, then the records. Gives what goes the other way. */
  const apply = async (patches: Patch[], written: Written | null): Promise<Written | { changed: string } | null> => {
    const { app, engine } = get();
    if (!app || !engine) return null;
    if (patches.length) await change(applyPatches(app, patches), patches);
    return written && engine.editing.takeBack(written);
  };

  /**
   * Edits of records take their time, and what is typed meanwhile comes after them. A step stands in the past as soon
   * as it is made, so that whoever takes it back at once takes back that one, when it is done.
   */
  let oneByOne = inOrder();
  const write = (entry: Step, engine: EngineRemote): Promise<void> =>
    oneByOne(async () => {
      entry.written = await engine.editing.edit(entry.drafts);
      keepSteps();
    });

  /** A step whose records could not be written is none: its change of the document is taken back, and that is said. */
  const fails = async (entry: Step, error: Error): Promise<void> => {
    // The app was closed meanwhile, and its past with it.
    if (!get().past.includes(entry)) return;
    set((s) => ({ past: s.past.filter((e) => e !== entry) }));
    await apply(entry.inverse, null);
    tellProblem(error.message);
  };

  /** Takes the last step of one side over to the other; one that cannot be taken stays where it was, and it is said. */
  const turn = (from: 'past' | 'future', to: 'past' | 'future'): Promise<Step | null | undefined> =>
    oneByOne(async () => {
      const entry = get()[from].at(-1);
      if (!entry) return null;
      const [there, back] = from === 'past' ? [entry.inverse, entry.patches] : [entry.patches, entry.inverse];
      const move = (a: 'past' | 'future', b: 'past' | 'future'): void =>
        set(
          (s) =>
            ({ [a]: s[a].filter((e) => e !== entry), [b]: [...s[b], entry] }) as Pick<StudioState, 'past' | 'future'>,
        );
      if (entry.kept && !fits(there)) {
        set({ [from]: [] } as Partial<StudioState>);
        keepSteps();
        tellProblem(`“${entry.label}” does not fit the app any more. It was left as it is.`);
        return undefined;
      }
      entry.turning = entry.written !== null;
      // What is typed after an undo is a step of its own.
      for (const e of get().past) e.merge = null;
      move(from, to);
      try {
        const turned = await apply(there, entry.written);
        if (!turned || !('changed' in turned)) {
          entry.written = turned;
          return entry;
        }
        // Somebody has changed it since: it stays as it is now, and whoever goes on undoing takes the step before.
        if (back.length) await apply(back, null);
        set((s) => ({ [to]: s[to].filter((e) => e !== entry) }) as Pick<StudioState, 'past' | 'future'>);
        const did = from === 'past' ? 'undone' : 'done again';
        tellProblem(`“${entry.label}” cannot be ${did}: ${turned.changed} It was left as it is.`);
        return undefined;
      } catch (e) {
        if (!get()[to].includes(entry)) return undefined;
        if (back.length) await apply(back, null);
        move(to, from);
        tellProblem((e as Error).message);
        return undefined;
      } finally {
        entry.turning = false;
        keepSteps();
      }
    });

  const remember = (entry: Step, instead = false): void =>
    set((s) => ({ past: [...(instead ? s.past.slice(0, -1) : s.past), entry].slice(-KEPT_STEPS), future: [] }));

  return {
    kept: null,
    app: null,
    shown: null,
    engine: null,
    phone: null,
    walk: null,
    persona: null,
    past: [],
    future: [],

    async open(id) {
      if (get().kept?.id === id) return;
      get().close();
      const mine = ++openings;
      const letGo = await holdApp(id);
      // Somebody may have gone on to another app meanwhile: this one is let go, with its engine.
      if (mine !== openings) return letGo();
      release = letGo;
      const kept = takeUnwritten(id) ?? (await registry.apps.get(id));
      if (mine !== openings) return letGo();
      if (!kept)
        throw new Error('This app is not kept in this browser. It may have been removed, or made in another browser.');
      const before = await stepsOf(id);
      const engine = await startEngine(kept, before);
      if (mine !== openings) {
        engine.stop();
        return letGo();
      }
      running = engine;
      revised.reset();
      useTrace.getState().clear();
      // As every document that an edit gives; what is made of its parts can be kept.
      const app = freeze(kept.app, true);
      set({
        kept,
        app,
        shown: app,
        engine: running.engine,
        phone: running.phone,
        walk: running.walk,
        ...readSteps(before, kept),
      });
    },

    async be(persona) {
      const engine = running;
      if (!engine) return;
      if (persona) await engine.engine.persona.be(persona.id);
      else await engine.engine.persona.end();
      if (running !== engine) return;
      const { phone, walk } = persona ? engine.persona : engine;
      set({ persona, phone, walk });
    },

    close() {
      openings++;
      running?.stop();
      running = null;
      release?.();
      release = null;
      // An engine that is gone never answers: nobody waits for it.
      oneByOne = inOrder();
      lastSave();
      desk.stop();
      set({ kept: null, app: null, shown: null, engine: null, phone: null, walk: null, persona: null });
    },

    async edit(
      label,
      recipe,
      { merge = null as string | null, drafts = [] as Draft[], about, phoneFirst = false } = {},
    ) {
      const { app, engine } = get();
      if (!app || !engine) return;
      const [next, patches, inverse] = produceWithPatches(app, recipe);
      if (patches.length === 0 && drafts.length === 0) return;
      const last = get().past.at(-1);
      const joins =
        merge !== null &&
        last?.merge === merge &&
        Date.now() - last.at < MERGE_MS &&
        drafts.length + last.drafts.length === 0;
      const entry = joins
        ? { ...last, patches: [...last.patches, ...patches], inverse: [...inverse, ...last.inverse], at: Date.now() }
        : step(label, { patches, inverse, drafts, merge });
      remember(entry, joins);
      const told = change(next, patches, phoneFirst);
      try {
        if (drafts.length) await write(entry, engine);
      } catch (e) {
        await fails(entry, e as Error);
        return;
      }
      await told;
      if (!joins) say({ said: label, tone: 'plain', ...(about && { about }) });
    },

    async editRecords(label, drafts) {
      const { engine } = get();
      if (!engine || drafts.length === 0) return;
      const started = performance.now();
      const entry = step(label, { drafts });
      remember(entry);
      try {
        await write(entry, engine);
        say({
          said: label,
          tone: 'plain',
          ms: performance.now() - started,
          about: { table: drafts[0]!.table, record: drafts[0]!.record },
        });
      } catch (e) {
        await fails(entry, e as Error);
      }
    },

    noteEdit(label, written, tried) {
      remember(step(label, { written, tried }));
      keepSteps();
      say({ said: label, tone: 'plain' });
    },

    async undo() {
      const entry = await turn('past', 'future');
      if (entry) say({ said: `Undid: ${entry.label}`, tone: 'plain' });
      return entry && entry.label;
    },

    async redo() {
      const entry = await turn('future', 'past');
      if (entry) say({ said: `Did again: ${entry.label}`, tone: 'plain' });
      return entry && entry.label;
    },

    async setReleased(released) {
      const { app } = get();
      if (app) await persist(app, { released });
    },
  };
});

keepStepsOf(() => useStudio.getState());

/** The open app as the desk shows it; only for parts that are shown when there is one. */
export function useApp(): App {
  return useStudio((s) => s.shown)!;
}
export function useEngine(): EngineRemote {
  return useStudio((s) => s.engine)!;
}
/** The phone beside the work, as a page asks it. */
export function usePhone(): PhoneApi {
  return useStudio((s) => s.phone)!;
}
/** Where the open app is in the address; every view of it lies below. */
export const useHome = (): string => useStudio((s) => `/app/${s.kept?.id ?? ''}`);
/** The engine for pictures of screens, in which nobody does anything. */
export function usePreview(): PhoneApi {
  const phone = usePhone();
  return useMemo(() => previewOf(phone), [phone]);
}
/** Makes a named edit of the document. */
export const useEdit = (): StudioState['edit'] => useStudio((s) => s.edit);
