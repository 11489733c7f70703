// @vitest-environment jsdom
import { expect, it } from 'vitest';
import { grown, heightsOf, holdPictures } from './slow.ts';

const page = (html: string): HTMLElement => {
  document.body.innerHTML = `<div class="page"><div class="k-scroll">${html}</div></div>`;
  return document.querySelector<HTMLElement>('.page')!;
};
const sources = (): (string | null)[] => [...document.images].map((i) => i.getAttribute('src'));
const high = (id: string, height: number): void => {
  const e = document.querySelector(`[data-e=${id}]`)!;
  Object.defineProperty(e, 'offsetHeight', { value: height, configurable: true });
};

it('pictures wait, those that come later too, until they are let go', async () => {
  const box = page('<img src="a.png"><img>');
  const come = holdPictures(box);
  const late = document.createElement('img');
  late.src = 'b.png';
  box.append(late);
  await Promise.resolve();
  expect(sources().filter((s) => s?.endsWith('.png'))).toEqual([]);
  come();
  expect(sources()).toEqual(['a.png', null, 'b.png']);
  late.src = 'c.png';
  await Promise.resolve();
  expect(sources()[2]).toBe('c.png');
});
it('what grows when its picture comes is found where it is innermost; a little is no matter', () => {
  const box = page('<div data-e="outer"><div data-e="picture"></div></div><p data-e="text"></p><p data-e="new"></p>');
  for (const [id, h] of [
    ['outer', 100],
    ['picture', 40],
    ['text', 20],
  ] as const)
    high(id, h);
  const before = heightsOf(box);
  for (const [id, h] of [
    ['outer', 180],
    ['picture', 120],
    ['text', 26],
  ] as const)
    high(id, h);
  expect(grown(box, before).map((f) => [f.element, f.kind, f.said])).toEqual([
    ['picture', 'jumps', 'It becomes 80 pixels higher when its picture comes, and moves what is below'],
  ]);
  high('picture', 20);
  high('outer', 80);
  expect(grown(box, before)[0]!.said).toContain('20 pixels lower');
});
