import type { Outgoing } from '../session/effects.ts';
import type { MailStore } from './keeps.ts';

/**
 * Sends the messages that wait on this phone, and lets go of those that the host never takes. Rejects without a way to
 * it, when all that is left waits in its order.
 */
export async function sendMail(
  store: Pick<MailStore, 'unsentMail' | 'mailSent'>,
  send: (message: Outgoing) => Promise<void>,
  say: (words: string) => void,
): Promise<void> {
  for (const m of await store.unsentMail()) {
    try {
      await send(m);
    } catch (e) {
      const { name, message } = e as Error;
      if (name === 'OfflineError' || name === 'OtherAppError') throw e;
      const called = `“${m.subject || m.body.slice(0, 40)}”`;
      if (name !== 'NeverTakenError') {
        // The host has no room for it now: it waits, and keeps nothing else back.
        say(`${called} waits to be sent: ${message}`);
        continue;
      }
      say(`${called} cannot be sent: ${message}`);
    }
    await store.mailSent(m.id);
  }
}
