import Papa from 'papaparse';
import { withoutApostrophe } from '../../../core/fields/harmless.ts';
import { CellCount, checkedSheet, MAX_COLUMNS, type Sheet } from '../../../core/formats/sheet.ts';
import { startsWith } from '../../../core/formats/format.ts';
import { decodeWestern } from '../../../core/formats/western.ts';
import { scan } from './tokens.ts';

/** Text of UTF-8, UTF-16 or Windows-1252, told apart by their bytes; single stray lines are decoded by themselves. */
export function decode(bytes: Uint8Array): { text: string; note: string | null } {
  if (startsWith(bytes, 0xff, 0xfe)) return { text: new TextDecoder('utf-16le').decode(bytes), note: null };
  if (startsWith(bytes, 0xfe, 0xff)) return { text: new TextDecoder('utf-16be').decode(bytes), note: null };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), note: null };
  } catch {
    const strict = new TextDecoder('utf-8', { fatal: true });
    const out: string[] = [];
    let odd = 0;
    for (let at = 0; at <= bytes.length;) {
      const end = bytes.indexOf(10, at);
      const line = bytes.subarray(at, end < 0 ? bytes.length : end);
      try {
        out.push(strict.decode(line));
      } catch {
        out.push(decodeWestern(line));
        odd++;
      }
      if (end < 0) break;
      at = end + 1;
    }
    return {
      text: out.join('\n'),
      note: `${odd === 1 ? 'One line is' : `${odd} lines are`} not in UTF-8 and ${odd === 1 ? 'was' : 'were'} read as Windows-1252; look at letters with accents.`,
    };
  }
}

/** The sign between the cells of a text: comma, semicolon, tab or bar. Empty lines are no evidence. */
export const guessDelimiter = (text: string): string =>
  Papa.parse<string[]>(text.slice(0, 200_000), {
    delimitersToGuess: [',', ';', '\t', '|'],
    skipEmptyLines: 'greedy',
    preview: 50,
  }).meta.delimiter;

/** One sheet of a delimited text. `what` names the file in words. Throws {@link UnreadableError} when it has too much. */
export function readCsv(name: string, text: string, notes: string[], what: string): Sheet {
  const plain = text.replace(/^\uFEFF/, '');
  const rows: string[][] = [];
  const lines: number[] = [];
  const count = new CellCount(what);
  const row: string[] = [];
  let filled = false;
  const open = scan(plain, guessDelimiter(plain), {
    cell(cell) {
      row.push(cell.startsWith("'") ? withoutApostrophe(cell) : cell);
      filled ||= cell !== '' && cell.trim() !== '';
      if (row.length > MAX_COLUMNS) count.tooWide(row.length);
    },
    line(number) {
      // Lines with nothing in them cost nothing, however many there are.
      if (filled) {
        count.add(row.length);
        // A copy has no room left over, which the row that grows has.
        rows.push(row.slice());
        lines.push(number);
      }
      row.length = 0;
      filled = false;
    },
  });
  if (open !== null)
    notes.push(`A quotation mark is opened near line ${open} and never closed; look at the rows after it.`);
  return checkedSheet({ name, rows, lines, notes }, what);
}
