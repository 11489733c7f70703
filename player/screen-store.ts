import type { DrawnNode } from '../core/screens/element.ts';
import type { Patch } from '../core/screens/live-screen.ts';

/** What is around the nodes of a screen. */
export interface ShownFrame {
  /** Which showing of a screen this is; another for each time one is opened. */
  showing: string;
  root: string;
  title: string;
  missing: string | null;
}

/** The drawn nodes of the screen in view, by key. Whoever shows a node hears when that very node is another. */
export class ScreenStore {
  private nodes = new Map<string, DrawnNode>();
  private frame: ShownFrame | null = null;
  private readonly hearers = new Map<string, Set<() => void>>();
  private readonly frameHearers = new Set<() => void>();
  /** Grows with every patch. */
  version = 0;

  node = (key: string): DrawnNode | undefined => this.nodes.get(key);
  shown = (): ShownFrame | null => this.frame;
  all = (): Iterable<DrawnNode> => this.nodes.values();

  take(showing: string, patch: Patch): void {
    const { set, gone, ...frame } = patch;
    const touched = new Set<string>();
    if (this.frame?.showing !== showing) {
      // Another screen: nothing of the one before stays.
      for (const key of this.nodes.keys()) touched.add(key);
      this.nodes = new Map();
    }
    for (const key of gone) {
      this.nodes.delete(key);
      touched.add(key);
    }
    for (const node of set) {
      this.nodes.set(node.key, node);
      touched.add(node.key);
    }
    this.frame = { ...frame, showing };
    this.version++;
    for (const key of touched) for (const hear of this.hearers.get(key) ?? []) hear();
    for (const hear of this.frameHearers) hear();
  }

  hearNode(key: string, hear: () => void): () => void {
    const set = this.hearers.get(key) ?? new Set();
    set.add(hear);
    this.hearers.set(key, set);
    return () => {
      set.delete(hear);
      if (set.size === 0) this.hearers.delete(key);
    };
  }

  hearFrame = (hear: () => void): (() => void) => {
    this.frameHearers.add(hear);
    return () => this.frameHearers.delete(hear);
  };
}
