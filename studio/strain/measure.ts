import { contrastOf as ratioOf } from '../../core/app/contrast.ts';
import type { Fault } from '../../core/app/strain-mends.ts';

/** Something that does not hold under a strain, where it is. */
export interface Finding {
  /** The element of the app. */
  element: string;
  kind: Fault;
  said: string;
  /** Where on the page it is. */
  node: Element;
}

/** The least size of what is pressed, in pixels (WCAG 2.2, 2.5.5). */
const LEAST_TARGET = 44;

/** Looks through a drawn page. `scale` is how large a pixel of it is drawn; `zoom`, how large on the phone it stands for. */
export function measured(page: HTMLElement, scale: number, zoom = 1): Finding[] {
  const frame = page.getBoundingClientRect();
  const found = new Map<string, Finding>();
  const note = (at: Element, kind: Finding['kind'], said: string): void => {
    const node = at.closest<HTMLElement>('[data-e]');
    const element = node?.dataset['e'];
    if (node && element && !found.has(`${element} ${kind}`))
      found.set(`${element} ${kind}`, { element, kind, said, node });
  };
  for (const at of page.querySelectorAll<HTMLElement>('.k-scroll *')) {
    const rect = at.getBoundingClientRect();
    // What is only read aloud is a pixel large.
    if (rect.width < 2 * scale || rect.height < 2 * scale) continue;
    const style = getComputedStyle(at);
    const own = ownText(at);
    if (own) {
      if (at.scrollWidth > at.clientWidth + 1 && style.overflowX !== 'visible' && style.overflowX !== 'auto')
        note(at, 'cut off', `“${short(own)}” is cut off`);
      const word = at.clientWidth > 0 ? brokenWord(at, own, style) : null;
      if (word) note(at, 'broken', `“${short(word)}” does not fit its line and is broken`);
      const [ratio, least] = contrastOf(at, style);
      if (ratio !== null && ratio < least - 0.05)
        note(at, 'low contrast', `“${short(own)}” has a contrast of ${ratio.toFixed(1)}; ${least} are needed`);
    }
    const isOut = rect.right > frame.right + 1.5 * scale || rect.left < frame.left - 1.5 * scale;
    if (isOut && !isScrolledAcross(at, page))
      note(at, 'too wide', `${own ? `“${short(own)}”` : 'It'} reaches beyond the screen`);
    if (at.matches('button, input:not([type=checkbox]):not([type=radio]), select, [role=button], a[href]')) {
      // Seven days share the width, one beside the other: there is no more on a small phone.
      const onPhone = zoom / scale;
      const [w, h] = [at.matches('.k-days > *') ? LEAST_TARGET : rect.width * onPhone, rect.height * onPhone];
      if (Math.min(w, h) < LEAST_TARGET - 0.5 && !at.matches('.k-search input'))
        note(
          at,
          'small target',
          `${own ? `“${short(own)}”` : 'It'} is ${Math.round(w)} × ${Math.round(h)} to press; fingers need ${LEAST_TARGET}`,
        );
    }
  }
  for (const at of page.querySelectorAll<HTMLElement>('.k-scroll [data-e]')) {
    const over = reachesOut(at);
    if (over > 0) note(at, 'too high', `What stands in it reaches ${over} pixels out of its height`);
  }
  for (const row of page.querySelectorAll<HTMLElement>('.k-scroll .k-row:not(.k-row-waiting)'))
    // What stands for a missing picture says nothing of the record.
    if (!row.textContent!.trim() && !row.querySelector('img, svg:not(.k-no-picture > *), canvas, video'))
      note(row, 'blank', 'A record without values shows nothing');
  for (const box of page.querySelectorAll<HTMLElement>(".k-scroll .k-box[data-runs='layered']"))
    for (const { under, text } of coveredIn(box)) note(under, 'covered', `${text} lies under something else`);
  return [...found.values()];
}

/** It stands in something that people move to the side: a strip, a board, many tabs. */
function isScrolledAcross(at: Element, page: Element): boolean {
  for (let e = at.parentElement; e && e !== page && !e.matches('.k-scroll'); e = e.parentElement)
    if (/auto|scroll/.test(getComputedStyle(e).overflowX)) return true;
  return false;
}

/** So much may stick out, in pixels: the feet of letters. */
const FEET = 6;

/** How far the content of an element whose height is set reaches out of it, in its own pixels; 0 where it does not. */
function reachesOut(at: HTMLElement): number {
  if (!at.style.height.endsWith('px') && !at.style.maxHeight.endsWith('px')) return 0;
  const { overflowY } = getComputedStyle(at);
  if (overflowY === 'auto' || overflowY === 'scroll') return 0;
  const over = at.scrollHeight - at.clientHeight;
  return over > FEET ? over : 0;
}

