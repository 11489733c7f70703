import { decodeJwt } from 'jose/jwt/decode';
import type { App, SignIn } from '../app/schema.ts';
import type { Clock } from '../document/time.ts';
import type { Cell } from '../fields/lists.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import { requestOf } from '../services/requests-of.ts';

/** What somebody has who has signed in. */
export interface Tokens {
  token: string;
  /** What renews it. */
  renewal: string | null;
  /** Until when it is good, in milliseconds; null where nobody says. */
  until: number | null;
  /** Since when. */
  at: number;
}

/** Where tokens are kept on a device, as well as it can. */
export interface Vault {
  get(): Promise<unknown>;
  put(value: unknown): Promise<void>;
}

/** What signing in asks of its phone. */
export interface SignInPorts {
  app(): App;
  clock: Clock;
  vault: Vault;
  /** Asks a service; rejects in words where the host cannot be reached. */
  asks(message: AskedMessage): Promise<ServiceAnswer>;
  /** Somebody has signed in, or out: other screens are seen. */
  changed(): void;
  /** Puts what is known of them into variables; null for nothing. */
  know(facts: readonly { variable: string; cell: Cell }[]): void;
  /** Lets go of what was fetched for them. */
  clear(): Promise<void>;
  say(words: string): void;
}

/** A token is renewed so long before it ends, or after nine tenths of its life. */
const EARLY_MS = 30_000;

const SIGN_IN_FIRST: ServiceAnswer = {
  status: 0,
  said: 'Sign in first.',
  failure: 'not signed in',
  picks: {},
  rows: {},
  notes: [],
  next: null,
};

const isTokens = (v: unknown): v is Tokens =>
  typeof v === 'object' &&
  v !== null &&
  typeof (v as Tokens).token === 'string' &&
  typeof (v as Tokens).at === 'number';

/**
 * Who has signed in with the maker's own service. Requests that want it get the token; it is renewed once for however many
 * wait for that, before it ends or after it was refused. When it cannot be renewed the person is told, signs in, and is
 * where they were with what they had typed.
 */
export class SignedIn {
  private tokens: Tokens | null = null;
  private renewing: Promise<boolean> | null = null;

  constructor(private readonly ports: SignInPorts) {}

  /** Takes up what was kept. */
  async open(): Promise<void> {
    const kept = await this.ports.vault.get().catch(() => null);
    if (isTokens(kept)) this.tokens = kept;
  }

  private get how(): SignIn | undefined {
    return this.ports.app().signIn;
  }
  get isIn(): boolean {
    return this.tokens !== null;
  }
  /** How long the token is good still, in milliseconds; null where nobody is in, or nobody says. */
  get left(): number | null {
    const { tokens } = this;
    return tokens?.until ? tokens.until - this.ports.clock.now() : null;
  }

  /** The screen that is seen in place of one: closed ones are not. */
  screenFor(screen: string): string {
    const { how } = this;
    return !how || this.tokens || screen === how.screen || how.open.includes(screen) ? screen : how.screen;
  }

  /** Asks a service as whoever has signed in. */
  async ask(message: AskedMessage): Promise<ServiceAnswer> {
    const { how } = this;
    if (!how) return this.ports.asks(message);
    const found = requestOf(this.ports.app(), message.request);
    const wants = found?.service.sign.how === 'person' && !found.request.open;
    const answer = wants ? await this.asPerson(message) : await this.ports.asks(message);
    if (message.request === how.enter && answer.said === null) await this.enters(how, answer);
    return withoutTokens(how, answer);
  }

  /** Somebody is back from the page where they signed in, with a code that stands for them. */
  async cameBack(code: string, verifier: string, back: string): Promise<void> {
    const { how } = this;
    if (!how?.page) return;
    const { page } = how;
    const inputs = { [page.code]: code, [page.verifier]: verifier, [page.back]: back };
    const answer = await this.ask({ request: how.enter, inputs });
    if (answer.said !== null) this.ports.say([answer.said, ...answer.notes.slice(0, 1)].join(' '));
  }

  private async asPerson(message: AskedMessage): Promise<ServiceAnswer> {
    if (!this.tokens) return SIGN_IN_FIRST;
    if (this.isDue() && !(await this.renew())) return SIGN_IN_FIRST;
    const used = this.tokens!.token;
    const answer = await this.ports.asks({ ...message, token: used });
    if (answer.failure !== 'not signed in') return answer;
    // Somebody else may have renewed it meanwhile.
    if (this.tokens?.token === used && !(await this.renew())) return SIGN_IN_FIRST;
    return this.tokens ? this.ports.asks({ ...message, token: this.tokens.token }) : SIGN_IN_FIRST;
  }

  private isDue(): boolean {
    const { until, at } = this.tokens!;
    return until !== null && this.ports.clock.now() > until - Math.min(EARLY_MS, (until - at) / 10);
  }

