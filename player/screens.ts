import type { Patch } from '../core/screens/live-screen.ts';
import { ScreenStore } from './screen-store.ts';
import { loadViews } from './views.ts';

/** What the open screens show on this page, by their openings. */
export class Screens {
  private readonly stores = new Map<string, ScreenStore>();

  /** The store of an opening; there from the first time that somebody asks for it. */
  of(opening: string): ScreenStore {
    const store = this.stores.get(opening) ?? new ScreenStore();
    this.stores.set(opening, store);
    return store;
  }

  /** Lets go of all but these. */
  only(openings: readonly string[]): void {
    for (const known of this.stores.keys()) if (!openings.includes(known)) this.stores.delete(known);
  }

  /** Takes what an open screen shows. Gives true the first time. */
  async draw(opening: string, patch: Patch): Promise<boolean> {
    await loadViews(patch.set.map((n) => n.kind));
    const store = this.of(opening);
    const isFirst = store.shown() === null;
    store.take(opening, patch);
    return isFirst;
  }
}
