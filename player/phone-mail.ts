import type { Outgoing } from '../core/session/effects.ts';

/**
 * Sends the messages that wait on this phone, and lets go of those that the host never takes. Rejects without a way to
 * it, when all that is left waits in its order.
 */
export async function sendMail(
  waiting: readonly Outgoing[],
  store: { mailSent(id: string): Promise<void> },
  send: (m: Outgoing) => Promise<unknown>,
  say: (words: string) => void,
): Promise<void> {
  for (const m of waiting) {
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
