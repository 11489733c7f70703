import type { Change } from '../core/records/change.ts';
import { NeverTakenError, OfflineError, type HostLink } from '../core/host/device.ts';
import type { CatchUp, Receipt } from '../core/host/protocol.ts';
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

/** Talks to the host over HTTP. Every failure to reach it is an {@link OfflineError}. */
export async function ask<T>(
  path: string,
  init: RequestInit & { json?: unknown; key?: string | undefined } = {},
): Promise<T> {
  const { json, key, ...rest } = init;
  let answer: Response;
  try {
    answer = await fetch(path, {
      ...rest,
      headers: {
        accept: 'application/json',
        ...(json !== undefined && { 'content-type': 'application/json' }),
        ...(key && { 'x-owner-key': key }),
      },
      ...(json !== undefined && { body: JSON.stringify(json) }),
    });
  } catch {
    throw new OfflineError('The host cannot be reached.');
  }
  if (answer.status >= 502 && answer.status <= 504) throw new OfflineError('The host cannot be reached.');
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
  app(): Promise<{ app: App; number: number; at: string }> {
    return ask(`${this.base}/app`);
  }
  mail(message: Outgoing): Promise<{ sent: true }> {
    const { id, to, subject, body } = message;
    return sent(ask(`${this.base}/mail`, { method: 'POST', json: { id, to, subject, body } }));
  }
  live(): EventSource {
    return new EventSource(`${this.base}/live`);
  }
}
