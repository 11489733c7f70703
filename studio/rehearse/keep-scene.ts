import { toast } from 'sonner';
import { newSceneName } from '../../core/app/scene-edits.ts';
import { MOST_SCENES } from '../../core/app/scene-schema.ts';
import { useStudio } from '../state/studio.ts';
import type { useRoom } from './room.ts';

type Engine = NonNullable<ReturnType<typeof useRoom.getState>['engine']>;

/** Keeps what was done in the room as a scene of the app. Gives its id; null where the app has no room for it. */
export async function keepScene(engine: Engine): Promise<string | null> {
  const { app, edit } = useStudio.getState();
  if (!app) return null;
  if ((app.scenes?.length ?? 0) >= MOST_SCENES) {
    toast.error(`An app has ${MOST_SCENES} scenes at most. Remove one first.`);
    return null;
  }
  const scene = await engine.scene(newSceneName(app));
  await edit('Kept a scene', (a) => {
    (a.scenes ??= []).push(scene);
  });
  return scene.id;
}
