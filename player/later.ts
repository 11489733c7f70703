import type { Device } from '../core/host/device.ts';
import type { News } from '../core/host/protocol.ts';
import { peopleTable, personalScreens } from '../core/app/people.ts';
import type { Way } from '../core/phone/way.ts';
import type { Session } from '../core/session/session.ts';
import { frameOf } from './api.ts';
import type { EngineEvent } from './engine-events.ts';
import type { Files } from './files.ts';
import type { UsedKinds } from './kinds.ts';
import type { KeptRuns } from './kept-runs.ts';
import type { LateStore } from './late-store.ts';
import type { HttpLink } from './link.ts';
import { newerRelease } from './newer-release.ts';
import { otherApp } from './other-app.ts';
import type { KeptRelease } from './release.ts';

/** What a device does once its first screen has been seen; apart, so that the first screen does not wait for it. */

/** As much of a device as this needs. */
export interface Inside {
  readonly device: Device;
  readonly session: Session;
  readonly store: LateStore;
  readonly kinds: UsedKinds;
  here: KeptRelease;
  readonly link: HttpLink;
  readonly way: Way;
  readonly online: boolean;
  /** There may be runs that were put away. */
  readonly hasRuns: boolean;
  /** When the last notice came, as the host's clock had it. */
  heardAt: string;
  /** How many devices said when that they are used by whom. */
  told: string;
  tell(e: EngineEvent): void;
  say(words: string): void;
  report(online: boolean): void;
  connect(): Promise<void>;
  forVariables(): Promise<void>;
  runs(): Promise<KeptRuns>;
  files(): Promise<Files>;
}

/** Where the host stands, as it says when it is listened to. */
interface Hello {
  at: number;
  view?: string;
  release: number;
  now: string;
  /** Devices that say that the same person uses them, this one among them. */
  devices: number;
}

/** What is done with each thing that the host tells. */
export const HEARD: Record<string, (on: Inside, data: unknown) => void> = {
  notice(on, data) {
    const { id, at, subject, body } = data as Record<string, string>;
    void on.store.put('heard', (on.heardAt = at!));
    void on.session.noticed({ id: id!, title: subject!, words: body! });
  },
  news: (on, data) => void on.device.receive(data as News).catch(() => on.report(false)),
  hello(on, data) {
    const { at, view, release, now, devices } = data as Hello;
    const said = `${devices} devices say that they are used by ${on.session.records.person}.`;
    if (devices > 1 && said !== on.told) {
      on.say(said);
      void on.store.put('told', (on.told = said));
    }
    if (!on.heardAt) void on.store.put('heard', (on.heardAt = now));
    if (at !== on.device.position || view !== on.device.view || on.device.waiting || !on.online) void on.connect();
    if (release !== on.here.number) refreshed(on);
  },
  release: (on) => refreshed(on),
};

/** Takes a newer release, if there is one, without a reinstall. */
export async function refresh(on: Inside): Promise<void> {
  const fresh = await newerRelease(on);
  if (!fresh) return;
  on.here = fresh;
  on.session.setApp(fresh.app, fresh.number);
  if (fresh.app.variables?.length) await on.forVariables();
  await frame(on, true);
  await on.device.sync();
  on.report(true);
}

const refreshed = (on: Inside): void => void refresh(on).catch((e: Error) => on.way.failed(e));

/** Tells the page the frame of the app, with the screens that depend on the person. */
async function frame(on: Inside, updated: boolean): Promise<void> {
  const { app, hosts = null } = on.here;
  const personal = personalScreens(app);
  if (!updated && personal.size === 0) return;
  on.tell({ kind: 'frame', frame: frameOf(app, hosts, personal, peopleTable(app)?.id ?? null), updated });
}

/** Where another app is at the address now, this one says so and stops. */
export async function giveWay(on: Inside): Promise<void> {
  const other = await otherApp(on.link, on.here.app, on.device.waiting);
  if (!other) return on.way.again();
  on.way.close();
  on.tell({ kind: 'moved', ...other });
}

/** What can wait until the first screen is seen: the other kinds with their views, and runs that were put away. */
export async function rest(on: Inside): Promise<void> {
  try {
    await on.kinds.forAll(on.here.app);
    void showLater(on);
  } catch {
    return; // offline, and tried again when a screen needs them
  }
  if (on.here.app.variables?.length) await on.forVariables().catch(() => undefined);
  await frame(on, false).catch(() => undefined);
  // Of what other pages put away from now on it hears too.
  if (!on.hasRuns && on.here.app.routines.length === 0) return;
  const [runs, files] = await Promise.all([on.runs(), on.files()]);
  const kept = await on.store.get('variables');
  await files.tidy(on.device.replica.all(), await (await on.store.whole()).inRuns(), kept).catch(() => undefined);
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
