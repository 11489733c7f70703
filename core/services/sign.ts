import { NoAnswer } from './failures.ts';
import type { Filled } from './fill.ts';
import type { OutsideReply, OutsideRequest } from './outside.ts';
import type { Service } from './schema.ts';

/** A request before it is signed. */
export type Unsigned = Omit<Filled, 'parts' | 'body'> & Pick<OutsideRequest, 'body'>;

/** Signs a request with the secret of its service. Throws a {@link NoAnswer} where that is missing or cannot be sent. */
export function signed(
  { sign, limits }: Pick<Service, 'sign' | 'limits'>,
  filled: Unsigned,
  secret: string | null,
): OutsideRequest {
  const bounds = { ms: limits.seconds * 1000, bytes: Math.round(limits.megabytes * 1_000_000) };
  if (sign.how === 'none') return { ...filled, limits: bounds };
  if (!secret) throw sign.how === 'person' ? new NoAnswer('signed out') : new NoAnswer('unsigned');
  if (sign.how === 'query') {
    const url = new URL(filled.url);
    url.searchParams.set(sign.name, secret);
    return { ...filled, url: url.href, limits: bounds };
  }
  const [name, value] = {
    header: (): [string, string] => [(sign as { name: string }).name, secret],
    bearer: (): [string, string] => ['authorization', `Bearer ${secret}`],
    // The host has got a token by then.
    client: (): [string, string] => ['authorization', `Bearer ${secret}`],
    person: (): [string, string] => ['authorization', `Bearer ${secret}`],
    basic: (): [string, string] => ['authorization', `Basic ${base64(secret)}`],
  }[sign.how]();
  if (!/^[\x21-\x7e]([\x20-\x7e]*[\x21-\x7e])?$/.test(value)) throw new NoAnswer('unsigned', UNSENDABLE);
  // What an app has put there itself gives way.
  const headers = filled.headers.filter(([n]) => n.toLowerCase() !== name.toLowerCase());
  return { ...filled, headers: [...headers, [name, value]], secret: new Set([name.toLowerCase()]), limits: bounds };
}

const UNSENDABLE = 'The key of the service has signs that cannot be sent. Type it in again.';
const base64 = (text: string): string =>
  btoa(Array.from(new TextEncoder().encode(text), (b) => String.fromCharCode(b)).join(''));

/** Stands where a secret was. */
export const HIDDEN = '•••';

/** An answer in which a secret does not stand, in no form in which services give back what they were sent. */
export function withoutSecret(reply: OutsideReply, secret: string | null): OutsideReply {
  if (!secret) return reply;
  const forms = formsOf(secret);
  const hide = (text: string): string => forms.reduce((t, form) => t.replaceAll(form, HIDDEN), text);
  return {
    ...reply,
    url: hide(reply.url),
    headers: reply.headers.map(([name, value]) => [name, hide(value)]),
    body: forms.reduce((body, form) => withoutBytes(body, new TextEncoder().encode(form)), reply.body),
  };
}

/** A secret as it is, as part of an address, in JSON and in base 64; of a name with a password the password alone too. */
function formsOf(secret: string): string[] {
  const alone = [secret, secret.slice(secret.indexOf(':') + 1)].filter((s) => s.length > 0);
  const forms = alone.flatMap((s) => [
    s,
    encodeURIComponent(s),
    new URLSearchParams({ s }).toString().slice(2),
    JSON.stringify(s).slice(1, -1),
    base64(s).replace(/=+$/, ''),
  ]);
  // The longest first, so that none is cut by a shorter one.
  return [...new Set(forms)].sort((a, b) => b.length - a.length);
}

function withoutBytes(body: Uint8Array, wanted: Uint8Array): Uint8Array {
  const found: number[] = [];
  const [first] = wanted;
  for (let i = body.indexOf(first!); i >= 0; i = body.indexOf(first!, i + 1)) {
    let n = 1;
    while (n < wanted.length && body[i + n] === wanted[n]) n++;
    if (n < wanted.length) continue;
    found.push(i);
    i += wanted.length - 1;
  }
  if (found.length === 0) return body;
  const mark = new TextEncoder().encode(HIDDEN);
  const out = new Uint8Array(body.length + found.length * (mark.length - wanted.length));
  let [from, to] = [0, 0];
  for (const at of [...found, body.length]) {
    out.set(body.subarray(from, at), to);
    to += at - from;
    if (at < body.length) out.set(mark, to);
    to += mark.length;
    from = at + wanted.length;
  }
  return out;
}
