import '../../kinds/given/all.ts';
import '../../kinds/elements/list/arranged.ts';
import { expose } from 'comlink';
import type { Scene } from '../../core/app/scene-schema.ts';
import type { App } from '../../core/app/schema.ts';
import type { RecordState } from '../../core/records/change.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { play } from '../../core/scenes/play.ts';
import type { PhoneStill, SceneResult, StepResult } from '../../core/scenes/result.ts';
import { elementKinds } from '../../core/screens/kinds.ts';

const kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };

/** Plays scenes, in a worker of its own. */
export class SceneEngine {
  private app!: App;
  private states: RecordState[] = [];
  private file: (hash: string) => Promise<Blob | null> = async () => null;
  /** What the phones showed after each step of the scenes that were played, and at their beginning. */
  private readonly shown = new Map<string, Map<string | null, PhoneStill[]>>();

  async open(app: App, states: RecordState[], file: (hash: string) => Promise<Blob | null>): Promise<void> {
    [this.app, this.states, this.file] = [app, states, file];
  }

  async play(scene: Scene, heard: (result: StepResult) => unknown): Promise<SceneResult> {
    const shown = new Map<string | null, PhoneStill[]>();
    const result = await play({
      app: this.app,
      scene,
      states: this.states,
      kinds,
      file: this.file,
      after: (step, stills) => {
        shown.set(step?.step ?? null, stills());
        if (step) void heard(step);
      },
    });
    this.shown.set(scene.id, shown);
    return result;
  }

  /** What the phones showed after a step, or at the beginning for null. */
  stills(scene: string, step: string | null): PhoneStill[] {
    return this.shown.get(scene)?.get(step) ?? [];
  }
}

expose(new SceneEngine());
