import { madeOf } from '../document/made-of.ts';
import { goesStraight } from '../services/goes-straight.ts';
import type { App } from './schema.ts';

/**
 * What an app asks for elsewhere: pictures, sounds and pages at other addresses. Whoever runs such an address learns that
 * somebody looks, so an app asks only hosts that its document names, or that its maker allowed. What people write into
 * records allows nothing.
 */

/** Stands for the app's own address, where that is not known. */
const HERE = 'here.invalid';
const ADDRESS = /https?:[\\/]{2}[^\s"'<>\\|`{}()]+/gi;

/** The host of an address on the web, with its port where it has one of its own; null for what is here or nothing. */
export function hostOf(address: string): string | null {
  // As browsers read it (WHATWG URL): "//a.example" and "/\a.example" are elsewhere too, and "https:a.example" is on a
  // page by http.
  try {
    for (const base of [`http://${HERE}`, `https://${HERE}`]) {
      const { protocol, host } = new URL(address, base);
      if (/^https?:$/.test(protocol) && host !== HERE) return host;
    }
  } catch {
    // No address at all.
  }
  return null;
}

/** The hosts that a screen, table, routine and so on names. */
const named = madeOf((part: object): readonly string[] => hostsIn(JSON.stringify(part)));

/** The hosts that an app may ask. */
export function hostsOf({ files: _files, elsewhere = [], ...app }: App): Set<string> {
  const hosts = new Set(elsewhere);
  for (const part of Object.values(app).flat())
    if (part && typeof part === 'object') for (const host of named(part)) hosts.add(host);
  return hosts;
}

/** The hosts of services that phones ask themselves. */
export const askedHosts = (app: App): string[] => [
  ...new Set(
    (app.services ?? []).flatMap((s) =>
      s.requests.some((r) => goesStraight(s, r)) ? (hostOf(s.live ?? s.test) ?? []) : [],
    ),
  ),
];

/** The hosts that a text names in whole addresses. */
export const hostsIn = (text: string): string[] => [...text.matchAll(ADDRESS)].flatMap(([a]) => hostOf(a) ?? []);