  /** Renews the token, once for all who wait. False when it cannot be: then nobody is signed in any more. */
  private renew(): Promise<boolean> {
    this.renewing ??= this.renewed().finally(() => {
      this.renewing = null;
    });
    return this.renewing;
  }

  private async renewed(): Promise<boolean> {
    const renew = this.how?.renew;
    const renewal = this.tokens?.renewal;
    if (!renew || !renewal) return this.over();
    const answer = await this.ports.asks({ request: renew.request, inputs: { [renew.input]: renewal } });
    if (answer.said !== null) {
      // A service that is down says nothing of who somebody is.
      if (answer.failure === 'no answer' || answer.failure === 'broken' || answer.failure === 'too often')
        throw new Error(answer.said);
      return this.over();
    }
    const token = answer.picks[renew.token];
    if (typeof token !== 'string' || !token) return this.over();
    await this.keep(this.tokensOf(token, pickOf(answer, renew.renewal) ?? renewal, pickOf(answer, renew.seconds)));
    this.knowClaims(answer);
    return true;
  }

  private async enters(how: SignIn, answer: ServiceAnswer): Promise<void> {
    const token = answer.picks[how.token];
    if (typeof token !== 'string' || !token) {
      this.ports.say('The service says yes and gives no token. Look at what signing in picks out of its answer.');
      return;
    }
    await this.keep(this.tokensOf(token, pickOf(answer, how.renewal), pickOf(answer, how.seconds)));
    await this.learn(answer);
    this.knowClaims(answer);
    this.ports.changed();
  }

  /** What the token says of them: the host has checked it. */
  private knowClaims({ facts = {} }: ServiceAnswer): void {
    const known = Object.entries(facts).map(([variable, cell]) => ({ variable, cell }));
    if (known.length > 0) this.ports.know(known);
  }

  private tokensOf(token: string, renewal: Cell, seconds: Cell): Tokens {
    const now = this.ports.clock.now();
    const life = typeof seconds === 'number' ? seconds * 1000 : lifeOf(token, now);
    return {
      token,
      renewal: typeof renewal === 'string' ? renewal : null,
      until: life === null ? null : now + life,
      at: now,
    };
  }

  private async keep(tokens: Tokens | null): Promise<void> {
    this.tokens = tokens;
    // Who does not stay is in until the app is closed.
    if (tokens === null || this.how?.stays) await this.ports.vault.put(tokens).catch(() => undefined);
  }

  /** What is known of them, from the answer that let them in and from the request that tells who they are. */
  private async learn(answer: ServiceAnswer): Promise<void> {
    const { how } = this;
    if (!how?.facts.length) return;
    let told = answer.picks;
    if (how.who) {
      const who = await this.asPerson({ request: how.who, inputs: {} }).catch(() => null);
      if (who?.said === null) told = { ...told, ...who.picks };
    }
    this.ports.know(
      how.facts.flatMap(({ pick, variable }) => {
        const cell = told[pick];
        return cell === undefined || Array.isArray(cell) ? [] : [{ variable, cell }];
      }),
    );
  }

  private async over(): Promise<boolean> {
    if (!this.tokens) return false;
    await this.keep(null);
    this.ports.say('You are signed out. Sign in again to go on; what you typed is still here.');
    this.ports.changed();
    return false;
  }

  /** The token is ended by hand, as if its time were over. */
  async expire(): Promise<void> {
    if (this.tokens) await this.keep({ ...this.tokens, token: 'ended by hand', until: this.ports.clock.now() - 1 });
  }

  /** Signs out, and clears what was theirs. */
  async out(): Promise<void> {
    const { how } = this;
    if (how?.leave && this.tokens) await this.asPerson({ request: how.leave, inputs: {} }).catch(() => undefined);
    await this.keep(null);
    const facts = [...(how?.facts ?? []), ...(how?.claims?.facts ?? [])];
    this.ports.know(facts.map(({ variable }) => ({ variable, cell: null })));
    await this.ports.clear();
    this.ports.changed();
  }
}

const pickOf = (answer: ServiceAnswer, pick: string | undefined): Cell => {
  const cell = pick === undefined ? null : (answer.picks[pick] ?? null);
  return Array.isArray(cell) ? null : cell;
};

/** How long a token is good, by what it says itself (RFC 7519, 4.1.4). Nothing else that it says is believed. */
function lifeOf(token: string, now: number): number | null {
  try {
    const { exp } = decodeJwt(token);
    return exp === undefined ? null : Math.max(0, exp * 1000 - now);
  } catch {
    return null;
  }
}

/** Tokens go no further: not into runs, results or traces. */
function withoutTokens(how: SignIn, answer: ServiceAnswer): ServiceAnswer {
  const hidden = new Set([how.claims?.pick, how.token, how.renewal, how.renew?.token, how.renew?.renewal]);
  if (!Object.keys(answer.picks).some((p) => hidden.has(p))) return answer;
  return { ...answer, picks: Object.fromEntries(Object.entries(answer.picks).filter(([p]) => !hidden.has(p))) };
}
