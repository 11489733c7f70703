import type { OutsideRequest } from '../core/services/outside.ts';
import type { FromPage } from '../core/services/straight.ts';

/**
 * Asks a service from the page: without cookies, without saying from where, and within the bounds of time and size. The
 * page’s policy lets it ask the services of the app alone.
 */
export async function straight({ method, url, headers, body, limits }: OutsideRequest): Promise<FromPage> {
  const started = performance.now();
  try {
    const answer = await fetch(url, {
      method,
      headers: headers.map(([name, value]): [string, string] => [name, value]),
      ...(body !== undefined && { body: body as BodyInit }),
      credentials: 'omit',
      referrerPolicy: 'no-referrer',
      cache: 'no-store',
      signal: AbortSignal.timeout(limits.ms),
    });
    const parts: Uint8Array[] = [];
    let size = 0;
    const reader = answer.body?.getReader();
    for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
      size += part.value.length;
      if (size > limits.bytes) {
        void reader!.cancel();
        return { failed: 'too large' };
      }
      parts.push(part.value);
    }
    const whole = new Uint8Array(await new Blob(parts as BlobPart[]).arrayBuffer());
    const ms = performance.now() - started;
    return { reply: { status: answer.status, headers: [...answer.headers], body: whole, ms, url: answer.url || url } };
  } catch (e) {
    return { failed: (e as Error).name === 'TimeoutError' ? 'too slow' : 'unreached' };
  }
}
