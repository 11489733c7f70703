import { proxy, releaseProxy, wrap, type Remote } from 'comlink';
import { applyPatches, enablePatches, produceWithPatches, type Draft as ImmerDraft, type Patch } from 'immer';
import { create } from 'zustand';
import type { App } from '../../core/app/schema.ts';
import type { Draft } from '../../core/host/change.ts';
import type { Happened } from '../../core/session/session.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import type { EngineEvent, StudioEngine } from '../engine/engine.ts';
import { leaveUnwritten, recordsDbName, registry, takeUnwritten, type KeptApp } from './registry.ts';

enablePatches();

/** One undoable step: what it did to the document, to the records, or to both. */
interface Entry {
  label: string;
  patches: Patch[];
  inverse: Patch[];
  drafts: Draft[];
  inverseDrafts: Draft[];
  /** Edits of one thing in quick succession, such as typing, are one step. */
  merge: string | null;
  at: number;
}

export interface TraceEntry extends Happened {
  key: number;
  at: Date;
}

interface StudioState {
  kept: KeptApp | null;
  app: App | null;
  engine: Remote<StudioEngine> | null;
  /** Grows whenever records or the document change; the phone and the grid look at it. */
  revision: number;
  /** The same, per table. */
  tableRevision: Record<string, number>;
  past: Entry[];
  future: Entry[];
  trace: TraceEntry[];
  /** The last run of every routine, for the values beside its steps. */
  runs: Record<string, RunTrace>;
  runCounts: Record<string, { runs: number; failed: number }>;
  host: { online: boolean; waiting: number } | null;
  /** Grows when a mirrored table stands differently with its file. */
  mirrorRevision: number;
  problem: string | null;
  saved: boolean;

  open(id: string): Promise<void>;
  close(): void;
  /** Changes the document as one named, undoable edit. */
  edit(
    label: string,
    recipe: (app: ImmerDraft<App>) => void,
    options?: { merge?: string; drafts?: Draft[]; about?: Happened['about'] },
  ): Promise<void>;
  /** Changes records as one named, undoable edit. */
  editRecords(label: string, drafts: Draft[]): Promise<void>;
  /** Takes note of record edits that were made elsewhere, as one undoable edit. */
  noteEdit(label: string, inverse: Draft[]): void;
  undo(): Promise<string | null>;
  redo(): Promise<string | null>;
  setReleased(released: KeptApp['released']): Promise<void>;
  say(what: Happened): void;
}

const MERGE_MS = 1500;

// A tab that is closed while a change is still being written leaves it in a place that is written at once.
addEventListener('pagehide', () => {
  const { kept, saved } = useStudio.getState();
  if (kept && !saved) leaveUnwritten(kept);
});

let worker: Worker | null = null;
let release: (() => void) | null = null;

/** Takes the app for this tab, so that two tabs never overwrite each other’s changes. Gives the way to let it go. */
async function holdApp(id: string): Promise<() => void> {
  // Plain http from another machine has no locks; there the last change wins.
  if (!('locks' in navigator)) return () => undefined;
  return new Promise((resolve, reject) => {
    const patience = new AbortController();
    // A tab that is just closing lets go in a moment.
    const timer = setTimeout(() => patience.abort(), 2500);
    navigator.locks
      .request(`kite-app-${id}`, { signal: patience.signal }, () => {
        clearTimeout(timer);
        return new Promise<void>((done) => {
          resolve(done);
        });
      })
      .catch(() =>
        reject(new Error('This app is open in another tab. Go on there, or close it there and open it here again.')),
      );
  });
}
let traceKey = 0;

