import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { Refused } from '../core/document/refused.ts';
import type { Apps } from './apps.ts';

/** The largest mail that is taken, in bytes as it is sent. */
const MOST_BYTES = 30 * 2 ** 20;
/** SMTP replies (RFC 5321, 4.2.3) for what is refused. */
const REPLIES: Record<number, number> = { 404: 550, 413: 552, 422: 554, 429: 451, 503: 451, 507: 452 };

/** An error as smtp-server says it: the words in the dialogue, with their code. */
function replyOf(e: unknown): Error {
  const status = e instanceof Refused ? e.status : 500;
  const words = e instanceof Refused ? e.message : 'Something went wrong here. Send it again later.';
  return Object.assign(new Error(words.replace(/\s+/g, ' ')), { responseCode: REPLIES[status] ?? 451 });
}

/** The app that an address means, and what it has behind its plus; null for an address elsewhere. */
export function appOf(address: string, domains: ReadonlySet<string>): { name: string; mark: string | null } | null {
  const [, local = '', domain = ''] = /^(.+)@([^@]+)$/.exec(address.trim().toLowerCase()) ?? [];
  if (!domains.has(domain)) return null;
  const [name, ...marks] = local.split('+');
  return { name: name!, mark: marks.length ? marks.join('+') : null };
}

async function bytesOf(stream: SMTPServerDataStream): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of stream as AsyncIterable<Buffer>) {
    size += part.length;
    // What is too much is read to its end, and not kept.
    if (size <= MOST_BYTES) parts.push(part);
  }
  if (stream.sizeExceeded || size > MOST_BYTES)
    throw new Refused(413, `A mail may have ${MOST_BYTES / 2 ** 20} MB, with its files.`);
  return Buffer.concat(parts);
}

export interface MailServer {
  port: number;
  close(): Promise<void>;
}

/**
 * Takes mails for the apps of a server by SMTP (RFC 5321), for the addresses `app@` and `app+mark@` of these domains. A
 * mail is acknowledged when it and what it starts are kept; what is refused is refused in words in the dialogue.
 */
export async function startMail(
  apps: Apps,
  domains: ReadonlySet<string>,
  { port, host }: { port: number; host: string },
): Promise<MailServer> {
  /** The one address of a session's mail: what goes to two apps is sent twice, so that each answers for itself. */
  const wanted = (session: SMTPServerSession): string => session.envelope.rcptTo[0]?.address ?? '';
  const server = new SMTPServer({
    banner: 'Mellow Kite',
    size: MOST_BYTES,
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    // Each may have a whole mail in memory.
    maxClients: 20,
    socketTimeout: 60_000,
    closeTimeout: 2000,
    logger: false,
    onRcptTo(address, session, done) {
      const to = appOf(address.address, domains);
      const others = session.envelope.rcptTo;
      const work = async (): Promise<void> => {
        if (!to) throw new Refused(404, 'Mails to other places are not passed on here.');
        if (others.length && appOf(wanted(session), domains)?.name !== to.name)
          throw new Refused(507, 'One app at a time: send this to the others by itself.');
        await apps.mustTakeMail(to.name);
      };
      work().then(
        () => done(),
        (e: unknown) => done(replyOf(e)),
      );
    },
    onData(stream, session, done) {
      const address = wanted(session);
      const work = async (): Promise<void> => {
        const raw = await bytesOf(stream);
        const to = appOf(address, domains)!;
        await apps.takeMail(to.name, raw, address, to.mark);
      };
      work().then(
        () => done(null, 'It is kept.'),
        (e: unknown) => done(replyOf(e)),
      );
    },
  });
  server.on('error', (e: Error) => console.error(`Mail: ${e.message}`));
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(port, host, () => resolve());
  });
  const address = server.server.address();
  return {
    port: typeof address === 'object' && address ? address.port : port,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}
