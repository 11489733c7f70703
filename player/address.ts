import type { Go, NewPlace } from '../core/phone/places.ts';
import type { Where } from '../core/phone/walk.ts';

export const hashOf = (p: NewPlace): string => `#/${p.screen}${p.record ? `/${p.record}` : ''}`;

export function placeOfHash(hash: string): NewPlace | null {
  const m = /^#\/(s_[a-z0-9]+)(?:\/([a-zA-Z0-9_-]+))?$/.exec(hash);
  return m ? { screen: m[1]!, record: m[2] ?? null } : null;
}

/** What the browser's history keeps of one place in it: the screens that are open there. A reload finds it again. */
interface Entry {
  /** Counts the entries of this visit. */
  at: number;
  stack: NewPlace[];
  /** The screens of the entry before it; null for the first. */
  below: string | null;
}

const nameOf = (stack: readonly NewPlace[]): string => stack.map((p) => `${hashOf(p)} ${p.sheet ?? ''}`).join('\n');

/** What stands in a history, when it is ours and fits the address. */
export function entryOf(state: unknown, hash: string): Entry | null {
  const { at, stack, below = null } = (state ?? {}) as Partial<Entry>;
  if (typeof at !== 'number' || !Array.isArray(stack) || stack.length === 0) return null;
  const isPlace = (p: NewPlace | null): boolean => typeof p?.screen === 'string' && placeOfHash(hashOf(p)) !== null;
  return stack.every(isPlace) && hashOf(stack.at(-1)!) === hash ? { at, stack, below } : null;
}

/** The address bar and the history of a browser, which follow where somebody is, and lead there by buttons of their own. */
export class Address {
  private now: Entry | null = null;
  /** The next that the history says is by this page's own doing. */
  private ignores = false;
  /** So many steps the history goes when what is typed may be thrown away. */
  private wanted = 0;

  /** `go` goes somewhere, and gives false where something typed would be thrown away. */
  constructor(private readonly go: (to: Go) => Promise<boolean>) {
    addEventListener('popstate', this.popped);
  }

  /** Where the page was before a reload, or what its address leads to. */
  static begins(): { stack: NewPlace[] | null; linked: NewPlace | null } {
    return { stack: entryOf(history.state, location.hash)?.stack ?? null, linked: placeOfHash(location.hash) };
  }

  close(): void {
    removeEventListener('popstate', this.popped);
  }

  /** Somebody is somewhere else now. */
  moved({ stack, by }: Where): void {
    const hash = hashOf(stack.at(-1)!);
    const entry = this.now;
    if (!entry || by === 'history' || by === 'begin') {
      // What is here already stays, with the openings of now.
      const kept = entryOf(history.state, location.hash);
      this.now = { at: kept?.at ?? entry?.at ?? 0, below: kept?.below ?? null, stack };
      history.replaceState(this.now, '', hash);
    } else if (by === 'back' && entry.below === nameOf(stack)) {
      // Where the entry before is where back leads, the browser goes there too: its own button then goes further back.
      this.ignores = true;
      this.now = { at: entry.at - 1, below: null, stack };
      history.back();
    } else if (nameOf(entry.stack) !== nameOf(stack)) {
      const isNew = by === 'push' || by === 'tab';
      this.now = isNew ? { at: entry.at + 1, stack, below: nameOf(entry.stack) } : { ...entry, stack };
      if (isNew) history.pushState(this.now, '', hash);
      else history.replaceState(this.now, '', hash);
    } else this.now = { ...entry, stack };
  }

  /** What was typed is thrown away: goes where the device's back was to lead, if it was that. */
  leave(): void {
    const steps = this.wanted;
    this.wanted = 0;
    if (steps) history.go(steps);
  }

  private readonly popped = (e: PopStateEvent): void => {
    const entry = entryOf(e.state, location.hash);
    if (this.ignores) {
      this.ignores = false;
      if (entry && this.now) this.now = { ...entry, stack: this.now.stack };
      return;
    }
    const linked = placeOfHash(location.hash);
    // An address may be opened before the app has begun.
    const here = this.now;
    const stack = entry?.stack ?? (linked && [...(here?.stack ?? []), linked]);
    if (!stack) return;
    const steps = entry && here ? here.at - entry.at : 0;
    void this.go({ to: 'history', stack }).then((went) => {
      if (went || steps === 0) return;
      // The history is put back to where the app still is.
      this.ignores = true;
      this.wanted = -steps;
      history.go(steps);
    });
  };
}
