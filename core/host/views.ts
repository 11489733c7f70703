import type { Access, Who } from '../access/access.ts';
import type { Change } from '../records/change.ts';
import type { Compared, Have, News } from './protocol.ts';
import { Told } from './told.ts';
import { isEmpty, View, type Viewed } from './view.ts';

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
  private readonly hearing = new Set<Hears>();
  private made = 0;
  private readonly worksOut: Told;

  constructor(
    private readonly on: Viewed,
    /** Tells this run of the host from earlier ones, whose views are not known any more. */
    private readonly run: string,
    private readonly at: () => number,
  ) {
    this.worksOut = new Told(on.replica.records);
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
    const view = known ?? new View(`${this.run}.${(this.made++).toString(36)}`, this.on, rights, this.told, this.at());
    // The one that was asked for last is the last to go.
    this.views.delete(rights);
    this.views.set(rights, view);
    if (!known) this.letGo();
    return view;
  }

  private letGo(): void {
    const heard = new Set(Array.from(this.hearing, (h) => h.view));
    const idle = [...this.views].filter(([, v]) => !heard.has(v));
    for (const [rights] of idle.slice(0, Math.max(0, idle.length - MOST_IDLE - 1))) this.views.delete(rights);
  }

  /** Tells each who listens what has happened, as they see it. */
  after(from: number, at: number, changes: readonly Change[]): void {
    const touched = this.access.touched();
    const told = this.told.changed();
    const news = new Map(Array.from(this.views.values(), (v) => [v, v.after(from, at, changes, touched, told)]));
    this.tell((h, view) => (view === h.view ? news.get(view)! : view.instead(h.view, news.get(h.view), from, at)));
  }

  /** What people may read is another now, though no record has changed. */
  renewed(): void {
    const at = this.at();
    this.access.touched();
    this.views = new Map();
    this.tell((h, view) => view.instead(h.view, undefined, at, at));
  }

  private tell(said: (h: Hears, view: View) => News): void {
    const all = Array.from(this.hearing, (h) => {
      const view = this.of(h.who);
      const news = said(h, view);
      h.view = view;
      return { h, news };
    });
    // Those whose rights are others now come first: what the others hear is for these no more.
    const moved = all.filter(({ news }) => news.was !== undefined);
    for (const { h, news } of moved) h.listener(news);
    for (const { h, news } of all)
      if (news.was === undefined && !(isEmpty(news) && news.from === news.at)) h.listener(news);
  }

  /** Those with the same view hear the same object. Gives the way to stop it. */
  subscribe(who: Who, listener: (news: News) => void): () => void {
    const hears: Hears = { who, view: this.of(who), listener };
    this.hearing.add(hears);
    return () => {
      this.hearing.delete(hears);
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
