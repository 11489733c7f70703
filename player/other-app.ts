import type { App } from '../core/app/schema.ts';
import { LateStore } from './late-store.ts';
import type { HttpLink } from './link.ts';

/**
 * Asks which app is at the address now; null when it is the one that is here after all. What the one before has on this
 * phone stays, and is shown and sent no more: the other opens apart from it. Gives the name of the other, and what is
 * told of the one before, of which so many changes wait.
 */
export async function otherApp(
  link: HttpLink,
  here: App,
  waiting: number,
): Promise<{ name: string; words: string } | null> {
  link.meant = undefined;
  const released = await link.app().catch(() => null);
  link.meant = here.id;
  if (!released || released.app.id === here.id) return null;
  const { id, name } = released.app;
  await new LateStore(`app-${link.name}`).put('moved', id);
  const stays =
    waiting === 1
      ? `One change that waited for “${here.name}” stays on this device and was not sent.`
      : `${waiting} changes that waited for “${here.name}” stay on this device and were not sent.`;
  return { name, words: `“${here.name}” is not at this address any more: “${name}” is.${waiting ? ` ${stays}` : ''}` };
}
