import { create, type Font } from 'fontkit';
import pdfmake from 'pdfmake/build/pdfmake.js';
import faces from 'pdfmake/build/vfs_fonts.js';
import type { Content, TDocumentDefinitions, TableCell } from 'pdfmake/interfaces.js';
import { fromBase64 } from '../../document/base64.ts';
import { richPieces, tooRich, type RichPiece } from '../../document/rich-words.ts';
import type { MadePage } from '../../routines/made.ts';

type Node = RichPiece;

/** Space around what is printed, and the colours of ink and lines. */
const EDGE = 48;
const [INK, SOFT, LINE] = ['#1d2326', '#5b6468', '#c9d0d2'];

/** Points: the size of words in a table, and the room between its columns. */
const [SIZE, BETWEEN] = [10.5, 16];
/** Width and height of A4 in points. */
const A4 = [595.28, 841.89] as const;

let read: Font | null = null;
/** The type that pages are printed in; its bold face is a little wider. */
const face = (): Font => (read ??= create(fromBase64(faces['Roboto-Medium.ttf']!) as Buffer) as Font);

/** The letters in some words that the type has no picture of, each once. */
const unknownLetters = (words: string): string[] =>
  [...new Set(words)].filter((c) => c > ' ' && !face().hasGlyphForCodePoint(c.codePointAt(0)!));

/** How wide words are, in points. */
const widthOf = (words: string): number => (face().layout(words).advanceWidth / face().unitsPerEm) * SIZE;

/**
 * How wide the columns of a table are, in points, all together no wider than this: each as its widest cell, or where
 * there is no room for that a share by it, and never less than a few letters.
 */
function columnWidths(cells: readonly (readonly string[])[], room: number): number[] {
  const count = cells[0]!.length;
  const widest = cells[0]!.map((_, i) => {
    // The longest few are enough: of many cells the widest is among them.
    const long = [...new Set(cells.map((line) => line[i] ?? ''))].sort((a, b) => b.length - a.length).slice(0, 12);
    return Math.max(...long.map((t) => Math.max(...t.split('\n').map(widthOf)))) + 1;
  });
  const all = widest.reduce((a, b) => a + b, 0);
  if (all <= room) return widest.map((w) => w + ((room - all) * w) / all);
  // Wide columns give way first: the room is shared by roots, so that one long text does not press the others.
  const least = Math.min(40, room / count);
  let left = room;
  const open = new Set(widest.keys());
  const widths = widest.map(() => 0);
  for (let settled = false; !settled;) {
    settled = true;
    const roots = [...open].reduce((sum, i) => sum + Math.sqrt(widest[i]!), 0);
    for (const i of open) {
      const share = (left * Math.sqrt(widest[i]!)) / roots;
      const bound = widest[i]! < share ? widest[i]! : share < least ? least : null;
      if (bound === null) {
        widths[i] = share;
        continue;
      }
      widths[i] = bound;
      left -= bound;
      open.delete(i);
      settled = open.size === 0;
      break;
    }
  }
  return widths;
}

/** Letters that one cell may hold, that a whole page may, and that a drawing may be written in. */
const MOST = { cell: 20_000, all: 2_000_000, drawing: 400_000 } as const;
const count = (n: number): string => n.toLocaleString('en-GB');

/** Throws in words for what would take a phone minutes to set, or all of its memory. */
function mustBePrintable({ before, after, table }: MadePage, picture: { data: string } | { svg: string } | null): void {
  for (const words of [before, after]) {
    const why = tooRich(words);
    if (why) throw new Error(`The words of the PDF cannot be set: ${why}.`);
  }
  const cells = table ? [table.head, ...table.lines].flat() : [];
  const longest = cells.reduce((most, c) => Math.max(most, c.length), 0);
  if (longest > MOST.cell)
    throw new Error(`A cell of the PDF has ${count(longest)} letters; ${count(MOST.cell)} can be printed.`);
  const all = cells.reduce((sum, c) => sum + c.length, 0);
  if (all > MOST.all)
    throw new Error(`The table of the PDF has ${count(all)} letters; ${count(MOST.all)} can be printed.`);
  if (picture && 'svg' in picture && picture.svg.length > MOST.drawing)
    throw new Error('The drawing is too large for a PDF. Save it as a PNG, then choose that.');
}

/**
 * A page as PDF, its table with its head again on each page. `picture` is the content behind the page's picture as a
 * data address, or the text of a drawing (SVG). Throws in words when letters cannot be printed.
 */
