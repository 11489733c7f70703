import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { Patch } from '../screens/live-screen.ts';
import type { Asked, Effect } from '../session/effects.ts';
import type { Opening } from '../session/variables.ts';
import { draftsAt, gone, type Go, type NewPlace, type Place } from './places.ts';

/** How much room there is to draw an app in: a phone, a tablet, a laptop. */
export type Room = 'narrow' | 'wide' | 'widest';

/** What was typed into forms and is not saved, by form and field. */
export type Drafts = Record<string, Record<string, Cell>>;

/** Where somebody is in an app. */
export interface Where {
  /** The screens opened one upon the other; the first is a tab's screen or a link's. */
  stack: Place[];
  /** How they came there. */
  by: Go['to'] | 'begin' | 'room';
  /** The screen that is seen, and the one beside it where there is room; sheets lie upon it. Places in the stack. */
  seen: number;
  beside: number | null;
  /** It is the screen that comes before the first. */
  isStart: boolean;
}

/** What draws the screens that somebody walks through. */
export interface PhonePage {
  where(where: Where, drafts: Drafts): void;
  /** What a screen that is open shows: all of it first, then what changes. Resolves when it is taken. */
  draw(opening: string, patch: Patch): Promise<void>;
  /** Something was typed that would be thrown away: asks whether that is meant. */
  leaving(): void;
  /** Asks whoever uses it, or the device: all that waits for an answer, in its order. */
  asks(all: readonly Asked[]): void;
  /** Says a message, or does something to an element that is drawn. Resolves when it is done. */
  does(effect: OnPage): Promise<void>;
}

/** What only a page can do, and nobody answers. */
export type OnPage = Extract<Effect, { do: 'message' | 'element' }>;

/** What a page knows when somebody begins. */
export interface Beginning {
  room: Room;
  /** The screens that were open before a reload. */
  stack?: NewPlace[] | null | undefined;
  /** The screen that an address leads to. */
  linked?: NewPlace | null | undefined;
  /** The screens that come before the first are shown. */
  starts?: boolean | undefined;
}

/** What a page asks of whoever leads somebody through an app. */
export interface WalkApi {
  begin(page: PhonePage, from: Beginning): Promise<void>;
  end(): Promise<void>;
  /** Goes there. False where something typed would be thrown away: then the page is asked to ask. */
  go(to: Go): Promise<boolean>;
  inRoom(room: Room): Promise<void>;
  /** What a form has that is not saved; nothing when that is empty. */
  drafted(form: string, changed: Record<string, Cell>): Promise<void>;
  /** A form was saved: back to where it was opened from. */
  saved(): Promise<void>;
  /** What is typed is thrown away knowingly, and what was to be done is done. */
  leaveAnyway(): Promise<void>;
  stay(): Promise<void>;
}

/** The phone that somebody walks on. */
interface Around {
  app(): App;
  /** Is a screen closed to whoever uses the app? */
  isClosed?(screen: string): boolean | undefined;
  /** Until then it is not known. */
  ready?(): Promise<unknown> | null;
  show(
    view: string,
    screen: string,
    record: string | null,
    take: (p: Patch) => Promise<void>,
    o: Opening,
  ): Promise<boolean>;
  leave(view: string): Promise<void>;
  say(words: string): void;
  /** Keeps what a form has for the next opening of the app; null for nothing. */
  keepDraft(form: string, changed: Drafts[string] | null): void;
  /** The app is begun for the first time on this device, as far as is known. */
  isFirst(): boolean;
  begun(): void;
}

/** Openings of an earlier load may still be in a page's history. */
const load = Math.random().toString(36).slice(2, 7);
let openings = 0;
const opened = (place: NewPlace): Place => ({ ...place, opening: place.opening ?? `o${load}${++openings}` });

