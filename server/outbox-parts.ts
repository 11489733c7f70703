import { KeptMessage } from '../core/released/messages.ts';
import type { MessagesPort } from '../core/released/outbox.ts';

type Part = { ids(): Promise<string[]>; read(id: string): Promise<string | null> };
type Outbox = Pick<MessagesPort, 'list' | 'read'>;

/** Text messages are looked for among those of so many days: nobody waits longer for one. */
const TEXT_MS = 3 * 86_400_000;

/** The mails that lie in an outbox. */
export const mailsIn = (outbox: Outbox): Part => ({
  ids: async () => (await outbox.list()).flatMap(({ name }) => (name.endsWith('.eml') ? [name.slice(0, -4)] : [])),
  read: (id) => outbox.read(`${id}.eml`).catch(() => null),
});

/** The text messages that lie in an outbox. */
export function textsIn(outbox: Outbox): Part {
  const read = async (id: string): Promise<string | null> => {
    const text = await outbox.read(`${id}.json`).catch(() => null);
    return text !== null && KeptMessage.safeParse(jsonOf(text)).data?.kind === 'text message' ? text : null;
  };
  return {
    read,
    ids: async () => {
      const since = Date.now() - TEXT_MS;
      const recent = (await outbox.list()).filter(({ name, at }) => name.endsWith('.json') && at > since);
      const ids = await Promise.all(
        recent.map(async ({ name }) => ((await read(name.slice(0, -5))) === null ? [] : [name.slice(0, -5)])),
      );
      return ids.flat();
    },
  };
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
