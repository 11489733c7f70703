/** So long, in milliseconds, the desk waits at most for the phone to draw what was typed. */
export const DESK_WAITS = 80;

let typing = false;

/** Runs what a key typed into a box leads to. The box holds what is typed by itself. */
export function typedIn(run: () => void): void {
  typing = true;
  try {
    run();
  } finally {
    typing = false;
  }
}
/** Is this what a key typed into a box leads to? */
export const isTyped = (): boolean => typing;

/**
 * When the desk follows a document that was changed: at once or, for what is typed into a property of an element, when
 * the phone has drawn it. The letter is on the phone a desk's drawing sooner for that.
 */
export class DeskFollows {
  private waiting: ReturnType<typeof setTimeout> | null = null;

  /** `show` draws the desk from the document as it then is. */
  constructor(private readonly show: () => void) {}

  changed(phoneFirst: boolean): void {
    if (phoneFirst) this.waiting ??= setTimeout(() => this.now(), DESK_WAITS);
    else this.now();
  }

  /** The phone has something new on it: it is on the glass when the frame after its own begins. */
  phoneDrew(): void {
    if (this.waiting !== null) requestAnimationFrame(() => requestAnimationFrame(() => this.catchUp()));
  }

  /** Whoever waits is shown now: a press must not meet a desk that is behind. */
  catchUp(): void {
    if (this.waiting !== null) this.now();
  }

  /** Nothing waits any more. */
  stop(): void {
    if (this.waiting !== null) clearTimeout(this.waiting);
    this.waiting = null;
  }

  private now(): void {
    this.stop();
    this.show();
  }
}
