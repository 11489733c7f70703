/**
 * Windows-1252 by its own table (Encoding Standard, index windows-1252): some runtimes decode it as Latin-1, and none
 * encodes it.
 */
const UPPER = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

export function decodeWestern(bytes: Uint8Array): string {
  let text = '';
  for (const b of bytes) text += b >= 0x80 && b < 0xa0 ? UPPER[b - 0x80]! : String.fromCharCode(b);
  return text;
}

/** The bytes of a text; null when it has a letter that Windows-1252 does not have. */
export function encodeWestern(text: string): Uint8Array | null {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    const upper = UPPER.indexOf(text[i]!);
    if (upper >= 0) bytes[i] = 0x80 + upper;
    else if (code < 0x80 || (code >= 0xa0 && code <= 0xff)) bytes[i] = code;
    else return null;
  }
  return bytes;
}
