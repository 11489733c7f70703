/**
 * A piece of a template: words as they stand, or the formula of a `{…}` place, how its value is told, and what stands
 * there when it is missing.
 */
export type Piece = { words: string } | Placed;
export interface Placed {
  formula: string;
  spoken?: string;
  missing?: string;
}

/** Divides words into plain pieces and `{formula}` places. `{{` stands for one brace; an open brace without end is plain. */
export function pieces(template: string): Piece[] {
  const out: Piece[] = [];
  let words = '';
  for (let i = 0; i < template.length; i++) {
    const c = template[i]!;
    if (c === '{' && template[i + 1] === '{') {
      words += '{';
      i++;
      continue;
    }
    const end = c === '{' ? placeEnd(template, i) : -1;
    if (end < 0) {
      words += c;
      continue;
    }
    if (words) out.push({ words });
    words = '';
    out.push(placed(template.slice(i + 1, end)));
    i = end;
  }
  if (words) out.push({ words });
  return out;
}

/** Names that were typed between braces and are words all the same: “{Wieght}”, shown on the phone as it was typed. */
export const typedBraces = (template: string): string[] =>
  pieces(template).flatMap((p) => ('words' in p ? [...p.words.matchAll(/\{[^{}\n]{1,60}\}/g)].map((m) => m[0]) : []));

/** What stands between the braces: a formula, then behind bars how it is told and, in quotes, what stands for nothing. */
export function placed(inside: string): Placed {
  const bars = [...inside.matchAll(/"(?:\\.|[^"\\])*"|\|/g)].flatMap((m) => (m[0] === '|' ? [m.index] : []));
  const part = (n: number): string => inside.slice(n ? bars[n - 1]! + 1 : 0, bars[n] ?? inside.length).trim();
  const rest = bars.map((_, n) => part(n + 1));
  const spoken = rest.find((r) => r && !r.startsWith('"'));
  const missing = rest.find((r) => r.startsWith('"'));
  return {
    formula: part(0),
    ...(spoken && { spoken }),
    ...(missing !== undefined && { missing: unquoted(missing) }),
  };
}

function unquoted(text: string): string {
  try {
    return String(JSON.parse(text));
  } catch {
    return text.slice(1, -1);
  }
}

/** The other way: what stands between the braces of a place. */
export const insideOf = ({ formula, spoken, missing }: Placed): string =>
  [formula, ...(spoken ? [spoken] : []), ...(missing ? [JSON.stringify(missing)] : [])].join(' | ');

function placeEnd(text: string, start: number): number {
  let depth = 0;
  for (let i = start; i < text.length; i++) {
    const c = text[i];
    if (c === '"') {
      for (i++; i < text.length && text[i] !== '"'; i++) if (text[i] === '\\') i++;
    } else if (c === '{') depth++;
    else if (c === '}' && --depth === 0) return i;
  }
  return -1;
}

/** A name, or a sentence with one in it, as words that say just that: a brace in it begins no place. */
export const asWords = (text: string): string => text.replace(/\{/g, '{{');

export const joinPieces = (list: readonly Piece[]): string =>
  list.map((p) => ('words' in p ? asWords(p.words) : `{${insideOf(p)}}`)).join('');
