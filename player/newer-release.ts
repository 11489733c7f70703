import type { EngineEvent } from './engine-events.ts';
import type { UsedKinds } from './kinds.ts';
import type { LateStore } from './late-store.ts';
import { OtherAppError } from '../core/host/link.ts';
import type { HttpLink } from './link.ts';
import { checked, forPatterns, type KeptRelease } from './release.ts';

/** As much of a device as a newer release needs. */
interface Takes {
  here: KeptRelease;
  link: HttpLink;
  store: LateStore;
  kinds: UsedKinds;
  tell(e: EngineEvent): void;
}

/**
 * Asks the host for a newer release, and keeps it with all it needs; null where there is none. Rejects where another app
 * is at the address now.
 */
export async function newerRelease({ here, link, store, kinds, tell }: Takes): Promise<KeptRelease | null> {
  const released = await link.app(here.tag ?? '');
  if (!released || (released.number === here.number && released.app.id === here.app.id)) return null;
  if (released.app.id !== here.app.id) throw new OtherAppError();
  const app = checked(released.app);
  await kinds.forAll(app);
  // The network may be gone when what is new is first shown.
  tell({ kind: 'needs', views: [...kinds.elements.keys()] });
  await forPatterns(app);
  const kept: KeptRelease = {
    app,
    number: released.number,
    tag: released.tag,
    hosts: released.hosts,
    look: released.look,
  };
  await store.put('app', kept);
  return kept;
}