/** Leads one person through an app: the screens that are open, which of them are seen, and what is typed on them. */
export class Walk implements WalkApi {
  private page: PhonePage | null = null;
  private stack: Place[] = [];
  private room: Room = 'narrow';
  /** The screen that comes before the first. */
  private start: string | null = null;
  /** The openings that are drawn, each with whether its screen was there. */
  private readonly drawn = new Map<string, boolean>();
  private pending: Go | null = null;
  /** What waits for an answer; a page that comes later asks it too. */
  private asked: Asked[] = [];
  /** The last tap was in the list beside what is seen: what it opens takes the place of that. */
  private fromList = false;

  constructor(
    private readonly around: Around,
    private drafts: Drafts = {},
  ) {}

  private get first(): string {
    const { tabs, screens } = this.around.app();
    const tab = tabs.find((t) => !this.around.isClosed?.(t.screen)) ?? tabs[0];
    return tab?.screen ?? screens[0]?.id ?? '';
  }

  private has(screen: string): boolean {
    return this.around.app().screens.some((s) => s.id === screen);
  }

  async begin(page: PhonePage, { room, stack, linked, starts }: Beginning): Promise<void> {
    await this.end();
    await this.around.ready?.();
    this.page = page;
    this.room = room;
    const first: NewPlace = { screen: this.first, record: null };
    // Whoever follows a link wants what it leads to.
    this.start = starts && !linked && !stack ? this.startScreen() : null;
    const open = stack?.length
      ? stack
      : this.start
        ? [{ screen: this.start, record: null }]
        : linked && linked.screen !== first.screen
          ? [first, linked]
          : [linked ?? first];
    this.stack = open.map(opened);
    this.tell('begin');
    if (this.asked.length) page.asks(this.asked);
  }

  private startScreen(): string | null {
    const { first, every } = this.around.app().starts ?? {};
    if (first && this.has(first) && this.around.isFirst()) {
      this.around.begun();
      return first;
    }
    return every && this.has(every) ? every : null;
  }

  async end(): Promise<void> {
    this.page = null;
    this.pending = null;
    for (const opening of this.drawn.keys()) void this.around.leave(opening);
    this.drawn.clear();
  }

  private get isStart(): boolean {
    return this.start !== null && this.stack.length === 1 && this.stack[0]!.screen === this.start;
  }

  private get where(): Omit<Where, 'by'> {
    const { stack } = this;
    const seen = Math.max(
      0,
      stack.findLastIndex((p) => !p.sheet),
    );
    const before = stack.slice(0, seen).findLastIndex((p) => !p.sheet);
    // On a wide screen a list and the record that was opened from it stand side by side.
    const beside = this.room !== 'narrow' && before >= 0 && stack[seen]!.record ? before : null;
    return { stack, seen, beside, isStart: this.start !== null && seen === 0 && stack[0]!.screen === this.start };
  }

  /** The places that are seen now. */
  private get visible(): Place[] {
    const { seen, beside } = this.where;
    return this.stack.filter((p, i) => i >= seen || i === beside);
  }

  /** Tells the page where somebody is, and draws what is seen there. */
  private tell(by: Where['by']): void {
    const { page } = this;
    if (!page) return;
    page.where({ ...this.where, by }, this.drafts);
    const { visible } = this;
    const open = this.stack.map((p) => p.opening);
    for (const opening of this.drawn.keys())
      if (!visible.some((p) => p.opening === opening)) {
        this.drawn.delete(opening);
        void this.around.leave(opening);
      }
    for (const { opening, screen, record, values } of visible) {
      const there = this.has(screen);
      if (this.drawn.get(opening) === there) continue;
      this.drawn.set(opening, there);
      const draw = async (patch: Patch): Promise<void> => {
        if (this.page === page) await page.draw(opening, patch);
      };
      const missing = 'This screen is not here any more.';
      this.around
        .show(opening, screen, record, draw, { key: opening, open, values })
        // Beside the screens of an app there may be others, such as a part that is worked on.
        .then((isThere) => (isThere ? undefined : draw({ set: [], gone: [], root: '', title: '', missing })))
        .catch((e: Error) => this.around.say(e.message));
    }
  }

