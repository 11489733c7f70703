// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { measured } from './measure.ts';

/** jsdom lays nothing out: where things are stands in `data-at`, as left, top, width and height. */
beforeEach(() => {
  const rectOf = (e: Element | null): DOMRect => {
    const [x = 0, y = 0, w = 0, h = 0] = (e?.getAttribute('data-at') ?? '').split(' ').map(Number);
    return new DOMRect(x, y, w, h);
  };
  vi.spyOn(Element.prototype, 'getBoundingClientRect').mockImplementation(function (this: Element) {
    return rectOf(this);
  });
  Range.prototype.getBoundingClientRect = function (this: Range) {
    return rectOf(this.startContainer as Element);
  };
  globalThis.DOMRect ??= class {
    constructor(
      readonly x: number,
      readonly y: number,
      readonly width: number,
      readonly height: number,
    ) {}
    get left() {
      return this.x;
    }
    get top() {
      return this.y;
    }
    get right() {
      return this.x + this.width;
    }
    get bottom() {
      return this.y + this.height;
    }
  } as never;
});
function found(html: string, scale = 1, zoom = 1): string[] {
  document.body.innerHTML = `<div class="k-app" data-at="0 0 390 800"><div class="k-scroll">${html}</div></div>`;
  return measured(document.querySelector('.k-app')!, scale, zoom).map((f) => `${f.element}: ${f.kind}`);
}

describe('what is measured on a page', () => {
  it('reaches beyond the screen, unless people move it to the side', () => {
    const wide = '<p data-e="a" data-at="300 0 200 20">Long</p>';
    expect(found(wide)).toEqual(['a: too wide']);
    expect(found(`<div style="overflow-x: auto">${wide}</div>`)).toEqual([]);
    expect(found(`<div style="overflow-x: hidden">${wide}</div>`)).toEqual(['a: too wide']);
  });
  it('is too small for fingers, as large as it is drawn', () => {
    const button = '<button data-e="b" data-at="0 0 30 44">Go</button>';
    expect(found(button)).toEqual(['b: small target']);
    expect(found('<button data-e="b" data-at="0 0 15 22">Go</button>', 0.5)).toEqual(['b: small target']);
    expect(found('<button data-e="b" data-at="0 0 22 22">Go</button>', 0.5)).toEqual([]);
    // Set twice as large, fingers find it.
    const half = '<button data-e="b" data-at="0 0 24 24">Go</button>';
    expect([found(half), found(half, 1, 2)]).toEqual([['b: small target'], []]);
  });
  it('is a word that does not fit its line and goes on in the next, unless it is an address', () => {
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue({
      measureText: (w: string) => ({ width: w.length * 10 }),
    } as never);
    vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(60);
    let lines = 2;
    Range.prototype.getClientRects = () =>
      Array.from({ length: lines }, (_, i) => ({ top: i * 20 })) as unknown as DOMRectList;
    const text = (words: string): string => `<p data-e="w" style="padding: 0" data-at="0 0 60 40">${words}</p>`;
    expect(found(text('a collected swarm'))).toEqual(['w: broken']);
    expect(found(text('ab cd-ef gh'))).toEqual([]);
    expect(found(text('somebody@post.example'))).toEqual([]);
    // Its letters stand closer than they were measured.
    lines = 1;
    expect(found(text('a collected swarm'))).toEqual([]);
    vi.restoreAllMocks();
  });
  it('is nothing of what is only read aloud', () => {
    expect(found('<label data-e="c" data-at="900 0 1 1">Search</label>')).toEqual([]);
  });
  it('reaches out of the height that is set for it, unless it is scrolled', () => {
    const set = (style: string): string[] => {
      document.body.innerHTML = `<div class="k-app" data-at="0 0 390 800"><div class="k-scroll"><div data-e="d" style="${style}" data-at="0 0 100 20"></div></div></div>`;
      const box = document.querySelector('[data-e=d]')!;
      Object.defineProperty(box, 'scrollHeight', { value: 60 });
      Object.defineProperty(box, 'clientHeight', { value: 20 });
      return measured(document.querySelector('.k-app')!, 1).map((f) => f.said);
    };
    expect(set('height: 20px')).toEqual(['What stands in it reaches 40 pixels out of its height']);
    expect(set('max-height: 20px')).toHaveLength(1);
    expect(set('height: 20px; overflow-y: auto')).toEqual([]);
    expect(set('')).toEqual([]);
  });
  it('lies under another layer, where that hides a good part of it', () => {
    const layered = (over: string): string =>
      `<div class="k-box" data-runs="layered" data-at="0 0 200 200"><p data-e="t" data-at="0 0 100 20">Under</p>${over}</div>`;
    const ground = (at: string): string => `<div data-e="g" data-at="${at}" style="background: rgb(9, 9, 9)"></div>`;
    expect(found(layered(ground('0 0 100 20')))).toEqual(['t: covered']);
    expect(found(layered(ground('90 0 100 20')))).toEqual([]);
    expect(found(layered('<p data-e="u" data-at="10 0 100 20">Over</p>'))).toEqual(['t: covered']);
    expect(found(layered('<div data-e="g" data-at="0 0 100 20"></div>'))).toEqual([]);
    // A picture with words over it is what layers are for.
    expect(
      found(
        '<div class="k-box" data-runs="layered" data-at="0 0 200 200"><img data-e="p" data-at="0 0 200 200"><p data-e="t" data-at="0 0 100 20">Over it</p></div>',
      ),
    ).toEqual([]);
  });
  it('is a row in which nothing is seen, unless its record is on its way', () => {
    const row = (inside: string, more = ''): string =>
      `<div data-e="l" data-at="0 0 300 60"><div class="k-row ${more}"><p>${inside}</p></div></div>`;
    expect(found(row('  '))).toEqual(['l: blank']);
    expect(found(row('<span class="k-no-picture"><svg></svg></span>'))).toEqual(['l: blank']);
    expect([...found(row('Clover')), ...found(row('<svg></svg>')), ...found(row('', 'k-row-waiting'))]).toEqual([]);
  });
});
