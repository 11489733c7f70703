import '../core/screens/becoming.ts';
import { peopleTable, personalScreens } from '../core/app/people.ts';
import type { Phone } from '../core/phone/phone.ts';
import { overtakenSaid } from '../core/host/overtaken.ts';
import type { Overtaken } from '../core/host/protocol.ts';
import { frameOf } from './api.ts';
import type { EngineEvent } from './engine-events.ts';
import type { UsedKinds } from './kinds.ts';
import type { LateStore } from './late-store.ts';
import type { HttpLink } from './link.ts';
import { newerRelease } from './newer-release.ts';
import { otherApp } from './other-app.ts';
import { lookOf, type KeptRelease } from './release.ts';

export { vaultIn } from './vault.ts';

/** What a device does once its first screen has been seen; apart, so that the first screen does not wait for it. */

/** As much of a released app on a device as this needs. */
export interface Inside {
  readonly phone: Phone;
  readonly store: LateStore;
  readonly kinds: UsedKinds;
  here: KeptRelease;
  readonly link: HttpLink;
  /** There may be runs that were put away. */
  readonly hasRuns: boolean;
  tell(e: EngineEvent): void;
  say(words: string): void;
}

/** Takes a newer release, if there is one, without a reinstall. */
export async function refresh(on: Inside): Promise<void> {
  const fresh = await newerRelease(on);
  if (!fresh) return;
  on.here = fresh;
  on.phone.setApp(fresh.app, fresh.number);
  await on.phone.forVariables();
  // Screens may be closed now, or open.
  if (fresh.app.signIn) for (const { show } of on.phone.taking.values()) void show();
  await frame(on, true);
  await on.phone.device.sync();
  on.phone.report(true);
}

/** Tells the page the frame of the app, with the screens that depend on the person. */
async function frame(on: Inside, updated: boolean): Promise<void> {
  const { app, hosts = null } = on.here;
  const personal = personalScreens(app);
  // Where people sign in, the first screen says who has.
  const signsIn = app.access?.mail !== undefined;
  if (signsIn && app.tabs[0]) personal.add(app.tabs[0].screen);
  if (!updated && personal.size === 0) return;
  const around = { look: await lookOf(on.here), hosts, personal, people: peopleTable(app)?.id ?? null, signsIn };
  on.tell({ kind: 'frame', frame: frameOf(app, around), updated });
}

/** Says what the host has refused. */
export function refused(on: Inside, [first, ...more]: readonly { reason: string }[]): void {
  on.tell({ kind: 'say', words: `Not saved: ${first!.reason}${more.length ? ` And ${more.length} more.` : ''}` });
}

/** Says what was written elsewhere meanwhile, and stands. */
export function overtaken(on: Inside, list: readonly Overtaken[]): void {
  on.tell({ kind: 'say', words: overtakenSaid(on.phone.records, list) });
}

/** Where another app is at the address now, this one says so and stops. */
export async function giveWay(on: Inside): Promise<void> {
  const other = await otherApp(on.link, on.here.app, on.phone.device.waiting);
  if (!other) return on.phone.tryAgain();
  on.phone.leaveHost();
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
  if (on.here.app.access?.clears !== undefined) (await import('./contact.ts')).watchContact(on);
  await on.phone.forVariables().catch(() => undefined);
  await frame(on, false).catch(() => undefined);
  // Of what other pages put away from now on it hears too.
  if (!on.hasRuns && on.here.app.routines.length === 0) return;
  await (await on.phone.late()).takeUp();
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
