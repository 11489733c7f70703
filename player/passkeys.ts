import { asks } from './asks.ts';

/** Passkeys of this browser for one app (W3C Web Authentication). */

/** Are there passkeys here? Not at an address of numbers, nor where a page is not safe from others. */
export const hasPasskeys = (): boolean =>
  'PublicKeyCredential' in globalThis && isSecureContext && !/^[\d.]+$|^\[|:/.test(location.hostname);

export interface KeptPasskey {
  id: string;
  used: number;
  browser: string;
}

/** Why a browser gave no passkey, in words; null where whoever was asked did not want to. */
function why(e: Error): Error | null {
  if (e.name === 'NotAllowedError' || e.name === 'AbortError') return null;
  if (e.name === 'InvalidStateError') return new Error('This device has a passkey for you already.');
  return /^[A-Z]\w*Error$/.test(e.name) && e.name !== 'Error'
    ? new Error('This device could not do that. Sign in with a code instead.')
    : e;
}

/** Does something with a passkey. Gives false where whoever was asked did not want to; rejects in words. */
async function tried(work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (e) {
    const said = why(e as Error);
    if (said) throw said;
    return false;
  }
}

/** Signs in with a passkey of this device. */
export const signInWithPasskey = (app: string, beside: boolean): Promise<boolean> =>
  tried(async () => {
    const { startAuthentication } = await import('@simplewebauthn/browser');
    const { attempt, options } = await asks<{ attempt: string; options: never }>(app, '/sign-in/passkey-asked', {});
    const used = await startAuthentication({ optionsJSON: options });
    await asks(app, '/sign-in/passkey', { attempt, used, beside });
  });

/** Makes a passkey for whoever has signed in. */
export const makePasskey = (app: string): Promise<boolean> =>
  tried(async () => {
    const { startRegistration } = await import('@simplewebauthn/browser');
    const { attempt, options } = await asks<{ attempt: string; options: never }>(app, '/passkeys/begin', {});
    const made = await startRegistration({ optionsJSON: options });
    await asks(app, '/passkeys', { attempt, made });
  });

export const passkeysOf = async (app: string): Promise<KeptPasskey[]> =>
  (await asks<{ passkeys: KeptPasskey[] }>(app, '/passkeys')).passkeys;

export async function removePasskey(app: string, id: string): Promise<void> {
  await asks(app, `/passkeys/${encodeURIComponent(id)}`, undefined, 'DELETE');
}
