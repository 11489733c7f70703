import type { Outgoing } from '../core/session/effects.ts';
import type { HttpLink } from './link.ts';

/**
 * Sends the messages that wait on this phone, and lets go of those that the host never takes. Rejects without a way to
 * it, when all that is left waits in its order.
 */
export async function sendMail(
  waiting: readonly Outgoing[],
  store: { mailSent(id: string): Promise<void> },
  host: Pick<HttpLink, 'sends'>,
  say: (words: string) => void,
): Promise<void> {
  for (const m of waiting) {
    const { id, kind, to, subject, body, answers, files } = m;
    const json = { id, kind, to, subject, body, answers, files };
    try {
      await host.sends('/mail', { method: 'POST', json, limit: 120_000 });
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
