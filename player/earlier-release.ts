import type { App } from '../core/app/schema.ts';
import { inTodaysVersion } from '../core/document/earlier-versions.ts';
import { upgraded } from '../core/document/upgrade.ts';
import type { UsedKinds } from './kinds.ts';
import type { KeptRelease } from './release.ts';

/**
 * A release that a device has kept since before today's version of the format, in that version. Rejects where a kind
 * that it uses cannot be fetched.
 */
export async function broughtOn(kept: KeptRelease, kinds: UsedKinds): Promise<KeptRelease> {
  const app = inTodaysVersion({ ...kept.app }) as unknown as App;
  await kinds.forAll(app);
  return { ...kept, app: upgraded(app, kinds) as App };
}
