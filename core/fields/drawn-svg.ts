/** So many elements a drawing may come to, once everything it uses again is drawn. */
const MOST_DRAWN = 100_000;
/** Elements in one another, and uses of uses, go no deeper. */
const MOST_DEEP = 400;

/** What a drawing holds under one id, or of no id. */
interface Held {
  /** Elements that are here by themselves. */
  own: number;
  /** Ids of what else is drawn: within it, or used by it. */
  draws: string[];
}

/** What uses another part of the drawing again (SVG 2, chapters 5, 11 to 15). A link to one only leads there. */
const USES = /^(use|pattern|.*gradient|image|feimage|textpath|mpath)$/;
const REFERENCE = /(?:^|\s)(?:xlink:)?href\s*=\s*["']\s*#([^"']+)["']/;
const PAINTS = /url\(\s*["']?#([^"')]+)["']?\s*\)/g;

/** The tags of a text of XML: what stands between angle brackets, quoted ones apart. Comments and the like are left out. */
function* tags(xml: string): Generator<string> {
  for (let at = xml.indexOf('<'); at >= 0; at = xml.indexOf('<', at)) {
    const skipped = [
      ['<!--', '-->'],
      ['<![CDATA[', ']]>'],
    ].find(([begin]) => xml.startsWith(begin!, at));
    if (skipped) {
      const end = xml.indexOf(skipped[1]!, at + 4);
      if (end < 0) return;
      at = end;
      continue;
    }
    let quote = '';
    let end = at + 1;
    for (; end < xml.length; end++) {
      const c = xml[end]!;
      if (quote) {
        if (c === quote) quote = '';
      } else if (c === '"' || c === "'") quote = c;
      else if (c === '>') break;
    }
    yield xml.slice(at + 1, end);
    at = end;
  }
}

/**
 * Would drawing this SVG take a phone very long? A few bytes that use one another again and again come to any number of
 * elements. What styles in a sheet of the drawing refer to is not followed.
 */
export function drawsTooMuch(svg: string): boolean {
  // Words that stand for markup could hold anything; words for a name, as old programs write them, are harmless.
  if (/<!ENTITY[^>]*[<&]/.test(svg.slice(0, 100_000))) return true;
  const held = new Map<string, Held>([['', { own: 0, draws: [] }]]);
  const open: string[] = [''];
  for (const tag of tags(svg)) {
    if (/^[!?]/.test(tag)) continue;
    if (tag.startsWith('/')) {
      if (open.length > 1) open.pop();
      continue;
    }
    const id = /\sid\s*=\s*["']([^"']+)["']/.exec(tag)?.[1];
    const outer = held.get(open.at(-1)!)!;
    let here = outer;
    if (id !== undefined) {
      outer.draws.push(id);
      here = held.get(id) ?? { own: 0, draws: [] };
      held.set(id, here);
    }
    here.own++;
    const name = (/^[^\s/]+/.exec(tag)?.[0] ?? '').toLowerCase().replace(/^.*:/, '');
    const used = USES.test(name) ? REFERENCE.exec(tag)?.[1] : undefined;
    if (used !== undefined) here.draws.push(used);
    for (const [, painted] of tag.matchAll(PAINTS)) here.draws.push(painted!);
    if (!tag.endsWith('/')) open.push(id ?? open.at(-1)!);
    if (open.length > MOST_DEEP) return true;
  }
  return drawn(held) > MOST_DRAWN;
}

/** How many elements it all comes to; without end for what goes too deep, or round in a circle. */
function drawn(held: ReadonlyMap<string, Held>): number {
  const known = new Map<string, number>();
  const count = (id: string, deep: number): number => {
    const there = known.get(id);
    if (there !== undefined) return there;
    const one = held.get(id);
    if (!one) return 0;
    if (deep > MOST_DEEP) return Infinity;
    known.set(id, Infinity);
    const all = one.draws.reduce((sum, d) => sum + count(d, deep + 1), one.own);
    known.set(id, all);
    return all;
  };
  return count('', 0);
}

/** The text of a drawing in a data address (RFC 2397); null for any other address, or what cannot be read. */
export function drawingIn(address: string): string | null {
  const [, kind, content] = /^data:image\/svg\+xml([^,]*),(.*)$/is.exec(address) ?? [];
  if (content === undefined) return null;
  try {
    if (!/;\s*base64\s*$/i.test(kind!)) return decodeURIComponent(content);
    const bytes = Uint8Array.from(atob(decodeURIComponent(content).replace(/\s/g, '')), (c) => c.charCodeAt(0));
    return new TextDecoder().decode(bytes);
  } catch {
    return null;
  }
}
