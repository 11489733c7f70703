import type { OutsideReply } from './outside.ts';

const ENDINGS: Record<string, string> = {
  'application/json': '.json',
  'application/geo+json': '.json',
  'text/csv': '.csv',
  'text/tab-separated-values': '.tsv',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': '.xlsx',
  'application/zip': '.zip',
};

/**
 * What a fetched answer is called as a file: as the service says (RFC 6266), else as the end of its address; with the
 * ending of its media type where it has none.
 */
export function fileNameOf({ headers, url }: Pick<OutsideReply, 'headers' | 'url'>): string {
  const header = (name: string): string => headers.find(([n]) => n.toLowerCase() === name)?.[1] ?? '';
  const said = header('content-disposition');
  const [, plain] = /filename="?([^";]+)"?/i.exec(said) ?? [];
  const [, coded] = /filename\*=utf-8''([^;]+)/i.exec(said) ?? [];
  const { pathname, hostname } = new URL(url);
  const last = pathname.split('/').findLast((p) => p !== '');
  const name = (decoded(coded) ?? plain ?? decoded(last) ?? hostname)
    // Cut between letters: half of one cannot be written in an address. Lone halves are no letters either.
    .replace(/[\p{Cc}\p{Cs}/\\]/gu, ' ')
    .trim()
    .replace(/^(.{120}).*$/su, '$1');
  if (/\.[a-z]{2,5}$/i.test(name) && name !== hostname) return name;
  const type = header('content-type').split(';')[0]!.trim().toLowerCase();
  return `${name || hostname}${ENDINGS[type] ?? (type.endsWith('+json') ? '.json' : '')}`;
}

function decoded(text: string | undefined): string | undefined {
  if (text === undefined) return undefined;
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
