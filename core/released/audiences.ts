import { nameOfWho, type Who } from '../access/access.ts';
import type { Clock } from '../document/time.ts';
import type { Host } from '../host/host.ts';
import { together, type News } from '../host/protocol.ts';

/** News of so many milliseconds go out as one message; the first goes at once. */
const TOGETHER_MS = 40;
/** So many changes are told without waiting for more. */
const TOGETHER = 1000;

/** Tells news to some who listen, by their names. */
type Send = (to: string[], news: News) => void;

/** Some of an audience who are told the same next. */
interface Group {
  who: Set<string>;
  /** What waits to be told to them. */
  pending: News | null;
}

/** Those who see the same: what happens is one message for all of them, made once. */
class Audience {
  /** More than one while somebody has come who already has what waits to be told to the others. */
  private groups: Group[] = [{ who: new Set(), pending: null }];
  private last: News | null = null;
  /** Ends the wait for more that is told together; null while nothing was told just now. */
  private wait: (() => void) | null = null;

  constructor(
    private readonly send: Send,
    private readonly clock: Clock,
  ) {}

  /** From here on somebody is told what happens. */
  join(name: string): void {
    let group = this.groups.at(-1)!;
    if (group.pending) this.groups.push((group = { who: new Set(), pending: null }));
    group.who.add(name);
  }

  /** Somebody goes. Gives what waits to be told to them. */
  leave(name: string): News | null {
    const group = this.groups.find((g) => g.who.delete(name));
    return group?.pending ?? null;
  }

  get isEmpty(): boolean {
    return this.groups.every((g) => g.who.size === 0);
  }

  /** Each of them hears the same object; it is taken once. */
  take(news: News): void {
    if (this.last === news) return;
    this.last = news;
    for (const g of this.groups) g.pending = g.pending ? together(g.pending, news) : news;
    if (!this.wait || this.groups.some((g) => g.pending!.changes.length > TOGETHER)) this.flush();
  }

  private flush(): void {
    this.close();
    if (this.groups.every((g) => !g.pending)) return;
    for (const { who, pending } of this.groups) if (pending && who.size) this.send([...who], pending);
    this.groups = [{ who: new Set(this.groups.flatMap((g) => [...g.who])), pending: null }];
    this.wait = this.clock.after(TOGETHER_MS, () => {
      this.wait = null;
      this.flush();
    });
  }

  close(): void {
    this.wait?.();
    this.wait = null;
  }
}

interface Hearing {
  audience: Audience;
  /** How often it was begun and not ended. */
  times: number;
  stop(): void;
}

/** What happens to an app, for all who listen to it. */
export class Audiences {
  private readonly audiences = new Map<string, Audience>();
  private readonly hearing = new Map<string, Hearing>();

  constructor(
    private readonly host: Host,
    private readonly send: Send,
    private readonly clock: Clock,
  ) {}

  /** Begins to tell somebody what happens, until it is ended as often. Gives the view that they see from now on. */
  begin(who: Who): string | undefined {
    const name = nameOfWho(who);
    const view = this.host.viewOf(who);
    const known = this.hearing.get(name);
    if (known) {
      known.times++;
      return view;
    }
    const hearing: Hearing = {
      times: 1,
      audience: this.join(name, view),
      stop: this.host.subscribe(who, (news) => {
        // Their rights have changed: what leads from one view to the other is for them alone. Of what waits to be told to
        // them nothing goes out that they may not read any more.
        if (news.was !== undefined) {
          const pending = this.leave(name, hearing.audience);
          this.send([name], pending ? together(pending, news) : news);
          hearing.audience = this.join(name, news.view);
        } else hearing.audience.take(news);
      }),
    };
    this.hearing.set(name, hearing);
    return view;
  }

  end(who: Who): void {
    const name = nameOfWho(who);
    const hearing = this.hearing.get(name);
    if (!hearing || --hearing.times > 0) return;
    hearing.stop();
    this.leave(name, hearing.audience);
    this.hearing.delete(name);
  }

  private join(name: string, view = ''): Audience {
    const audience = this.audiences.get(view) ?? new Audience(this.send, this.clock);
    audience.join(name);
    this.audiences.set(view, audience);
    return audience;
  }

  private leave(name: string, audience: Audience): News | null {
    const pending = audience.leave(name);
    if (audience.isEmpty) {
      audience.close();
      for (const [view, a] of this.audiences) if (a === audience) this.audiences.delete(view);
    }
    return pending;
  }

  close(): void {
    for (const h of this.hearing.values()) h.stop();
    for (const a of this.audiences.values()) a.close();
    this.hearing.clear();
    this.audiences.clear();
  }
}
