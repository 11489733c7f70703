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
  for (const base of [`http://${HERE}`, `https://${HERE}`])
    if (URL.canParse(address, base)) {
      const { protocol, host } = new URL(address, base);
      if (/^https?:$/.test(protocol) && host !== HERE) return host;
    }
  return null;
}

/** The hosts that an app may ask. */
export function hostsOf({ files: _files, ...app }: App): Set<string> {
  return new Set([...(app.elsewhere ?? []), ...hostsIn(JSON.stringify(app))]);
}

/** The hosts that a text names in whole addresses. */
export const hostsIn = (text: string): string[] => [...text.matchAll(ADDRESS)].flatMap(([a]) => hostOf(a) ?? []);
