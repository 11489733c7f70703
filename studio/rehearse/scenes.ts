import { proxy, wrap, type Remote } from 'comlink';
import { create } from 'zustand';
import type { Scene } from '../../core/app/scene-schema.ts';
import type { App } from '../../core/app/schema.ts';
import type { SceneResult, StepResult } from '../../core/scenes/result.ts';
import { useStudio } from '../state/studio.ts';
import type { SceneEngine } from './scene-worker.ts';

/** What came of playing a scene, and the app as it was then. */
export interface Played {
  app: App;
  scene: Scene;
  result: SceneResult;
  /** Counts up with each playing. */
  nth: number;
}

interface ScenesState {
  /** By scene. */
  played: Record<string, Played>;
  /** The scene that is played now, and what came of its steps so far. */
  playing: { scene: string; steps: StepResult[] } | null;
  /** Why scenes could not be played. */
  problem: string;
  /** Plays scenes of the open app one after the other. Gives those that did not pass; null where it was stopped. */
  play(ids: readonly string[]): Promise<Played[] | null>;
  stop(): void;
}

let worker: Worker | null = null;
let engine: Remote<SceneEngine> | null = null;
let turn = 0;
let count = 0;
/** Ends the waiting for a worker that is gone. */
let ended: () => void = () => undefined;

/** The worker that plays scenes, with the app and its records as they are. */
async function ready(app: App): Promise<Remote<SceneEngine>> {
  const { engine: studio } = useStudio.getState();
  if (!worker) {
    worker = new Worker(new URL('scene-worker.ts', import.meta.url), { type: 'module' });
    engine = wrap<SceneEngine>(worker);
    const mine = worker;
    // Nobody answers any more: what waits is ended.
    worker.addEventListener('error', (e) => {
      if (worker !== mine) return;
      useScenes.getState().stop();
      useScenes.setState({
        problem: `Playing has stopped. ${e.message || 'What it needs could not be loaded: is there a network?'} Play it again.`,
      });
    });
  }
  await engine!.open(
    app,
    await studio!.states(),
    proxy((hash: string) => studio!.fileOf(hash)),
  );
  return engine!;
}

function leave(): void {
  worker?.terminate();
  worker = null;
  engine = null;
  ended();
}

/** What the phones showed after a step of a scene that was played; at its beginning for null. */
export const stillsOf = async (
  scene: string,
  step: string | null,
): Promise<Awaited<ReturnType<Remote<SceneEngine>['stills']>>> => (engine ? engine.stills(scene, step) : []);

/** The scenes of the open app, as far as they were played. */
export const useScenes = create<ScenesState>((set, get) => ({
  played: {},
  playing: null,
  problem: '',

  async play(ids) {
    get().stop();
    const mine = ++turn;
    const { app } = useStudio.getState();
    if (!app) return null;
    const failed: Played[] = [];
    const gone = new Promise<null>((resolve) => {
      ended = () => resolve(null);
    });
    const [first] = ids;
    if (first !== undefined) set({ playing: { scene: first, steps: [] }, problem: '' });
    try {
      const plays = await Promise.race([ready(app), gone]);
      if (!plays) return null;
      for (const id of ids) {
        const scene = app.scenes?.find((s) => s.id === id);
        if (!scene || mine !== turn) continue;
        set({ playing: { scene: id, steps: [] } });
        const playing = plays.play(
          scene,
          proxy((step: StepResult) => {
            if (mine === turn)
              set((s) => (s.playing ? { playing: { scene: id, steps: [...s.playing.steps, step] } } : s));
          }),
        );
        const result = await Promise.race([playing, gone]);
        if (!result || mine !== turn) return null;
        const played = { app, scene, result, nth: ++count };
        set((s) => ({ played: { ...s.played, [id]: played } }));
        if (!result.passed) failed.push(played);
      }
      return failed;
    } catch (e) {
      const { message } = e as Error;
      if (mine === turn) set({ problem: `The scene could not be played: ${message}` });
      throw e;
    } finally {
      if (mine === turn) set({ playing: null });
    }
  },

  stop() {
    if (!get().playing) return;
    turn++;
    leave();
    set({ playing: null });
  },
}));

// What was played is of the open app.
useStudio.subscribe((now, before) => {
  if (now.kept?.id === before.kept?.id) return;
  turn++;
  leave();
  useScenes.setState({ played: {}, playing: null, problem: '' });
});

/** Was a scene played as it and the app are now? Other scenes change nothing for it. */
export function isCurrent(played: Played | undefined, app: App): boolean {
  if (!played || app.scenes?.find((s) => s.id === played.scene.id) !== played.scene) return false;
  const parts = new Set([...Object.keys(app), ...Object.keys(played.app)] as (keyof App)[]);
  parts.delete('scenes');
  return [...parts].every((part) => app[part] === played.app[part]);
}
