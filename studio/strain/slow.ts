import type { Finding } from './measure.ts';

/** What a picture is while nothing of it has come: without a size. */
const NOTHING_YET = 'data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg" width="0" height="0"/>';

/** Keeps the pictures of a page from coming, as a slow network does, until what it gives is called. */
export function holdPictures(box: HTMLElement): () => void {
  const held = new Map<HTMLImageElement, string>();
  const hold = (): void => {
    for (const picture of box.querySelectorAll('img')) {
      const src = picture.getAttribute('src');
      if (!src || src === NOTHING_YET) continue;
      held.set(picture, src);
      picture.setAttribute('src', NOTHING_YET);
    }
  };
  hold();
  const watch = new MutationObserver(hold);
  watch.observe(box, { childList: true, subtree: true, attributes: true, attributeFilter: ['src'] });
  return () => {
    watch.disconnect();
    for (const [picture, src] of held) if (picture.isConnected) picture.setAttribute('src', src);
  };
}

/** How high the elements of a page are. */
export const heightsOf = (page: HTMLElement): Map<HTMLElement, number> =>
  new Map([...page.querySelectorAll<HTMLElement>('.k-scroll [data-e]')].map((e) => [e, e.offsetHeight]));

/** So far, in pixels, what people look at may move without their losing it. */
const LITTLE = 8;

/** The innermost elements that have grown or shrunk since, and so have moved what stands below. */
export function grown(page: HTMLElement, before: ReadonlyMap<HTMLElement, number>): Finding[] {
  const by = new Map<HTMLElement, number>();
  for (const [e, height] of heightsOf(page)) {
    const was = before.get(e);
    if (was !== undefined && Math.abs(height - was) > LITTLE) by.set(e, height - was);
  }
  const inner = [...by].filter(([e]) => ![...by.keys()].some((other) => other !== e && e.contains(other)));
  const found = new Map<string, Finding>();
  for (const [node, more] of inner) {
    const element = node.dataset['e']!;
    const said = `It becomes ${Math.abs(more)} pixels ${more > 0 ? 'higher' : 'lower'} when its picture comes, and moves what is below`;
    if (!found.has(element)) found.set(element, { element, kind: 'jumps', said, node });
  }
  return [...found.values()];
}
