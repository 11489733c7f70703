/** How addresses of kept files begin: names by their hash (RFC 6920). */
export const KEPT = 'ni:///sha-256;';

/** A file that records hold: kept once by its content, beside the records; a cell has its address. */
export interface KeptFile {
  /** SHA-256 of the content, in base 64 for addresses (RFC 4648, 5), without padding. */
  hash: string;
  /** Media type, such as image/jpeg. */
  type: string;
  /** Bytes. */
  size: number;
  /** As the person who chose it knows it; may be empty. */
  name: string;
}

const ADDRESS = /^ni:\/\/\/sha-256;([A-Za-z0-9_-]{43})\?([^\s#]{1,1500})$/;
const TYPE = /^[\w.+-]{1,60}\/[\w.+-]{1,80}$/;

/** Does a text begin like the address of a kept file? */
export const isKeptAddress = (text: string): boolean => text.startsWith(KEPT);

/** What an address says of its file; null for any other text. */
export function readKeptAddress(text: unknown): KeptFile | null {
  if (typeof text !== 'string' || !text.startsWith(KEPT)) return null;
  const [, hash, about] = ADDRESS.exec(text) ?? [];
  if (hash === undefined || about === undefined) return null;
  const said = new URLSearchParams(about);
  const type = said.get('ct') ?? '';
  const size = said.get('size') ?? '';
  if (!TYPE.test(type) || !/^\d{1,12}$/.test(size)) return null;
  return { hash, type: type.toLowerCase(), size: Number(size), name: said.get('name') ?? '' };
}

/** The address of a file with its content (RFC 2397). */
const DATA = /^data:([\w.+-]+\/[\w.+-]+)(;[\w.+-]+=[^;,]*)*;base64,/i;

/** The media type of a kept file; null for any other text. */
export const fileType = (address: string): string | null =>
  readKeptAddress(address)?.type ??
  (address.startsWith('data:') ? (DATA.exec(address.slice(0, 500))?.[1]?.toLowerCase() ?? null) : null);

/** What a kept file is called: its name, or what kind of thing it is. */
export function fileName(address: string): string {
  const name = readKeptAddress(address)?.name ?? /^data:[^,]*?;name=([^;,]+)/.exec(address)?.[1];
  if (name) {
    try {
      return address.startsWith('data:') ? decodeURIComponent(name) : name;
    } catch {
      return name;
    }
  }
  const type = fileType(address) ?? '';
  return type.startsWith('image/') ? 'photo' : type.startsWith('audio/') ? 'sound' : 'file';
}
