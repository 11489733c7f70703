import type { Clock } from '../document/time.ts';
import type { Sending } from '../host/link.ts';
import type { Overtaken } from '../host/protocol.ts';
import type { Change } from '../records/change.ts';
import type { Patch } from '../screens/live-screen.ts';
import type { AskedMessage, ServiceAnswer } from '../services/answer.ts';
import type { OutsideRequest } from '../services/outside.ts';
import type { FromPage } from '../services/straight.ts';
import type { Effect } from '../session/effects.ts';
import type { Kinds, SessionPorts } from '../session/ports.ts';
import type { PhoneStore, WholeStore } from './keeps.ts';
import type { Vault } from './signed-in.ts';
import type { Pages } from './kept-runs.ts';

/** Takes what a view shows: all of it first, then what changes. Resolves when it is taken. */
export type Take = (patch: Patch) => Promise<void>;

/** What is fetched before something is done, where an app comes in parts. */
export interface Fetches {
  forScreen(screen: string): Promise<void>;
  /** May what this screen shows, or what its opening starts, read a variable? */
  needsVariables(screen: string): boolean;
  /** May it show what services answer? */
  needsFetched(screen: string): boolean;
  /** What a tap may do. */
  forTaps(): Promise<void>;
  /** What may start when something is written. */
  forWriting(): Promise<void>;
}

/** What the phone itself gives its session. */
type Own =
  | 'device'
  | 'effect'
  | 'file'
  | 'remember'
  | 'refresh'
  | 'send'
  | 'variables'
  | 'keepRun'
  | 'wrote'
  | 'settled'
  | 'services';

/** What a phone asks of where it runs. */
export interface PhonePorts {
  clock: Clock;
  store: PhoneStore;
  kinds: Kinds;
  /** What is kept besides; fetched late where it comes late. */
  whole(): Promise<WholeStore>;
  /** Has anything been kept yet? Absent where that makes no difference. */
  hasKept?(): boolean;
  /** The other pages of the same app on this device. */
  pages?(): Promise<Pages>;
  /** The rest of what its session asks for; without `send` messages go out by the host. */
  session: Omit<SessionPorts, Own> & Partial<Pick<SessionPorts, 'send'>>;
  /** Where the tokens of whoever has signed in are kept; absent where they are not. */
  vault?(): Promise<Vault>;
  /** Asks a service from the page, without the host between; absent where no page can. */
  straight?(asked: OutsideRequest): Promise<FromPage>;
  /** Asks services, where that is not done by the host. */
  asks?(message: AskedMessage): Promise<ServiceAnswer>;
  /** Resolves when the first screen has been seen for a while: routines that start by themselves wait until then. */
  rested?(): Promise<void>;
  /** Absent where everything is here from the beginning. */
  fetches?: Fetches;
  /** The way to its host is there or not, so many changes wait, and this file is on its way. */
  report(online: boolean, waiting: number, sending: Sending | null): void;
  /** Says something to whoever uses it. */
  say(words: string): void;
  refused(list: readonly { change: Change; reason: string }[]): void;
  overtaken(list: readonly Overtaken[]): void;
  /** A tap or a routine has done something on it. */
  did?(effect: Effect): void;
  /** Somebody else uses it from now on. */
  usedBy?(person: string | null): void;
  /** A page has drawn something. */
  shown?(): void;
  /** What was given to draw a view is needed no more. */
  letGo?(take: Take): void;
}
