import { lazy, type ComponentType } from 'react';
import type { DrawnNode } from '../core/screens/element.ts';

/** The view of a kind of element on the phone. */
export type ElementView = ComponentType<{ e: never }>;
interface ViewModule {
  default: ElementView;
}

// One file a kind, loaded when an app uses it.
const files = import.meta.glob<ViewModule>('../kinds/elements/*/view.tsx');
const loaded = new Map<string, ComponentType<{ e: DrawnNode }>>();
const coming = new Map<string, Promise<void>>();

/** Loads the views of these kinds, as far as they are not here. */
export async function loadViews(kinds: Iterable<string>): Promise<void> {
  await Promise.all(
    [...new Set(kinds)].map((kind) => {
      if (loaded.has(kind)) return undefined;
      let load = coming.get(kind);
      if (!load) {
        const file = files[`../kinds/elements/${kind}/view.tsx`];
        load = file
          ? file().then((m) => void loaded.set(kind, m.default as unknown as ComponentType<{ e: DrawnNode }>))
          : Promise.resolve();
        coming.set(kind, load);
        // Without a network it is tried again the next time.
        load.catch(() => coming.delete(kind));
      }
      return load;
    }),
  );
}

/** The view of a kind; one that loads itself when it is not here yet. */
export function viewOf(kind: string): ComponentType<{ e: DrawnNode }> | null {
  const there = loaded.get(kind);
  if (there) return there;
  if (!files[`../kinds/elements/${kind}/view.tsx`]) return null;
  const late = lazy(async () => {
    await loadViews([kind]);
    return { default: loaded.get(kind)! };
  });
  loaded.set(kind, late);
  return late;
}
