import { toast } from 'sonner';
import { newSceneName } from '../../core/app/scene-edits.ts';
import { MOST_SCENES, SceneSchema, type Scene } from '../../core/app/scene-schema.ts';
import { useStudio } from '../state/studio.ts';
import type { useRoom } from './room.ts';

type Engine = NonNullable<ReturnType<typeof useRoom.getState>['engine']>;

/** Keeps what was done in the room as a scene of the app. Gives its id; null, with words, where that cannot be. */
export async function keepRoom(engine: Engine): Promise<string | null> {
  const { app } = useStudio.getState();
  return app && keepScene(await engine.scene(newSceneName(app)));
}

/** Keeps a scene. Gives its id; null, with words, where the app has no room for it, or it does not fit an app. */
export async function keepScene(scene: Scene): Promise<string | null> {
  const { app, edit } = useStudio.getState();
  if (!app) return null;
  if ((app.scenes?.length ?? 0) >= MOST_SCENES) {
    toast.error(`An app has ${MOST_SCENES} scenes at most. Remove one first.`);
    return null;
  }
  const read = SceneSchema.safeParse(scene);
  if (!read.success) {
    const [of, at] = read.error.issues[0]!.path;
    const step = of === 'steps' ? `Step ${Number(at) + 1} holds more` : 'It holds more';
    toast.error(`This scene cannot be kept. ${step} than a scene takes. Leave that step out, and keep it again.`);
    return null;
  }
  await edit('Kept a scene', (a) => {
    (a.scenes ??= []).push(read.data);
  });
  return scene.id;
}
