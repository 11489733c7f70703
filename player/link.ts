import type { Change } from '../core/records/change.ts';
import { isForGood, NeverTakenError, OfflineError, OtherAppError, PROTOCOL, type HostLink } from '../core/host/link.ts';
import type { Asked as AskedFor, CatchUp, Compared, Have, Receipt } from '../core/host/protocol.ts';
import type { KeptFile } from '../core/fields/kept-address.ts';
import type { App } from '../core/app/schema.ts';
import type { Dressed } from '../core/app/themes.ts';

/** The host said no, with its reason. */
export class HostError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

const offline = (): OfflineError => new OfflineError('The server cannot be reached.');

type Asked = RequestInit & {
  json?: unknown;
  piece?: Blob;
  key?: string | undefined;
  /** The app that is meant, by its id. */
  app?: string | undefined;
  /** Whoever is signed in here, by their record: the host takes it from nobody else. */
  person?: string | undefined;
  /** How long the answer may take, in milliseconds; null where it goes on until its signal ends it. */
  limit?: number | null;
};

/** A way that takes what is sent and never answers is no way. */
const LIMIT_MS = 30_000;

async function reach(
  path: string,
  { json, piece, key, app, person, limit = LIMIT_MS, signal, ...rest }: Asked,
): Promise<Response> {
  const type = json !== undefined ? 'application/json' : piece ? 'application/octet-stream' : null;
  let answer: Response;
  try {
    answer = await fetch(path, {
      ...rest,
      headers: {
        accept: 'application/json',
        'x-protocol': String(PROTOCOL),
        ...(type && { 'content-type': type }),
        ...(key && { 'x-owner-key': key }),
        ...(app && { 'x-app-id': app }),
        ...(person && { 'x-person': person }),
        ...(rest.headers as Record<string, string> | undefined),
      },
      signal: limit === null ? signal! : AbortSignal.timeout(limit),
      ...(json !== undefined && { body: JSON.stringify(json) }),
      ...(piece && { body: piece }),
    });
  } catch {
    throw offline();
  }
  if (answer.status >= 502 && answer.status <= 504) throw offline();
  if (answer.status === 401 && !key) {
    // Whoever holds what is here hears it, whatever was asked.
    dispatchEvent(new Event('sign in'));
    throw Object.assign(new OfflineError(), { name: 'SignInError' });
  }
  if (answer.status === 410) throw new OtherAppError();
  return answer;
}

/** What is released at an address. */
interface Released {
  app: App;
  number: number;
  at: string;
  /** Hosts elsewhere that it may ask. */
  hosts?: string[];
  /** How it looks. */
  look?: Dressed;
}

/** Talks to the host over HTTP. Every failure to reach it is an {@link OfflineError}. */
export async function ask<T>(path: string, init: Asked = {}): Promise<T> {
  const answer = await reach(path, init);
  const body = (await answer.json().catch((e: Error) => {
    if (e.name === 'TimeoutError' || e.name === 'AbortError') throw offline();
    return null;
  })) as T & { error?: string };
  if (!answer.ok) throw new HostError(answer.status, body?.error ?? `The server answered ${answer.status}.`);
  return body;
}

/** What is sent, or why it can never be: a {@link NeverTakenError}. */
const sent = <T>(answer: Promise<T>): Promise<T> =>
  answer.catch((e: unknown) => {
    throw e instanceof HostError && isForGood(e.status) ? new NeverTakenError(e.message) : e;
  });

/** The way from a device to the app released at an address. */
export class HttpLink implements HostLink {
  /** The app that is meant, by its id, once that is known. */
  meant: string | undefined;
  /** Whoever is signed in, once that is known. */
  person: string | undefined;

  constructor(
    readonly name: string,
    private readonly key?: string,
  ) {}
  private get as(): Pick<Asked, 'key' | 'app' | 'person'> {
    return { key: this.key, app: this.meant, person: this.person };
  }
  private get base(): string {
    return `/api/apps/${this.name}`;
  }
  /** Sends something to a path of this app. Rejects with {@link NeverTakenError} where it can never be taken. */
  sends<T>(path: string, init: Asked = {}): Promise<T> {
    return sent(ask(this.base + path, { limit: 60_000, ...init, ...this.as }));
  }
  push(changes: Change[]): Promise<Receipt> {
    return this.sends('/changes', { method: 'POST', json: { changes } });
  }
  pull({ since, view, from }: AskedFor): Promise<CatchUp> {
    const asked = new URLSearchParams({
      since: String(since),
      ...(view && { view }),
      ...(from && { from: String(from) }),
    });
    return ask(`${this.base}/changes?${asked}`, { ...this.as, limit: 60_000 });
  }
  compare(have: Have): Promise<Compared> {
    return ask(`${this.base}/compared`, { method: 'POST', json: have, ...this.as, limit: 60_000 });
  }
  async sendFile(file: KeptFile, content: Blob, heard: (bytes: number) => void): Promise<void> {
    return (await import('./send-file.ts')).sendFile(this, file, content, heard);
  }
  /** A file that records hold; null when it is not there. Rejects with {@link OfflineError} without a way. */
  async file(hash: string): Promise<Blob | null> {
    const answer = await reach(`${this.base}/files/${hash}`, { ...this.as, limit: 120_000 });
    return answer.ok ? answer.blob() : null;
  }
  /** What is released here; null when it is still the release of this tag. */
  async app(tag?: string): Promise<(Released & { tag: string }) | null> {
    const headers: Record<string, string> = tag ? { 'if-none-match': tag } : {};
    const answer = await reach(`${this.base}/app`, { headers, limit: 120_000, cache: 'no-store' });
    if (answer.status === 304) return null;
    const body = (await answer.json().catch(() => null)) as Released & { error?: string };
    if (!answer.ok || !body) throw new HostError(answer.status, body?.error ?? `The server answered ${answer.status}.`);
    return { ...body, tag: answer.headers.get('etag') ?? '' };
  }
  /**
   * Hears what happens from now on; and notices for a person since the last that was heard. `device` is a secret of this
   * device. `over` hears when it has ended by itself.
   */
  listen(
    { person = '', heard = '', device = '' },
    hear: (event: string, data: unknown) => void,
    over: () => void,
  ): () => void {
    const asked = new URLSearchParams({ person, heard, device });
    let closed = false;
    let close = (): void => undefined;
    void import('./stream.ts').then(
      ({ stream }) => {
        if (closed) return;
        const from = (signal: AbortSignal): Promise<Response> =>
          reach(`${this.base}/live?${asked}`, { ...this.as, limit: null, signal, cache: 'no-store' });
        close = stream(from, hear, over);
      },
      () => closed || over(),
    );
    return () => {
      closed = true;
      close();
    };
  }
}
