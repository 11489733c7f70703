import { unzipSync } from 'fflate';
import { builtInFormat, readFormat, type NumberFormat } from './number-format.ts';
import { readXml, unescaped } from './xml.ts';

/** A workbook taken apart: what its sheets refer to, and where each of them lies (ECMA-376, part 1, 12 and 18). */
export interface Book {
  parts: Record<string, Uint8Array>;
  /** In the order of the book. */
  sheets: { name: string; path: string; visible: boolean }[];
  texts: string[];
  formats: NumberFormat[];
  /** 1462 where days are counted from 1904. */
  epoch: number;
}

/** Where the relations of a part lead, by their ids. */
export interface Relation {
  target: string;
  type: string;
  external: boolean;
}

/** A path inside the package, from one part to another. */
function resolved(from: string, target: string): string {
  if (target.startsWith('/')) return target.slice(1);
  const path = from.split('/').slice(0, -1);
  for (const step of target.split('/'))
    if (step === '..') path.pop();
    else if (step !== '.') path.push(step);
  return path.join('/');
}

export function relationsOf(parts: Record<string, Uint8Array>, path: string): Map<string, Relation> {
  const found = new Map<string, Relation>();
  const bytes = parts[path.replace(/([^/]+)$/, '_rels/$1.rels')];
  if (!bytes) return found;
  readXml(bytes, {
    open(name, a) {
      if (name !== 'Relationship') return;
      const external = a['TargetMode'] === 'External';
      const target = a['Target'] ?? '';
      found.set(a['Id'] ?? '', {
        target: external ? target : resolved(path, target),
        type: (a['Type'] ?? '').split('/').at(-1)!,
        external,
      });
    },
  });
  return found;
}

/** Opens a workbook. Throws when it is none. */
export function openBook(bytes: Uint8Array): Book {
  // Pictures and charts are not looked at.
  const parts = unzipSync(bytes, { filter: (f) => /\.(xml|rels)$/i.test(f.name) });
  const root = [...relationsOf(parts, '').values()].find((r) => r.type === 'officeDocument');
  const path = root?.target ?? 'xl/workbook.xml';
  const main = parts[path];
  if (!main) throw new Error('There is no workbook in it.');
  const relations = relationsOf(parts, path);
  const book: Book = { parts, sheets: [], texts: [], formats: [], epoch: 0 };
  readXml(main, {
    open(name, a) {
      if (name === 'workbookPr') book.epoch = /^(1|true)$/.test(a['date1904'] ?? '') ? 1462 : 0;
      if (name !== 'sheet') return;
      const relation = relations.get(a['id'] ?? '');
      if (relation?.type === 'worksheet' && parts[relation.target])
        book.sheets.push({
          name: a['name'] ?? '',
          path: relation.target,
          visible: (a['state'] ?? 'visible') === 'visible',
        });
    },
  });
  for (const { type, target } of relations.values()) {
    const part = parts[target];
    if (part && type === 'sharedStrings') book.texts = readTexts(part);
    if (part && type === 'styles') book.formats = readStyles(part);
  }
  return book;
}

function readTexts(bytes: Uint8Array): string[] {
  const texts: string[] = [];
  let text: string | null = null;
  let inside = false;
  let spoken = false;
  readXml(bytes, {
    open(name) {
      if (name === 'si') text = '';
      else if (name === 'rPh') spoken = true;
      else if (name === 't') inside = !spoken;
    },
    close(name) {
      if (name === 'si') {
        texts.push(unescaped(text ?? ''));
        text = null;
      } else if (name === 'rPh') spoken = false;
      else if (name === 't') inside = false;
    },
    text(t) {
      if (inside && text !== null) text += t;
    },
  });
  return texts;
}

function readStyles(bytes: Uint8Array): NumberFormat[] {
  const codes = new Map<number, string>();
  const ids: number[] = [];
  let inCells = false;
  readXml(bytes, {
    open(name, a) {
      if (name === 'numFmt') codes.set(Number(a['numFmtId']), a['formatCode'] ?? '');
      else if (name === 'cellXfs') inCells = true;
      else if (name === 'xf' && inCells) ids.push(Number(a['numFmtId'] ?? 0));
    },
    close(name) {
      if (name === 'cellXfs') inCells = false;
    },
  });
  return ids.map((id) => {
    const code = codes.get(id);
    return code === undefined ? builtInFormat(id) : readFormat(code);
  });
}
