import { LateStore } from './late-store.ts';
import { ask } from './link.ts';

/** Several people on one device: each has what is kept for them in a store of their own, and one of them uses it. */

/** Somebody who has signed in here, by their address and their record. */
export interface Somebody {
  mail: string;
  person: string;
}
interface Said {
  who: Somebody | null;
  others?: Somebody[];
}

/** Who uses an app here, and who else has signed in, by what its host says. */
export async function signedInHere(app: string): Promise<{ who: Somebody | null; others: Somebody[] }> {
  const { who, others = [] } = await ask<Said>(`/api/apps/${app}/session`);
  return { who, others };
}

const baseOf = (app: string): LateStore => new LateStore(`app-${app}`);

/** The name of the store of whoever uses an app here. */
export async function storeInUse(app: string): Promise<string> {
  const base = baseOf(app);
  const apart = (await base.isThere()) && (await base.get<string>('moved'));
  return apart ? `app-${app}-${apart}` : `app-${app}`;
}

/** From the next opening on somebody uses the app here, with what is kept for them: the first of all in the first store. */
export async function useStoreOf(app: string, person: string): Promise<void> {
  const base = baseOf(app);
  const isThere = await base.isThere();
  const first = isThere ? (await base.get<{ record: string } | null>('person record'))?.record : undefined;
  const apart = `p-${person}`;
  const isApart = await new LateStore(`app-${app}-${apart}`).isThere();
  const moved = isApart || (first !== undefined && first !== person) ? apart : '';
  // A store that is made for this alone would look as if something were kept in it.
  if (isThere || moved) await base.put('moved', moved);
}

/** Another of those who have signed in uses the app from now on. */
export async function switchTo(app: string, person: string): Promise<void> {
  await ask(`/api/apps/${app}/session/switch`, { method: 'POST', json: { person } });
  await useStoreOf(app, person);
  location.replace(location.pathname);
}

/** Whoever has just signed in uses the app from the next opening on. */
export async function begin(app: string): Promise<void> {
  const { who } = await signedInHere(app);
  if (who) await useStoreOf(app, who.person);
}