export async function pdfBytes(
  page: MadePage,
  picture: { data: string } | { svg: string } | null,
): Promise<Uint8Array> {
  const { before, after, table } = page;
  mustBePrintable(page, picture);
  const missing = unknownLetters([before, after, ...(table ? [table.head, ...table.lines].flat() : [])].join(''));
  if (missing.length)
    throw new Error(
      `The PDF cannot hold ${missing
        .slice(0, 8)
        .map((c) => `“${c}”`)
        .join(', ')}: its type has no such letters.`,
    );
  const content: Content[] = [
    ...(picture ? [pictureOf(picture)] : []),
    ...richPieces(before).map(block),
    ...(table ? [tableOf(table, A4[page.turned ? 1 : 0] - 2 * EDGE)] : []),
    ...richPieces(after).map(block),
  ];
  const doc: TDocumentDefinitions = {
    pageSize: 'A4',
    pageOrientation: page.turned ? 'landscape' : 'portrait',
    pageMargins: EDGE,
    content,
    defaultStyle: { font: 'Roboto', fontSize: SIZE, lineHeight: 1.25, color: INK },
    footer: (now, all) =>
      all > 1
        ? { text: `${now} / ${all}`, alignment: 'center', color: SOFT, fontSize: 9, margin: [0, 12, 0, 0] }
        : null,
  };
  pdfmake.addVirtualFileSystem(faces);
  // Everything it needs is in the page itself: nothing is fetched and nothing is read.
  pdfmake.setUrlAccessPolicy(() => false);
  return new Uint8Array(await pdfmake.createPdf(doc).getBuffer());
}

const pictureOf = (p: { data: string } | { svg: string }): Content => ({
  ...('svg' in p ? { svg: p.svg } : { image: p.data }),
  fit: [160, 90],
  margin: [0, 0, 0, 12],
});

function tableOf({ head, figures, lines, sums }: NonNullable<MadePage['table']>, room: number): Content {
  const cell = (text: string, i: number, more: object = {}): TableCell => ({
    text,
    alignment: figures[i] ? 'right' : 'left',
    ...more,
  });
  return {
    margin: [0, 6, 0, 12],
    table: {
      headerRows: 1,
      dontBreakRows: true,
      widths: columnWidths([head, ...lines, ...(sums ? [sums] : [])], room - BETWEEN * (head.length - 1)),
      body: [
        head.map((t, i) => cell(t, i, { bold: true, color: SOFT })),
        ...lines.map((l) => l.map((t, i) => cell(t, i))),
        ...(sums ? [sums.map((t, i) => cell(i === 0 && !t ? 'Sum' : t, i, { bold: true }))] : []),
      ],
    },
    layout: {
      hLineWidth: (i, node) => (i === 0 || i === node.table.body.length ? 0 : i === 1 ? 1 : 0.5),
      vLineWidth: () => 0,
      hLineColor: () => LINE,
      paddingLeft: (i) => (i === 0 ? 0 : BETWEEN / 2),
      paddingRight: (i, node) => (i === node.table.widths!.length - 1 ? 0 : BETWEEN / 2),
      paddingTop: () => 4,
      paddingBottom: () => 3,
    },
  };
}

const HEADINGS = [20, 15, 12];

/** A piece of CommonMark as it is printed. What is none of words, such as HTML, stands as it was typed. */
function block(n: Node): Content {
  switch (n.type) {
    case 'heading':
      return {
        text: inline(n.children),
        fontSize: HEADINGS[Math.min(n.depth, 3) - 1]!,
        bold: true,
        margin: [0, 4, 0, 6],
      };
    case 'paragraph':
      return { text: inline(n.children), margin: [0, 0, 0, 8] };
    case 'list': {
      const items = n.children.map((item) => ({ stack: item.children.map(block) }));
      return n.ordered ? { ol: items, start: n.start ?? 1 } : { ul: items };
    }
    case 'blockquote':
      return { stack: n.children.map(block), margin: [14, 0, 0, 0], color: SOFT };
    case 'thematicBreak':
      return {
        canvas: [{ type: 'line', x1: 0, y1: 0, x2: 200, y2: 0, lineWidth: 0.5, lineColor: LINE }],
        margin: [0, 4, 0, 10],
      };
    case 'code':
    case 'html':
      return { text: n.value, margin: [0, 0, 0, 8], preserveLeadingSpaces: true };
    default:
      return '';
  }
}

type Piece = Extract<Content, { text: unknown }>;

function inline(nodes: readonly Node[], look: object = {}): Piece[] {
  return nodes.flatMap((n): Piece[] => {
    switch (n.type) {
      case 'strong':
        return inline(n.children, { ...look, bold: true });
      case 'emphasis':
        return inline(n.children, { ...look, italics: true });
      case 'link':
        return /^(https?:|mailto:|tel:)/i.test(n.url)
          ? inline(n.children, { ...look, link: n.url, decoration: 'underline' })
          : inline(n.children, look);
      case 'break':
        return [{ text: '\n' }];
      case 'text':
      case 'html':
      case 'inlineCode':
        return [{ text: n.value, ...look }];
      case 'image':
        return [{ text: n.alt ?? '', ...look }];
      default:
        return [];
    }
  });
}
