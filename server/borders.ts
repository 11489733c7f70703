import { hostname } from 'node:os';
import type { RequestHandler } from 'express';
import { Refused } from '../core/document/refused.ts';

/** The names and addresses that a server goes by, without ports. */
export function ownNames(addresses: readonly string[], more: readonly string[]): Set<string> {
  const own = addresses.length ? [hostname(), `${hostname()}.local`] : [];
  return new Set(['127.0.0.1', 'localhost', '[::1]', ...addresses, ...own, ...more].map((n) => n.toLowerCase()));
}

const nameOf = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

/** Why a request is refused that comes by a name that is not the server's, or from a page of another; null when neither. */
export function foreigner(names: ReadonlySet<string>, host: string, origin: string | undefined): Refused | null {
  if (!names.has(nameOf(host)))
    return new Refused(
      421,
      `This server does not go by the name “${nameOf(host)}”. Whoever runs it can add it: --name NAME.`,
    );
  // Browsers name the page that asks, but for plain reading by the page itself; "null" is a page without an address.
  if (origin !== undefined && origin.replace(/^https?:\/\//, '') !== host)
    return new Refused(403, 'A page of another server may not ask this one.');
  return null;
}

/**
 * Answers only to its own names, and lets only its own pages change anything: a page elsewhere cannot reach a server on
 * this machine by giving it a name of its own (DNS rebinding), nor send to it from a person's browser.
 */
export const bordersOf =
  (names: ReadonlySet<string>): RequestHandler =>
  (req, _res, next) => {
    // What a proxy says of the name is believed beside the name that the request itself came by, and not in its place:
    // a page elsewhere can say it too.
    const direct = foreigner(names, req.headers.host ?? '', undefined);
    next(direct ?? foreigner(names, req.host ?? '', req.get('origin')) ?? undefined);
  };
