import { tidyName, type Sheet } from '../../../core/formats/sheet.ts';
import type { FileEdit, TableFile } from '../../../core/formats/table-file.ts';
import { decodeWestern, encodeWestern } from '../../../core/formats/western.ts';
import { guessDelimiter } from './read.ts';
import { scan } from './tokens.ts';

/** A cell of a delimited text, with where it stands in it. */
interface Spot {
  text: string;
  from: number;
  to: number;
}
interface Line {
  /** Line of the text it begins on, counted from 1. */
  number: number;
  cells: Spot[];
  from: number;
  /** Behind its line end. */
  to: number;
}

/**
 * A delimited text (RFC 4180 and its relatives) that is edited cell by cell: what is not written stays as it was,
 * to the byte, with its delimiter, its quotation marks, its line ends and its encoding.
 */
export class DelimitedFile implements TableFile {
  readonly sheets: Sheet[];
  private readonly lines: Line[];
  private readonly encoding: Encoding;
  private readonly text: string;
  private readonly delimiter: string;
  private readonly newline: string;

  constructor(name: string, bytes: Uint8Array) {
    const decoded = decodeBytes(bytes);
    this.encoding = decoded.encoding;
    this.text = decoded.text;
    this.delimiter = guessDelimiter(this.text);
    this.newline = /\r\n|\n|\r/.exec(this.text)?.[0] ?? '\r\n';
    this.lines = tokens(this.text, this.delimiter);
    const filled = this.lines.filter((l) => l.cells.some((c) => c.text.trim() !== ''));
    this.sheets = [
      {
        name: tidyName(name.replace(/\.[^.]*$/, '')),
        rows: filled.map((l) => l.cells.map((c) => c.text)),
        lines: filled.map((l) => l.number),
        notes: [],
      },
    ];
  }

  isLocked(): boolean {
    return false;
  }

  async write(_sheet: number, edits: readonly FileEdit[]): Promise<Uint8Array> {
    const cuts: { from: number; to: number; put: string }[] = [];
    const added: string[] = [];
    const byNumber = new Map(this.lines.map((l) => [l.number, l]));
    for (const [number, cells] of cellsByLine(edits)) {
      const line = byNumber.get(number);
      if (!line) continue;
      for (const [column, text] of cells) {
        const spot = line.cells[column];
        if (spot) cuts.push({ from: spot.from, to: spot.to, put: this.quoted(text) });
      }
      // A short line is made as long as its last new cell.
      const last = Math.max(...cells.keys());
      if (last >= line.cells.length) {
        const end = line.cells.at(-1)!.to;
        const more = Array.from({ length: last - line.cells.length + 1 }, (_, i) => {
          const text = cells.get(line.cells.length + i);
          return this.delimiter + (text === undefined ? '' : this.quoted(text));
        });
        cuts.push({ from: end, to: end, put: more.join('') });
      }
    }
    for (const e of edits) {
      if (e.do === 'remove') {
        const line = byNumber.get(e.line);
        if (line) cuts.push({ from: line.from, to: line.to, put: '' });
      } else if (e.do === 'append') {
        const width = Math.max(this.lines[0]?.cells.length ?? 0, ...[...e.cells.keys()].map((c) => c + 1));
        added.push(
          Array.from({ length: width }, (_, i) => this.quoted(e.cells.get(i)?.text ?? '')).join(this.delimiter),
        );
      }
    }
    let out = '';
    let at = 0;
    for (const cut of cuts.sort((a, b) => a.from - b.from || a.to - b.to)) {
      if (cut.from < at) continue; // inside a line that goes
      out += this.text.slice(at, cut.from) + cut.put;
      at = cut.to;
    }
    out += this.text.slice(at);
    if (added.length) {
      if (out !== '' && !/[\r\n]$/.test(out)) out += this.newline;
      out += added.join(this.newline) + this.newline;
    }
    return encodeText(out, this.encoding);
  }

  private quoted(text: string): string {
    return text.includes(this.delimiter) || /["\r\n]/.test(text) || text !== text.trim()
      ? `"${text.replace(/"/g, '""')}"`
      : text;
  }
}

function cellsByLine(edits: readonly FileEdit[]): Map<number, Map<number, string>> {
  const lines = new Map<number, Map<number, string>>();
  for (const e of edits) {
    if (e.do !== 'cell') continue;
    const cells = lines.get(e.line) ?? new Map<number, string>();
    cells.set(e.column, e.value.text);
    lines.set(e.line, cells);
  }
  return lines;
}

/** Lines with their cells, and where each stands. */
function tokens(text: string, delimiter: string): Line[] {
  const lines: Line[] = [];
  let cells: Spot[] = [];
  scan(text, delimiter, {
    cell: (cell, from, to) => void cells.push({ text: cell, from, to }),
    line(number, from, to) {
      lines.push({ number, cells, from, to });
      cells = [];
    },
  });
  return lines;
}

type Encoding = 'utf-8' | 'utf-8 with mark' | 'utf-16le' | 'utf-16be' | 'windows-1252';

function decodeBytes(bytes: Uint8Array): { text: string; encoding: Encoding } {
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'utf-16le' };
  if (a === 0xfe && b === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'utf-16be' };
  const mark = a === 0xef && b === 0xbb && c === 0xbf;
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return { text, encoding: mark ? 'utf-8 with mark' : 'utf-8' };
  } catch {
    return { text: decodeWestern(bytes), encoding: 'windows-1252' };
  }
}

function encodeText(text: string, encoding: Encoding): Uint8Array {
  switch (encoding) {
    case 'utf-8':
      return new TextEncoder().encode(text);
    case 'utf-8 with mark':
      return new TextEncoder().encode(`\uFEFF${text}`);
    case 'utf-16le':
    case 'utf-16be': {
      const bytes = new Uint8Array(2 + text.length * 2);
      const view = new DataView(bytes.buffer);
      const little = encoding === 'utf-16le';
      view.setUint16(0, 0xfeff, little);
      for (let i = 0; i < text.length; i++) view.setUint16(2 + i * 2, text.charCodeAt(i), little);
      return bytes;
    }
    case 'windows-1252':
      // A letter that the old encoding does not have: the file becomes UTF-8, with the mark that says so.
      return encodeWestern(text) ?? encodeText(text, 'utf-8 with mark');
  }
}
