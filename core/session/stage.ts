import type { Changes } from '../records/changes.ts';
import type { ScreenCompiler } from '../screens/compile.ts';
import { LiveScreen, type Patch, type ScreenDoc, type Spot } from '../screens/live-screen.ts';

/** Takes a patch to where the screen is seen; resolves when it is shown there. */
export type Show = (patch: Patch) => Promise<void> | void;

/** Idle work on orders and search words is done in slices of this many milliseconds. */
const SLICE_MS = 4;

/**
 * One screen in view, and the way to it. After a change it sends what is different, one patch at a time: while one is on
 * its way, whatever else happens is gathered for the next.
 */
export class Stage {
  private screen: LiveScreen | null = null;
  private flying = false;
  private onceMore = false;
  private preparing: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly show: Show) {}

  /** Opens a screen in place of the one before. */
  open(compiler: ScreenCompiler, doc: ScreenDoc, record: string | null): LiveScreen {
    this.screen?.close();
    this.screen = new LiveScreen(compiler, doc, record);
    this.send();
    return this.screen;
  }

  /** The screen's id and record; null while none is open. */
  get place(): { screen: string; record: string | null } | null {
    return this.screen && { screen: this.screen.id, record: this.screen.record };
  }

  get problems(): string[] {
    return this.screen?.problems ?? [];
  }

  changed(changes: Changes): void {
    this.screen?.changed(changes);
    this.send();
  }

  adopt(compiler: ScreenCompiler, doc: ScreenDoc | undefined): void {
    if (!doc) this.close();
    else this.screen?.adopt(compiler, doc);
    this.send();
  }

  look(key: string, view: Record<string, unknown>): void {
    this.screen?.look(key, view);
    this.send();
  }

  at(key: string): Spot | null {
    return this.screen?.at(key) ?? null;
  }

  close(): void {
    this.screen?.close();
    this.screen = null;
    if (this.preparing) clearTimeout(this.preparing);
    this.preparing = null;
  }

  private send(): void {
    if (this.flying) {
      this.onceMore = true;
      return;
    }
    const patch = this.screen?.take();
    if (!patch) {
      this.prepare();
      return;
    }
    this.flying = true;
    const landed = (): void => {
      this.flying = false;
      if (this.onceMore) {
        this.onceMore = false;
        this.send();
      } else this.prepare();
    };
    Promise.resolve(this.show(patch)).then(landed, landed);
  }

  private prepare(): void {
    if (this.preparing !== null || !this.screen) return;
    this.preparing = setTimeout(() => {
      this.preparing = null;
      if (this.screen && !this.screen.prepare(performance.now() + SLICE_MS)) this.prepare();
    }, 0);
  }
}
