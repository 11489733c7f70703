import { joinPieces, pieces } from '../records/words.ts';
import { untitled } from '../document/names.ts';
import type { Table } from '../tables/schema.ts';
import type { ElementMaker } from './make.ts';
import type { BoxElement, Element } from './schema.ts';

type TextElement = Extract<Element, { kind: 'text' }>;

/**
 * Which values stand where in the row of a list, as formulas; empty for nothing. A place with words of its own, which is
 * not made of values alone, is null: it is changed where those words are.
 */
export interface RowDesign {
  picture: string;
  title: string | null;
  below: string[] | null;
  end: string | null;
}

/** Between the values of the second line. */
const BETWEEN = ' · ';

/** The parts of a row that is made as rows are: a picture, a title with a line below it, a value at the end. */
interface Parts {
  row: BoxElement;
  words: BoxElement;
  picture: Extract<Element, { kind: 'picture' }> | undefined;
  title: TextElement;
  below: TextElement | undefined;
  end: TextElement | undefined;
  /** At its end stands a box, with whatever is in it. */
  endsOtherwise: boolean;
}

function partsOf(children: readonly Element[]): Parts | null {
  const [row, ...others] = children;
  if (row?.kind !== 'box' || row.runs !== 'across' || others.length) return null;
  const at = row.children.findIndex((e) => e.kind === 'box' && e.runs === 'down');
  const words = row.children[at] as BoxElement | undefined;
  const [title, below] = words?.children ?? [];
  if (!words || title?.kind !== 'text') return null;
  const first = row.children[0];
  const end = row.children.slice(at + 1).find((e) => e.kind === 'text');
  return {
    row,
    words,
    picture: first?.kind === 'picture' ? first : undefined,
    title,
    below: below?.kind === 'text' ? below : undefined,
    end: end?.kind === 'text' ? end : undefined,
    endsOtherwise: !end && row.children.slice(at + 1).some((e) => e.kind === 'box'),
  };
}

/** The values of words that are made of values and dots between them; null for other words. */
function valuesOf(words: string): string[] | null {
  const all = pieces(words);
  const values = all.flatMap((p) => ('words' in p ? [] : [p]));
  const rest = all.flatMap((p) => ('words' in p ? [p.words] : []));
  return rest.every((w) => w === BETWEEN) && values.every((v) => !v.spoken && !v.missing)
    ? values.map((v) => v.formula)
    : null;
}
/** The one value of words; a title may say what stands there while it is missing. */
function valueOf(words: string, isTitle = false): string | null {
  const all = pieces(words);
  const [p] = all;
  if (!p) return '';
  return all.length > 1 || 'words' in p || p.spoken || (p.missing && !isTitle) ? null : p.formula;
}
const missingOf = (words: string): string | undefined => {
  const [p] = pieces(words);
  return p && 'formula' in p ? p.missing : undefined;
};

/** The design of a list's row; null for a row that is put together in another way. */
export function designOf(children: readonly Element[]): RowDesign | null {
  const parts = partsOf(children);
  if (!parts) return null;
  const { picture, title, below, end, endsOtherwise } = parts;
  return {
    picture: picture?.source ?? '',
    title: valueOf(title.words, true),
    below: below ? valuesOf(below.words) : [],
    end: end ? valueOf(end.words) : endsOtherwise ? null : '',
  };
}

const said = (formula: string, missing?: string): string => joinPieces([{ formula, ...(missing && { missing }) }]);

/** Changes a row, as a draft, to show other values; what else stands in it stays. */
export function design(children: Element[], change: Partial<RowDesign>, table: Table, make: ElementMaker): void {
  const parts = partsOf(children);
  if (!parts) return;
  const { row, words, picture, title, below, end } = parts;
  const without = (box: BoxElement, e: Element | undefined): void => {
    box.children = box.children.filter((x) => x !== e);
  };
  if (change.picture !== undefined) {
    if (!change.picture) without(row, picture);
    else if (picture) picture.source = change.picture;
    else row.children.unshift(make.picture(change.picture, 'square', { width: 44, height: 44 }));
  }
  if (typeof change.title === 'string')
    title.words = change.title ? said(change.title, missingOf(title.words) ?? untitled(table.one)) : '';
  if (change.below) {
    const line = change.below.map((f) => said(f)).join(BETWEEN);
    if (!line) without(words, below);
    else if (below) below.words = line;
    else words.children.splice(1, 0, make.text(line, 'small', { colour: 'soft' }));
  }
  if (typeof change.end === 'string') {
    if (!change.end) without(row, end);
    else if (end) end.words = said(change.end);
    else {
      const at = row.children.indexOf(words) + 1;
      row.children.splice(at, 0, make.text(said(change.end), 'strong', { colour: 'accent', align: 'end' }));
    }
  }
}