  /** The document has changed: screens that were not there may be, or the other way round. */
  adopt(): void {
    if (this.page && this.visible.some((p) => this.drawn.get(p.opening) !== this.has(p.screen))) this.tell('set');
  }

  private move(go: Go): void {
    const stack = gone(this.stack, go, opened);
    if (stack === this.stack) return;
    this.stack = stack;
    this.tell(go.to);
  }

  /** Is anything typed on what is seen, and not saved? */
  private get isDirty(): boolean {
    const seen = this.visible.map(draftsAt);
    return Object.keys(this.drafts).some((form) => seen.some((at) => form.startsWith(at)));
  }

  /** Leaves what is seen, after asking where something typed would be thrown away. */
  private leave(go: Go): boolean {
    if (this.isDirty) {
      this.pending = go;
      this.page?.leaving();
      return false;
    }
    this.move(go);
    return true;
  }

  async go(to: Go): Promise<boolean> {
    if (to.to === 'push' || to.to === 'set') this.move(to);
    else return this.leave(to.to === 'back' ? this.back : to);
    return true;
  }

  /** One screen back; from the screen before the first, on to that. */
  private get back(): Go {
    return this.isStart ? { to: 'tab', screen: this.first } : { to: 'back' };
  }

  async inRoom(room: Room): Promise<void> {
    if (room === this.room) return;
    this.room = room;
    this.tell('room');
  }

  /** An element was tapped on an open screen. */
  tapped(opening: string): void {
    const { beside } = this.where;
    this.fromList = beside !== null && this.stack[beside]!.opening === opening;
  }

  /** Does what a tap or a routine says: goes where it leads, asks, or has the page do it. */
  took(e: Effect): void {
    if ('id' in e) this.ask([...this.asked, e]);
    else if (e.do === 'open' || e.do === 'back') this.leads(e);
    else void this.page?.does(e).catch(() => undefined);
  }

  private ask(all: Asked[]): void {
    this.asked = all;
    this.page?.asks(all);
  }

  /** Something was answered, or needs no answer any more. */
  answered(id: string): void {
    if (this.asked.some((a) => a.id === id)) this.ask(this.asked.filter((a) => a.id !== id));
  }

  private leads(e: Extract<Effect, { do: 'open' | 'back' }>): void {
    if (!this.page) return;
    if (e.do === 'back') {
      if (e.to === 'start') this.leave({ to: 'tab', screen: this.first });
      else if (e.to !== 'under' || this.stack.at(-1)?.sheet) this.leave(this.back);
      return;
    }
    const { do: _open, as, height, ...place } = e;
    const isFirst = place.screen === this.first;
    if (as === 'sheet') this.move({ to: 'push', place: { ...place, sheet: height ?? 'half' } });
    else if (this.isStart)
      this.move({ to: 'set', stack: isFirst ? [place] : [{ screen: this.first, record: null }, place] });
    else if (as === 'instead' || this.fromList) this.leave({ to: 'instead', place });
    else this.move({ to: 'push', place });
  }

  async drafted(form: string, changed: Record<string, Cell>): Promise<void> {
    const { [form]: before, ...others } = this.drafts;
    const isEmpty = Object.keys(changed).length === 0;
    if (isEmpty && !before) return;
    this.drafts = isEmpty ? others : { ...others, [form]: changed };
    this.around.keepDraft(form, isEmpty ? null : changed);
  }

  async saved(): Promise<void> {
    this.move(this.back);
  }

  async leaveAnyway(): Promise<void> {
    const seen = this.visible.map(draftsAt);
    for (const form of Object.keys(this.drafts))
      if (seen.some((at) => form.startsWith(at))) await this.drafted(form, {});
    const { pending } = this;
    this.pending = null;
    if (pending && pending.to !== 'history') this.move(pending);
  }

  async stay(): Promise<void> {
    this.pending = null;
  }
}
