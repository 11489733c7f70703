import type { Access, Who } from '../access/access.ts';
import type { Change } from '../records/change.ts';
import type { Compared, Have, News } from './protocol.ts';
import { Told } from './told.ts';
import { Showing } from './showing.ts';
import { Happened, View, type Viewed } from './view.ts';

/** Views that nobody listens to are kept for those who come back soon; so many of them. */
const MOST_IDLE = 20;

interface Hears {
  who: Who;
  view: View;
  listener(news: News): void;
}

/** The views of an app that is not open to all: one for all who have the same rights. */
export class Views {
  private views = new Map<string, View>();
  /** Who listens, by the view that they see. */
  private hearing = new Map<View, Set<Hears>>();
  /** The views that show a record. */
  private readonly showing: Showing<View>;
  private made = 0;
  private readonly worksOut: Told;

  constructor(
    private readonly on: Viewed,
    /** Tells this run of the host from earlier ones, whose views are not known any more. */
    private readonly run: string,
    private readonly at: () => number,
  ) {
    this.worksOut = new Told(on.replica.records);
    this.showing = new Showing<View>(() => on.access);
  }

  /** The values that phones cannot work out themselves. */
  private get told(): Told {
    this.worksOut.setFields(this.access.allTold);
    return this.worksOut;
  }

  private get access(): Access {
    return this.on.access;
  }

  /** The view of somebody, as their rights are now. */
  private of(who: Who): View {
    const rights = this.access.rights(who);
    const known = this.views.get(rights);
    // What was before the first view concerns none.
    if (this.views.size === 0) this.access.touched();
    const view =
      known ??
      new View(`${this.run}.${(this.made++).toString(36)}`, this.on, rights, this.told, this.showing, this.at());
    // The one that was asked for last is the last to go.
    this.views.delete(rights);
    this.views.set(rights, view);
    if (!known) this.letGo();
    return view;
  }

  private letGo(): void {
    const idle = [...this.views].filter(([, v]) => !this.hearing.has(v));
    for (const [rights, view] of idle.slice(0, Math.max(0, idle.length - MOST_IDLE - 1))) {
      this.views.delete(rights);
      view.close();
    }
  }

  /** Tells each who listens what has happened, as they see it. */
  after(from: number, at: number, changes: readonly Change[]): void {
    const what = new Happened(this.on, from, at, changes, this.access.touched(), this.told.changed());
    const news = new Map<View, News>();
    for (const v of what.all ? this.views.values() : this.showing.concerned(what.records, this.views.values())) {
      const told = v.after(what);
      if (told) news.set(v, told);
    }
    const rightsAt = this.access.rightsAt();
    if (rightsAt !== this.rightsAt) {
      this.rightsAt = rightsAt;
      this.move((view, before) => view.instead(before, news.get(before), at));
    }
    for (const [view, n] of news) for (const h of this.hearing.get(view) ?? []) h.listener(n);
  }

  /** Lets go of all that was told. */
  forgetNews(): void {
    for (const v of this.views.values()) v.forgetNews();
  }

  /** What people may read is another now, though no record has changed. */
  renewed(): void {
    const at = this.at();
    this.access.touched();
    for (const v of this.views.values()) v.close();
    this.views = new Map();
    this.rightsAt = this.access.rightsAt();
    this.move((view, before) => view.instead(before, undefined, at));
  }

  /** Leads those whose rights are others now to another view: what the others hear afterwards is for these no more. */
  private move(instead: (view: View, before: View) => News): void {
    const moved = [];
    for (const h of [...this.hearing.values()].flatMap((all) => [...all])) {
      const view = this.of(h.who);
      const before = h.view;
      if (view === before) continue;
      this.stop(h);
      h.view = view;
      this.begin(h);
      moved.push({ h, news: instead(view, before) });
    }
    for (const { h, news } of moved) h.listener(news);
    this.letGo();
  }
  /** When it was looked last what rights people have. */
  private rightsAt = -1;

  private begin(h: Hears): void {
    const all = this.hearing.get(h.view) ?? new Set();
    this.hearing.set(h.view, all.add(h));
  }
  private stop(h: Hears): void {
    const all = this.hearing.get(h.view);
    all?.delete(h);
    if (all?.size === 0) this.hearing.delete(h.view);
  }

  /** Those with the same view hear the same object. Gives the way to stop it. */
  subscribe(who: Who, listener: (news: News) => void): () => void {
    const hears: Hears = { who, view: this.of(who), listener };
    this.begin(hears);
    return () => {
      this.stop(hears);
      this.letGo();
    };
  }

  nameFor(who: Who): string {
    return this.of(who).name;
  }

  /** What somebody has missed who knows this view up to a change; null where that is not known. */
  newsSince(who: Who, since: number, name: string | undefined): News | null {
    const view = this.of(who);
    return view.name === name ? view.newsSince(since, this.at()) : null;
  }

  compare(who: Who, have: Have): Compared {
    return this.of(who).compare(have, this.at());
  }
}
