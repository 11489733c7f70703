import type { Device } from '../core/host/device.ts';
import type { News } from '../core/host/protocol.ts';
import type { Session } from '../core/session/session.ts';
import type { EngineEvent } from './engine-events.ts';
import type { Files } from './files.ts';
import type { UsedKinds } from './kinds.ts';
import type { KeptRuns } from './kept-runs.ts';
import type { LateStore } from './late-store.ts';
import type { KeptRelease } from './release.ts';

/** What a device does once its first screen has been seen; apart, so that the first screen does not wait for it. */

/** As much of a device as this needs. */
export interface Inside {
  readonly device: Device;
  readonly session: Session;
  readonly store: LateStore;
  readonly kinds: UsedKinds;
  readonly here: KeptRelease;
  readonly online: boolean;
  /** There may be runs that were put away. */
  readonly hasRuns: boolean;
  /** When the last notice came, as the host's clock had it. */
  heard: string;
  /** How many devices said when that they are used by whom. */
  told: string;
  tell(e: EngineEvent): void;
  say(words: string): void;
  report(online: boolean): void;
  connect(): Promise<void>;
  refreshed(): void;
  forVariables(): Promise<void>;
  frame(updated: boolean): Promise<void>;
  runs(): Promise<KeptRuns>;
  files(): Promise<Files>;
}

/** Where the host stands, as it says when it is listened to. */
interface Hello {
  at: number;
  release: number;
  now: string;
  /** Devices that say that the same person uses them, this one among them. */
  devices: number;
}

/** What is done with each thing that the host tells. */
export const HEARD: Record<string, (on: Inside, data: unknown) => void> = {
  notice(on, data) {
    const { id, at, subject, body } = data as Record<string, string>;
    void on.store.put('heard', (on.heard = at!));
    void on.session.noticed({ id: id!, title: subject!, words: body! });
  },
  news: (on, data) => void on.device.receive(data as News).catch(() => on.report(false)),
  hello(on, data) {
    const { at, release, now, devices } = data as Hello;
    const said = `${devices} devices say that they are used by ${on.session.records.person}.`;
    if (devices > 1 && said !== on.told) {
      on.say(said);
      void on.store.put('told', (on.told = said));
    }
    if (!on.heard) void on.store.put('heard', (on.heard = now));
    if (at !== on.device.position || on.device.waiting || !on.online) void on.connect();
    if (release !== on.here.number) on.refreshed();
  },
  release: (on) => on.refreshed(),
};

/** What can wait until the first screen is seen: the other kinds with their views, and runs that were put away. */
export async function rest(on: Inside): Promise<void> {
  try {
    await on.kinds.forAll(on.here.app);
    void showLater(on);
  } catch {
    return; // offline, and tried again when a screen needs them
  }
  if (on.here.app.variables?.length) await on.forVariables().catch(() => undefined);
  await on.frame(false).catch(() => undefined);
  // Of what other pages put away from now on it hears too.
  if (!on.hasRuns && on.here.app.routines.length === 0) return;
  const [runs, files] = await Promise.all([on.runs(), on.files()]);
  const kept = await on.store.get('variables');
  await files.tidy(on.device.replica.all(), await on.store.inRuns(), kept).catch(() => undefined);
  await runs.takeUp((run) => on.session.resume([run]), on.say);
}

/** Views that nobody waits for come one after another, so that what a person does comes in between. */
async function showLater(on: Inside): Promise<void> {
  for (const kind of on.kinds.elements.keys()) {
    on.tell({ kind: 'needs', views: [kind] });
    await new Promise((resolve) => {
      setTimeout(resolve, 30);
    });
  }
}
