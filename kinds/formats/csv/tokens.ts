/** Who hears what a delimited text holds. */
export interface Listener {
  /** A cell: its text, and where it stands in the whole. */
  cell(text: string, from: number, to: number): void;
  /** The end of a line that began at `from`; `to` is behind its line end, `number` counts from 1 as an editor does. */
  line(number: number, from: number, to: number): void;
}

const QUOTE = 34;
const LF = 10;
const CR = 13;

/**
 * Reads a delimited text (RFC 4180 and its relatives) letter by letter, whichever line ends come, mixed ones too. A
 * quotation mark opens a cell only at its beginning; a doubled one stands for itself. Gives the number of the line on
 * which a quotation mark was opened and never closed; null when there is none.
 */
export function scan(text: string, delimiter: string, listener: Listener): number | null {
  const sign = delimiter.charCodeAt(0);
  let at = 0;
  let number = 1;
  let open: number | null = null;
  while (at < text.length) {
    const start = at;
    const startNumber = number;
    for (;;) {
      const from = at;
      let quoted = '';
      if (text.charCodeAt(at) === QUOTE) {
        at++;
        for (;;) {
          const end = text.indexOf('"', at);
          quoted += text.slice(at, end < 0 ? text.length : end);
          if (end < 0) open = number;
          at = end < 0 ? text.length : end + 1;
          if (end < 0 || text.charCodeAt(at) !== QUOTE) break;
          quoted += '"';
          at++;
        }
        number += lineEnds(quoted);
      }
      const plain = at;
      let c = text.charCodeAt(at);
      while (at < text.length && c !== sign && c !== LF && c !== CR) c = text.charCodeAt(++at);
      const rest = plain === at ? '' : text.slice(plain, at);
      listener.cell(quoted ? quoted + rest : rest, from, at);
      if (c !== sign || at >= text.length) break;
      at++;
    }
    if (text.charCodeAt(at) === CR) at++;
    if (text.charCodeAt(at) === LF) at++;
    number++;
    listener.line(startNumber, start, at);
  }
  return open;
}

/** How many lines a text goes on for: CR LF, LF and CR end one each. */
function lineEnds(text: string): number {
  let n = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === LF || (c === CR && text.charCodeAt(i + 1) !== LF)) n++;
  }
  return n;
}