/** Texts and controls of a layered box that lie under what another layer shows. */
function coveredIn(box: HTMLElement): { under: HTMLElement; text: string }[] {
  const layers = [...box.children].map((layer) => things(layer as HTMLElement));
  return layers.flatMap((layer, i) =>
    layer.flatMap(({ node, text, rect, isGround }) => {
      if (isGround) return [];
      const over = layers.slice(i + 1).flat();
      const isUnder = over.some((o) => shared(rect, o.rect) > 0.25 * rect.width * rect.height);
      return isUnder ? [{ under: node, text }] : [];
    }),
  );
}

interface Thing {
  node: HTMLElement;
  text: string;
  rect: DOMRect;
  /** It only has a colour or picture: it covers, but nothing is lost when it is covered. */
  isGround: boolean;
}

/** What of a layer is seen: texts, controls, pictures and grounds. */
function things(layer: HTMLElement): Thing[] {
  return [layer, ...layer.querySelectorAll<HTMLElement>('*')].flatMap((node): Thing[] => {
    const rect = node.getBoundingClientRect();
    if (rect.width === 0 || rect.height === 0) return [];
    const own = ownText(node);
    if (own) return [{ node, text: `“${short(own)}”`, rect: textRect(node), isGround: false }];
    if (node.matches('input, select, textarea, button, [role=button]'))
      return [{ node, text: 'What is pressed here', rect, isGround: false }];
    const ground = colourOf(getComputedStyle(node).backgroundColor)?.[3] === 1;
    return ground || node.matches('img, svg, canvas, video') ? [{ node, text: '', rect, isGround: true }] : [];
  });
}

/** Where the letters of an element are, which may have more room than they fill. */
function textRect(node: HTMLElement): DOMRect {
  const range = document.createRange();
  range.selectNodeContents(node);
  return range.getBoundingClientRect();
}

const shared = (a: DOMRect, b: DOMRect): number =>
  Math.max(0, Math.min(a.right, b.right) - Math.max(a.left, b.left)) *
  Math.max(0, Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top));

const short = (text: string): string => (text.length > 32 ? `${text.slice(0, 31)}…` : text);

/** The room that an element has for its text. */
const innerWidth = (at: Element, style: CSSStyleDeclaration): number =>
  at.clientWidth - Number.parseFloat(style.paddingLeft) - Number.parseFloat(style.paddingRight);

let ruler: CanvasRenderingContext2D | null = null;

/** A word that is wider than its line, and is broken there; null when all fit. */
function brokenWord(at: Element, text: string, style: CSSStyleDeclaration): string | null {
  ruler ??= document.createElement('canvas').getContext('2d');
  if (!ruler) return null;
  ruler.font = `${style.fontWeight} ${style.fontSize} ${style.fontFamily}`;
  const room = innerWidth(at, style);
  // Addresses have no words; they are broken where the line ends.
  const words = text.split(/[\s-]+/).filter((w) => !/[@/]/.test(w));
  return words.find((w) => ruler!.measureText(w).width > room + 1 && linesOf(at, w) > 1) ?? null;
}

/** On how many lines a word of an element stands. */
function linesOf(at: Element, word: string): number {
  const node = [...at.childNodes].find((n) => n.nodeType === Node.TEXT_NODE && n.textContent!.includes(word));
  if (!node) return 0;
  const range = document.createRange();
  const from = node.textContent!.indexOf(word);
  range.setStart(node, from);
  range.setEnd(node, from + word.length);
  return new Set(Array.from(range.getClientRects(), (r) => Math.round(r.top))).size;
}

/** The text that stands in an element itself, not in those inside it. */
function ownText(at: Element): string {
  let text = '';
  for (const n of at.childNodes) if (n.nodeType === Node.TEXT_NODE) text += n.textContent ?? '';
  return text.trim();
}

/** How far a text stands out from its ground, and how far it should (WCAG 2.2, 1.4.3); null where that is not known. */
function contrastOf(at: Element, style: CSSStyleDeclaration): [ratio: number | null, least: number] {
  const size = Number.parseFloat(style.fontSize);
  const least = size >= 24 || (size >= 18.66 && Number(style.fontWeight) >= 700) ? 3 : 4.5;
  const ink = colourOf(style.color);
  let ground: number[] | null = null;
  for (let e: Element | null = at; e && !ground; e = e.parentElement) {
    const s = getComputedStyle(e);
    if (s.backgroundImage !== 'none') return [null, least];
    const colour = colourOf(s.backgroundColor);
    if (colour && colour[3] === 1) ground = colour;
    else if (colour && colour[3]! > 0) return [null, least];
  }
  if (!ink || ink[3] !== 1 || !ground) return [null, least];
  return [ratioOf(ink, ground), least];
}

function colourOf(css: string): number[] | null {
  const m = /^rgba?\(([\d.]+),\s*([\d.]+),\s*([\d.]+)(?:,\s*([\d.]+))?\)$/.exec(css);
  return m ? [Number(m[1]), Number(m[2]), Number(m[3]), m[4] === undefined ? 1 : Number(m[4])] : null;
}