export const useStudio = create<StudioState>((set, get) => {
  /** Keeps the newest document; while one is being written, later ones wait and only the last is written. */
  let writing: Promise<void> | null = null;
  const persist = (): Promise<void> => {
    const { kept, app } = get();
    if (!kept || !app) return Promise.resolve();
    set({ kept: { ...kept, app, changed: new Date().toISOString() }, saved: false });
    writing ??= (async () => {
      try {
        for (let last: KeptApp | null = null; get().kept && last !== get().kept;) {
          last = get().kept!;
          await write(last);
        }
      } finally {
        writing = null;
      }
    })();
    return writing;
  };
  const write = async (next: KeptApp): Promise<void> => {
    try {
      await registry.apps.put(next);
      if (get().kept === next) set({ saved: true });
    } catch (e) {
      const full = /quota/i.test(`${(e as Error).name} ${(e as { inner?: Error }).inner?.name ?? ''}`);
      set({
        problem: full
          ? 'This browser’s storage is full, so the last change is not kept. Export the app, free some space, then try again.'
          : `The last change could not be kept: ${(e as Error).message}`,
      });
    }
  };

  const hear = (e: EngineEvent): void => {
    if (e.kind === 'changed') {
      set((s) => ({
        revision: s.revision + 1,
        tableRevision: {
          ...s.tableRevision,
          ...Object.fromEntries(e.tables.map((t) => [t, (s.tableRevision[t] ?? 0) + 1])),
        },
      }));
    } else if (e.kind === 'happened') get().say(e.what);
    else if (e.kind === 'mirror') set((s) => ({ mirrorRevision: s.mirrorRevision + 1 }));
    else if (e.kind === 'host') set({ host: { online: e.online, waiting: e.waiting } });
    else set({ problem: e.words });
  };

  /** Applies one step in either direction: first the document, then the records. */
  const apply = async (patches: Patch[], drafts: Draft[]): Promise<Draft[]> => {
    const { app, engine } = get();
    if (!app || !engine) return [];
    if (patches.length) {
      const next = applyPatches(app, patches);
      set((s) => ({ app: next, revision: s.revision + 1 }));
      await Promise.all([engine.setApp(next), persist()]);
    }
    return drafts.length ? engine.edit(drafts, { again: true }) : [];
  };

  return {
    kept: null,
    app: null,
    engine: null,
    revision: 0,
    tableRevision: {},
    past: [],
    future: [],
    trace: [],
    runs: {},
    runCounts: {},
    host: null,
    mirrorRevision: 0,
    problem: null,
    saved: true,

    async open(id) {
      if (get().kept?.id === id) return;
      get().close();
      release = await holdApp(id);
      const kept = takeUnwritten(id) ?? (await registry.apps.get(id));
      if (!kept)
        throw new Error('This app is not kept in this browser. It may have been removed, or made in another browser.');
      worker = new Worker(new URL('../engine/engine.ts', import.meta.url), { type: 'module' });
      const engine = wrap<StudioEngine>(worker);
      const host = kept.released && { address: kept.released.address, key: kept.ownerKey, app: kept.released.app };
      await engine.open(kept.app, recordsDbName(id), host, proxy(hear));
      set({
        kept,
        app: kept.app,
        engine,
        revision: 0,
        tableRevision: {},
        past: [],
        future: [],
        trace: [],
        runs: {},
        runCounts: {},
        host: null,
        problem: null,
      });
    },

    close() {
      get().engine?.[releaseProxy]();
      worker?.terminate();
      worker = null;
      release?.();
      release = null;
      set({ kept: null, app: null, engine: null });
    },

    async edit(
      label,
      recipe,
      { merge = null as string | null, drafts = [] as Draft[], about = undefined as Happened['about'] } = {},
    ) {
      const { app, engine } = get();
      if (!app || !engine) return;
      const [next, patches, inverse] = produceWithPatches(app, recipe);
      if (patches.length === 0 && drafts.length === 0) return;
      const last = get().past.at(-1);
      const now = Date.now();
      const joins = merge !== null && last?.merge === merge && now - last.at < MERGE_MS && drafts.length === 0;
      const entry: Entry = joins
        ? { ...last, patches: [...last.patches, ...patches], inverse: [...inverse, ...last.inverse], at: now }
        : { label, patches, inverse, drafts, inverseDrafts: [], merge, at: now };
      set((s) => ({
        app: next,
        revision: s.revision + 1,
        past: [...(joins ? s.past.slice(0, -1) : s.past), entry].slice(-300),
        future: [],
      }));
      const told = engine.setApp(next);
      const keeping = persist();
      if (drafts.length) entry.inverseDrafts = await engine.edit(drafts);
      await Promise.all([told, keeping]);
      if (!joins) get().say({ said: label, tone: 'plain', ...(about && { about }) });
    },

    async editRecords(label, drafts) {
      const { engine } = get();
      if (!engine || drafts.length === 0) return;
      const started = performance.now();
      try {
        const inverseDrafts = await engine.edit(drafts);
        set((s) => ({
          past: [
            ...s.past,
            { label, patches: [], inverse: [], drafts, inverseDrafts, merge: null, at: Date.now() },
          ].slice(-300),
          future: [],
        }));
        get().say({
          said: label,
          tone: 'plain',
          ms: performance.now() - started,
          about: { table: drafts[0]!.table, record: drafts[0]!.record },
        });
      } catch (e) {
        set({ problem: (e as Error).message });
      }
    },

    noteEdit(label, inverseDrafts) {
      const entry: Entry = { label, patches: [], inverse: [], drafts: [], inverseDrafts, merge: null, at: Date.now() };
      set((s) => ({ past: [...s.past, entry].slice(-300), future: [] }));
      get().say({ said: label, tone: 'plain' });
    },

    async undo() {
      const entry = get().past.at(-1);
      if (!entry) return null;
      set((s) => ({ past: s.past.slice(0, -1), future: [...s.future, entry] }));
      const redo = await apply(entry.inverse, entry.inverseDrafts);
      if (redo.length) entry.drafts = redo;
      get().say({ said: `Undid: ${entry.label}`, tone: 'plain' });
      return entry.label;
    },

    async redo() {
      const entry = get().future.at(-1);
      if (!entry) return null;
      set((s) => ({ future: s.future.slice(0, -1), past: [...s.past, { ...entry, merge: null }] }));
      const back = await apply(entry.patches, entry.drafts);
      if (back.length) get().past.at(-1)!.inverseDrafts = back;
      get().say({ said: `Did again: ${entry.label}`, tone: 'plain' });
      return entry.label;
    },

    async setReleased(released) {
      set((s) => ({ kept: s.kept && { ...s.kept, released } }));
      await persist();
    },

    say(what) {
      set((s) => {
        const entry = { ...what, key: ++traceKey, at: new Date() };
        const trace = [...s.trace, entry].slice(-200);
        if (!what.run) return { trace };
        const id = what.run.routine;
        const count = s.runCounts[id] ?? { runs: 0, failed: 0 };
        return {
          trace,
          runs: { ...s.runs, [id]: what.run },
          runCounts: {
            ...s.runCounts,
            [id]: { runs: count.runs + 1, failed: count.failed + (what.run.error ? 1 : 0) },
          },
        };
      });
    },
  };
});

/** The open app; only for parts that are shown when there is one. */
export function useApp(): App {
  return useStudio((s) => s.app)!;
}
export function useEngine(): Remote<StudioEngine> {
  return useStudio((s) => s.engine)!;
}
