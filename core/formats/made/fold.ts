/** Folds a line to 75 bytes, never inside a letter (RFC 5545, 3.1; RFC 6350, 3.2). */
export function folded(line: string): string {
  const out: string[] = [];
  let part = '';
  let bytes = 0;
  for (const c of line) {
    const size = new TextEncoder().encode(c).length;
    if (bytes + size > 75) {
      out.push(part);
      part = ' ';
      bytes = 1;
    }
    part += c;
    bytes += size;
  }
  return [...out, part].join('\r\n');
}

/** Folds every line of a text anew, whatever its lines were folded to. */
export const foldedAnew = (text: string): string =>
  text
    .replace(/\r\n[ \t]/g, '')
    .split('\r\n')
    .map(folded)
    .join('\r\n');
