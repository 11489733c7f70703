import { SaxesParser } from 'saxes';

/** Hears the parts of an XML text; names come without their prefix. */
export interface Hears {
  open(name: string, attributes: Record<string, string>): void;
  close?(name: string): void;
  text?(text: string): void;
}

const local = (name: string): string => name.slice(name.indexOf(':') + 1);
/** Characters that are given to the parser at once. */
const PART = 1 << 18;

/** Reads XML in UTF-8, or UTF-16 with a mark. Throws when it is not well-formed. */
export function readXml(bytes: Uint8Array, hears: Hears): void {
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (e) => {
    throw e;
  });
  parser.on('opentag', (tag) => {
    const attributes: Record<string, string> = {};
    for (const [name, value] of Object.entries(tag.attributes)) attributes[local(name)] = String(value);
    hears.open(local(tag.name), attributes);
  });
  if (hears.close) parser.on('closetag', (tag) => hears.close!(local(tag.name)));
  if (hears.text) {
    parser.on('text', (t) => hears.text!(t));
    parser.on('cdata', (t) => hears.text!(t));
  }
  const wide =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : null;
  const decoder = new TextDecoder(wide ?? 'utf-8');
  for (let at = 0; at < bytes.length; at += PART)
    parser.write(decoder.decode(bytes.subarray(at, at + PART), { stream: at + PART < bytes.length }));
  parser.close();
}

/** Characters that XML cannot hold stand as `_x000D_` (ECMA-376, 22.9.2.19). */
export const unescaped = (text: string): string =>
  text.includes('_x')
    ? text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, code: string) => String.fromCharCode(parseInt(code, 16)))
    : text;
