import type { z } from 'zod';
import type { Who } from '../core/access/access.ts';
import { Refused } from '../core/document/refused.ts';
import type { Caller } from './entrance.ts';
import type { MadePasskey, Passkey, Site, UsedPasskey } from './passkeys.ts';
import { begins, type AllSignIns, type AsksApps, type Begun } from './people.ts';

/** A passkey as its person or the holder of the key sees it. */
const shown = ({ id, mail, added, used, browser }: Passkey) => ({ id, mail, added, used, browser });

/** How people make and use passkeys of an app. Each of these is behind the `Entrance`. */
export class PasskeyWays {
  constructor(
    private readonly apps: AsksApps,
    private readonly signIns: AllSignIns,
  ) {}

  /** What a browser is asked, so that whoever has a passkey can sign in with it. */
  ask(caller: Caller, site: Site) {
    return this.apps.ask(caller, async (app) => {
      await app.ask((a) => a.signsIn());
      return (await this.signIns.of(caller.name)).passkeys.askFor(site);
    });
  }

  /** Somebody has used a passkey. Gives the token of their session. */
  use(caller: Caller, site: Site, attempt: string, used: z.infer<typeof UsedPasskey>, browser: string): Promise<Begun> {
    return this.apps.ask(caller, async (app) => {
      await app.ask((a) => a.signsIn());
      const signIns = await this.signIns.of(caller.name);
      const { person, mail } = await signIns.passkeys.confirm(site, attempt, used);
      if (!(await app.ask((a) => a.isStill(person, mail))))
        throw new Refused(403, 'This passkey is of an address that is not among the people of this app any more.');
      return begins(signIns, caller, person, mail, browser);
    });
  }

  /** What a browser is asked, so that whoever has signed in makes a passkey. */
  begin(caller: Caller, site: Site) {
    return this.apps.ask(caller, async (app, who) => {
      const { person, mail } = signedIn(who);
      const about = await app.ask((a) => a.signsIn());
      return (await this.signIns.of(caller.name)).passkeys.begin(site, about, person, mail);
    });
  }

  add(caller: Caller, site: Site, attempt: string, made: z.infer<typeof MadePasskey>, browser: string): Promise<void> {
    return this.apps.ask(caller, async (_app, who) => {
      const signIns = await this.signIns.of(caller.name);
      await signIns.passkeys.add(site, attempt, made, { ...signedIn(who), browser });
    });
  }

  /** The passkeys of whoever asks; of everybody for the holder of the key. */
  list(caller: Caller): Promise<ReturnType<typeof shown>[]> {
    return this.apps.ask(caller, async (_app, who) =>
      (await this.signIns.of(caller.name)).passkeys.list(whose(who)).map(shown),
    );
  }

  /** Nobody signs in with it any more. Whoever has signed in by it stays so until their session ends. */
  remove(caller: Caller, id: string): Promise<void> {
    return this.apps.ask(caller, async (_app, who) => {
      const person = whose(who);
      const { passkeys } = await this.signIns.of(caller.name);
      const gone = await passkeys.remove((p) => p.id === id && (person === undefined || p.person === person));
      if (gone === 0) throw new Refused(404, 'This passkey is not there any more.');
    });
  }
}

function signedIn({ kind, person, mail }: Who): { person: string; mail: string } {
  if (kind !== 'somebody' || person === null || mail === undefined)
    throw new Refused(401, 'Sign in to make a passkey.');
  return { person, mail };
}

/** Whose passkeys somebody may see and remove: their own, or those of all (undefined). */
const whose = (who: Who): string | undefined => (who.kind === 'owner' ? undefined : signedIn(who).person);
