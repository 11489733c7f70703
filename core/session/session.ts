import { once } from '../document/once.ts';
import { FRAME_SCREEN, frameScreen } from '../app/frames.ts';
import type { App } from '../app/schema.ts';
import { keyOfPlace, type PlacedTap } from '../screens/part-places.ts';
import type { Records } from '../records/store.ts';
import type { RunTrace } from '../routines/run.ts';
import type { RoutineDoc } from '../routines/program.ts';
import type { Answer } from '../routines/asks.ts';
import type { Happening, Knows } from '../routines/trigger.ts';
import type { KeptValue } from '../records/kept-value.ts';
import { ScreenCompiler } from '../screens/compile.ts';
import type { ScreenDoc, Spot } from '../screens/live-screen.ts';
import type { Actions } from './actions.ts';
import type { Kinds, SessionPorts } from './ports.ts';
import { Stage, type Show } from './stage.ts';
import type { Opening, Variables } from './variables.ts';

export type { Kinds, SessionPorts } from './ports.ts';

const actions = once(() => import('./actions.ts'));

/** One person's use of an app: shows its screens and does what happens on them. It knows no DOM. */
export class Session {
  private compiler: ScreenCompiler;
  private made: Promise<Actions> | null = null;
  private readonly stages = new Map<string, Stage>();
  private release = 0;

  constructor(
    private app: App,
    readonly records: Records,
    private readonly kinds: Kinds,
    private readonly ports: SessionPorts,
  ) {
    this.compiler = new ScreenCompiler(kinds.elements, records, app);
    records.subscribe((_, changes) => {
      for (const stage of this.stages.values()) stage.changed(changes);
    });
  }

  /** Takes a changed document. What stands in it unchanged is neither compiled nor drawn again. */
  setApp(app: App, release = this.release): void {
    const before = this.app;
    this.app = app;
    this.release = release;
    this.records.setApp(app);
    this.variables?.adopt(app);
    const same = (['tables', 'files', 'variables', 'parts'] as const).every((k) => app[k] === before[k]);
    if (!same || app.look.logo !== before.look.logo)
      this.compiler = new ScreenCompiler(this.kinds.elements, this.records, app);
    void this.made?.then((d) => d.setApp(app, release));
    for (const stage of this.stages.values())
      if (stage.place) stage.adopt(this.compiler, this.screen(stage.place.screen));
  }

  private screen(id: string): ScreenDoc | undefined {
    if (id === FRAME_SCREEN) return frameScreen(this.app);
    return this.app.screens.find((s) => s.id === id) ?? this.ports.screen?.(id);
  }

  // Screens

  /** Shows a screen in a view: the whole of it as the first patch, then what changes, until another is shown there. */
  show(view: string, screenId: string, record: string | null, show: Show, opening?: Opening): string[] | null {
    const screen = this.screen(screenId);
    if (!screen) return null;
    if (opening) this.variables?.opened(screenId, opening);
    this.left(view);
    const stage = new Stage(show);
    this.stages.set(view, stage);
    stage.open(this.compiler, screen, record);
    // Where nobody walks, as in a preview, nothing happens.
    if (!opening) return stage.problems;
    this.walked.add(view);
    if (!this.started) {
      this.started = true;
      this.happens({ on: 'app started' });
    }
    this.happens({ on: 'screen opened', screen: screenId, record });
    const key = `${screenId}/${opening.key}`;
    if (this.seen.has(key)) this.happens({ on: 'screen returned', screen: screenId, record });
    this.seen.add(key);
    return stage.problems;
  }
  /** Views in which somebody walks. */
  private readonly walked = new Set<string>();
  /** The app was opened by a person, whose first screen is there. */
  private started = false;
  /** Openings of screens that were in view already. */
  private readonly seen = new Set<string>();

  /** Runs the routines that something starts. */
  private happens(happening: Happening): void {
    if (this.app.routines.length) void this.start(happening).catch(() => undefined);
  }
  private async start(happening: Happening): Promise<void> {
    await this.ports.settled?.();
    (await this.actions()).happens(happening);
  }

  /** What a view showed goes out of it. */
  private left(view: string): void {
    const stage = this.stages.get(view);
    const place = stage?.place;
    stage?.close();
    if (this.walked.delete(view) && place) this.happens({ on: 'screen left', ...place });
  }

  /** Shows nothing in a view any more. */
  leave(view: string): void {
    this.left(view);
    this.stages.delete(view);
  }

  /** What a person does to look at an element otherwise: scrolls a list, types words to look for. */
  look(view: string, key: string, change: Record<string, unknown>): void {
    this.stages.get(view)?.look(key, change);
  }

  // What happens on them

  /**
   * An element was tapped, or the row of a list. Does what its tap says, with the records in reach there; `property`
   * names another of its taps, such as that of a swipe.
   */
  async tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void> {
    const stage = this.stages.get(view);
    const spot = stage?.at(key);
    const tap = spot && this.tapOf(spot, property);
    if (!stage || !spot || !tap || tap.do === 'nothing') return;
    // A tap that the place of a part gives means what is at hand there.
    const where = tap.of === undefined ? spot : (stage.at(keyOfPlace(key, tap.of)) ?? spot);
    await (await this.actions()).tap(tap, where, this.compiler, stage.place?.record ?? null, knows);
  }

  private tapOf(spot: Spot, property?: string): PlacedTap | undefined {
    const { properties } = this.kinds.elements.get(spot.element.kind)!;
    const isTap = (p: string): boolean => properties[p]?.is === 'tap';
    const name = property === undefined ? Object.keys(properties).find(isTap) : isTap(property) ? property : undefined;
    return name === undefined ? undefined : (spot.element as unknown as Record<string, PlacedTap | undefined>)[name];
  }

  /** What a person said, or the device gave, when it was asked. */
  answered(id: string, answer: Answer): void {
    void this.made?.then((d) => d.answered(id, answer));
  }

  /** A row of a list was dragged before another, or to the end. */
  async moved(view: string, key: string, before: string | null): Promise<void> {
    const spot = this.stages.get(view)?.at(key);
    if (spot) await (await this.actions()).move(spot, before);
  }

  /** What is done when something happens, fetched when it first does. */
  actions(): Promise<Actions> {
    if (!this.made) {
      const made = actions().then((m) => new m.Actions(this.app, this.release, this.records, this.kinds, this.ports));
      // Without a network it is fetched anew when something happens again.
      made.catch(() => {
        this.made = null;
      });
      this.made = made;
    }
    return this.made;
  }

  /** Runs a routine and tells the trace about it. */
  async runNow(routine: RoutineDoc, record: string | null, values?: Record<string, KeptValue>): Promise<RunTrace> {
    return (await this.actions()).runNow(routine, record, values);
  }

  private get variables(): Variables | null {
    return this.ports.variables?.() ?? null;
  }
}
