import type { AskHost } from './send-file.ts';
import type { Change } from '../core/records/change.ts';
import { NeverTakenError, OfflineError, type HostLink } from '../core/host/link.ts';
import type { CatchUp, Receipt } from '../core/host/protocol.ts';
import type { KeptFile } from '../core/fields/kept-address.ts';
import type { App } from '../core/app/schema.ts';
import type { Outgoing } from '../core/session/effects.ts';

/** The host said no, with its reason. */
export class HostError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

type Asked = RequestInit & { json?: unknown; piece?: Blob; key?: string | undefined };

async function reach(path: string, { json, piece, key, ...rest }: Asked): Promise<Response> {
  const type = json !== undefined ? 'application/json' : piece ? 'application/octet-stream' : null;
  let answer: Response;
  try {
    answer = await fetch(path, {
      ...rest,
      headers: {
        accept: 'application/json',
        ...(type && { 'content-type': type }),
        ...(key && { 'x-owner-key': key }),
      },
      ...(json !== undefined && { body: JSON.stringify(json) }),
      ...(piece && { body: piece }),
    });
  } catch {
    throw new OfflineError('The host cannot be reached.');
  }
  if (answer.status >= 502 && answer.status <= 504) throw new OfflineError('The host cannot be reached.');
  return answer;
}

/** Talks to the host over HTTP. Every failure to reach it is an {@link OfflineError}. */
export async function ask<T>(path: string, init: Asked = {}): Promise<T> {
  const answer = await reach(path, init);
  const body = (await answer.json().catch(() => null)) as T & { error?: string };
  if (!answer.ok) throw new HostError(answer.status, body?.error ?? `The host answered ${answer.status}.`);
  return body;
}

/** Answers that say of what was sent that it is wrong, and would be the next time too. */
const FOR_GOOD = new Set([400, 413, 415, 422]);

/** What is sent, or why it can never be: a {@link NeverTakenError}. */
const sent = <T>(answer: Promise<T>): Promise<T> =>
  answer.catch((e: unknown) => {
    throw e instanceof HostError && FOR_GOOD.has(e.status) ? new NeverTakenError(e.message) : e;
  });

/** The way from a device to the app released at an address. */
export class HttpLink implements HostLink {
  constructor(
    readonly name: string,
    private readonly key?: string,
  ) {}
  private get base(): string {
    return `/api/apps/${this.name}`;
  }
  push(changes: Change[]): Promise<Receipt> {
    return sent(ask(`${this.base}/changes`, { method: 'POST', json: { changes }, key: this.key }));
  }
  pull(since: number, from = 0): Promise<CatchUp> {
    return ask(`${this.base}/changes?since=${since}${from ? `&from=${from}` : ''}`, { key: this.key });
  }
  async sendFile(file: KeptFile, content: Blob, heard: (bytes: number) => void): Promise<void> {
    const { sendFile } = await import('./send-file.ts');
    const host: AskHost = (path, init) => sent(ask(path, { ...init, key: this.key }));
    return sendFile(`${this.base}/files/${file.hash}`, host, file.size, content, heard);
  }
  /** A file that records hold; null when it is not there. Rejects with {@link OfflineError} without a way. */
  async file(hash: string): Promise<Blob | null> {
    const answer = await reach(`${this.base}/files/${hash}`, { key: this.key });
    return answer.ok ? answer.blob() : null;
  }
  app(): Promise<{ app: App; number: number; at: string }> {
    return ask(`${this.base}/app`);
  }
  send({ id, kind, to, subject, body, answers, files }: Outgoing): Promise<{ sent: true }> {
    const json = { id, kind, to, subject, body, answers, files };
    return sent(ask(`${this.base}/mail`, { method: 'POST', json }));
  }
  /** What happens from now on; and notices for this person since the last that was heard. */
  live(person: string, heard: string): EventSource {
    return new EventSource(`${this.base}/live?${new URLSearchParams({ person, heard })}`);
  }
}
