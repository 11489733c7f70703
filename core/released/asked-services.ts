import '../fields/typed-texts.ts';
import { Refused } from '../document/refused.ts';
import type { Clock } from '../document/time.ts';
import { zoneClock } from '../formula/zone-clock.ts';
import type { App } from '../app/schema.ts';
import {
  EMPTY,
  serviceAnswer,
  type AskedMessage,
  type CameBack,
  type Outgoing,
  type ServiceAnswer,
} from '../services/answer.ts';
import { requestOf } from '../services/requests-of.ts';

/** So many requests of one app are under way at once; the others wait their turn. */
const AT_ONCE = 12;
const MOST_WAITING = 200;
/** The answers to so many things that are done once are known, until the app is started anew. */
const MOST_ONCE = 2000;
/** So many requests may one person ask in a minute, and all of an app together. */
const PERSON_A_MINUTE = 240;
const APP_A_MINUTE = 1200;

/** Asks the services of a released app for those who use it: only what the app describes, within bounds for each and all. */
export class AskedServices {
  private going = 0;
  private readonly waiting: (() => void)[] = [];
  private minute = 0;
  private all = 0;
  private readonly asked = new Map<string, number>();
  /** How often each service was asked in this minute. */
  private readonly ofService = new Map<string, number>();
  /** What was answered to things that are done once, the oldest first. */
  private readonly once = new Map<string, Promise<ServiceAnswer>>();

  constructor(
    private readonly app: () => App,
    private readonly send: (asked: Outgoing) => Promise<CameBack>,
    private readonly clock: Clock,
  ) {}

  /**
   * Throws a {@link Refused} where somebody asks too much. `again`: what is done once is done though it was sent before,
   * as nobody knows what became of it.
   */
  async ask(asked: AskedMessage, who: string | null, again = false): Promise<ServiceAnswer> {
    this.count(who);
    if (asked.once === undefined) return this.answer(asked);
    // What comes again because its answer was lost is not done again.
    const name = `${who ?? ''} ${asked.once}`;
    let answer = again ? undefined : this.once.get(name);
    if (!answer) {
      answer = this.answer(asked);
      this.once.set(name, answer);
      for (const oldest of this.once.keys()) if (this.once.size > MOST_ONCE) this.once.delete(oldest);
      const forget = (): void => void this.once.delete(name);
      answer.then((a) => a.said !== null && a.failure !== 'unknown' && forget(), forget);
    }
    return answer;
  }

  private async answer(asked: AskedMessage): Promise<ServiceAnswer> {
    const tooMuch = this.overLimit(asked);
    if (tooMuch) return tooMuch;
    await this.turn();
    try {
      const zone = (): string | undefined => this.app().zone;
      return await serviceAnswer(this.app(), asked, 'live', {
        send: this.send,
        instant: () => this.clock.now(),
        now: zoneClock(zone, () => this.clock.now()),
        toLocal: (instant) => zoneClock(zone, () => instant)(),
      });
    } finally {
      this.going--;
      this.waiting.shift()?.();
    }
  }

  /** Is its service asked as often as the app may ask it? */
  private overLimit({ request }: AskedMessage): ServiceAnswer | null {
    const { id, name, limits } = requestOf(this.app(), request)?.service ?? {};
    if (id === undefined || limits?.aMinute === undefined) return null;
    const asked = (this.ofService.get(id) ?? 0) + 1;
    this.ofService.set(id, asked);
    if (asked <= limits.aMinute) return null;
    const rest = 60 - Math.floor((this.clock.now() % 60_000) / 1000);
    const said = `${name} may be asked ${limits.aMinute} times a minute by this app. Try again in ${rest} seconds.`;
    return { ...EMPTY, said, failure: 'too often' };
  }

  private count(who: string | null): void {
    const minute = Math.floor(this.clock.now() / 60_000);
    if (minute !== this.minute) {
      [this.minute, this.all] = [minute, 0];
      this.ofService.clear();
    }
    if (this.all === 0) this.asked.clear();
    // Those who have not signed in are told apart by their addresses, before they come here.
    const own = who === null ? 0 : (this.asked.get(who) ?? 0);
    if (own >= PERSON_A_MINUTE || this.all >= APP_A_MINUTE)
      throw new Refused(429, 'This app asks its services very often. Wait a minute, then try again.');
    if (who !== null) this.asked.set(who, own + 1);
    this.all++;
  }

  private async turn(): Promise<void> {
    if (this.going >= AT_ONCE) {
      if (this.waiting.length >= MOST_WAITING)
        throw new Refused(503, 'Many are asking the services of this app right now. Try again in a moment.');
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    }
    this.going++;
  }
}
