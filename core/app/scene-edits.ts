import { newId } from '../document/ids.ts';
import type { App } from './schema.ts';
import type { Scene, SceneStep } from './scene-schema.ts';

/** Edits of scenes. Each changes the draft it is given. */

/** A step that says what must be so, and does nothing itself. */
export type Expectation = Extract<SceneStep, { do: `expect ${string}` }>;
export const isExpect = (step: SceneStep): step is Expectation => step.do.startsWith('expect ');

/** A name that no scene of the app has yet. */
export function newSceneName(app: Pick<App, 'scenes'>): string {
  const taken = new Set(app.scenes?.map((s) => s.name));
  for (let n = taken.size + 1; ; n++) if (!taken.has(`Scene ${n}`)) return `Scene ${n}`;
}

/** Words as the name of a scene: long ones are cut after a whole letter. */
export const namedScene = (words: string): string => [...words.trim()].slice(0, 80).join('') || 'Scene';

/** The number of a step as people count: the names of parts are no steps. 0 for one that is not there. */
export function stepNumber({ steps }: Pick<Scene, 'steps'>, id: string): number {
  const at = steps.findIndex((s) => s.id === id);
  return steps.slice(0, at + 1).filter((s) => s.do !== 'part').length;
}

const indexOf = (scene: Scene, id: string): number => scene.steps.findIndex((s) => s.id === id);

/** Moves steps by one, together; those at the edge stay. */
export function shiftSteps(scene: Scene, ids: readonly string[], by: 1 | -1): void {
  const at = ids
    .map((id) => indexOf(scene, id))
    .filter((i) => i >= 0)
    .sort((a, b) => (a - b) * -by);
  for (const i of at) {
    const to = i + by;
    if (to < 0 || to >= scene.steps.length || ids.includes(scene.steps[to]!.id)) continue;
    const [step] = scene.steps.splice(i, 1);
    scene.steps.splice(to, 0, step!);
  }
}

/** Puts steps before another, or to the end for null. */
export function moveSteps(scene: Scene, ids: readonly string[], before: string | null): void {
  if (before !== null && ids.includes(before)) return;
  const moved = scene.steps.filter((s) => ids.includes(s.id));
  const rest = scene.steps.filter((s) => !ids.includes(s.id));
  const at = before === null ? rest.length : rest.findIndex((s) => s.id === before);
  scene.steps = [...rest.slice(0, at), ...moved, ...rest.slice(at)];
}

export function removeSteps(scene: Scene, ids: readonly string[]): void {
  scene.steps = scene.steps.filter((s) => !ids.includes(s.id));
}

/** Puts copies of steps behind the last of them. Gives the ids of the copies. */
export function copySteps(scene: Scene, ids: readonly string[]): string[] {
  const copies = scene.steps
    .filter((s) => ids.includes(s.id))
    .map((s) => ({ ...(JSON.parse(JSON.stringify(s)) as SceneStep), id: newId('c') }));
  const last = scene.steps.findLastIndex((s) => ids.includes(s.id));
  scene.steps.splice(last + 1, 0, ...copies);
  return copies.map((c) => c.id);
}

/** A name over some steps that follow one another; the steps up to the next name are its part. */
export function groupSteps(scene: Scene, ids: readonly string[], name: string): string | null {
  const at = scene.steps.findIndex((s) => ids.includes(s.id));
  if (at < 0) return null;
  const id = newId('c');
  scene.steps.splice(at, 0, { id, do: 'part', name });
  return id;
}

/** The steps of a part, with its name: those up to the next name. */
export function partOf(scene: Scene, id: string): string[] {
  const at = indexOf(scene, id);
  if (at < 0 || scene.steps[at]!.do !== 'part') return [id];
  const next = scene.steps.findIndex((s, i) => i > at && s.do === 'part');
  return scene.steps.slice(at, next < 0 ? undefined : next).map((s) => s.id);
}

/** A copy of a scene, of another name. */
export const copyOfScene = (app: Pick<App, 'scenes'>, scene: Scene): Scene => {
  const taken = new Set(app.scenes?.map((s) => s.name));
  let name = `${scene.name} (copy)`.slice(0, 200);
  for (let n = 2; taken.has(name); n++) name = `${scene.name} (copy ${n})`.slice(0, 200);
  return { ...(JSON.parse(JSON.stringify(scene)) as Scene), id: newId('z'), name };
};
