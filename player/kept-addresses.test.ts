import { afterEach, describe, expect, it, vi } from 'vitest';
import { keptAddress } from '../core/fields/kept-file.ts';
import { letGo, take } from './kept-addresses.ts';
import { USES } from './kept.ts';

const api = { file: async () => null };
const svg = (inside: string): string => `<svg xmlns="http://www.w3.org/2000/svg">${inside}</svg>`;
const base64 = (text: string): string => `data:image/svg+xml;base64,${Buffer.from(text).toString('base64')}`;
const laughs = svg(
  `<g id="a0"><path d=""/></g>${Array.from({ length: 8 }, (_, i) => `<g id="a${i + 1}">${`<use href="#a${i}"/>`.repeat(10)}</g>`).join('')}`,
);

describe('a drawing in an address', () => {
  it('is shown as it is, and not at all where it comes to very many elements', async () => {
    const fine = base64(svg('<symbol id="s"/><use href="#s"/>'));
    expect(await take(api, fine)).toBe(fine);
    for (const address of [base64(laughs), `data:image/svg+xml,${encodeURIComponent(laughs)}`])
      expect(await take(api, address)).toBeNull();
    expect(await take(api, 'data:image/svg+xml;base64,%%%')).toBeNull();
  });
  it('is looked at wherever in it something is used again, however that falls in base 64', () => {
    for (const used of ['<use href="#a"/>', '<rect fill="url(#a)"/>'])
      for (const before of ['', 'x', 'xy'])
        for (const address of [base64(svg(before + used)), `data:image/svg+xml,${encodeURIComponent(svg(used))}`])
          expect(USES.test(address), address).toBe(true);
    expect(USES.test(base64(svg('<rect width="9" height="9"/>')))).toBe(false);
    expect(USES.test('data:image/png;base64,PHVzZ')).toBe(false);
  });
});

describe('a kept file', () => {
  let n = 0;
  const file = (type: string, size = 3): string =>
    keptAddress({ hash: String(n++).padStart(43, 'A'), type, size, name: 'a file' });
  const having = (content: Blob | null) => ({ file: vi.fn(async () => content) });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });

  it('is read once for all who show it, and let go of a while after the last of them', async () => {
    vi.useFakeTimers();
    const revoked = vi.spyOn(URL, 'revokeObjectURL');
    const [had, address] = [having(new Blob(['abc'])), file('image/png')];
    const url = (await take(had, address))!;
    expect(await take(had, address)).toBe(url);
    expect([url.startsWith('blob:'), had.file.mock.calls.length]).toEqual([true, 1]);
    letGo(address);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(revoked).not.toHaveBeenCalled();
    letGo(address);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(revoked).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(15_000);
    expect(revoked).toHaveBeenCalledWith(url);
    await take(had, address);
    expect(had.file).toHaveBeenCalledTimes(2);
  });
  it('that could not be had is asked for anew the next time', async () => {
    const address = file('image/png');
    expect(await take(having(null), address)).toBeNull();
    expect(await take(having(new Blob(['abc'])), address)).toMatch(/^blob:/);
    expect(await take({ file: () => Promise.reject(new Error('offline')) }, file('image/png'))).toBeNull();
  });
  it('is shown as what it is only where pages show such content; a page of somebody else’s is none of ours', async () => {
    const made = vi.spyOn(URL, 'createObjectURL');
    for (const type of ['image/png', 'audio/mpeg', 'video/mp4', 'text/html', 'application/pdf'])
      await take(having(new Blob(['abc'])), file(type));
    expect(made.mock.calls.map(([b]) => (b as Blob).type)).toEqual([
      'image/png',
      'audio/mpeg',
      'video/mp4',
      'application/octet-stream',
      'application/octet-stream',
    ]);
  });
  it('that is a drawing has no address of ours, and none where it is too much to draw or cannot be read', async () => {
    class Reader extends EventTarget {
      result: string | null = null;
      constructor(private readonly fails = false) {
        super();
      }
      async readAsDataURL(content: Blob): Promise<void> {
        this.result = `data:${content.type};base64,${Buffer.from(await content.text()).toString('base64')}`;
        this.dispatchEvent(new Event(this.fails ? 'error' : 'load'));
      }
    }
    vi.stubGlobal('FileReader', Reader);
    const drawn = svg('<rect width="9" height="9"/>');
    expect(await take(having(new Blob([drawn])), file('image/svg+xml'))).toBe(base64(drawn));
    expect(await take(having(new Blob([laughs])), file('image/svg+xml'))).toBeNull();
    vi.stubGlobal(
      'FileReader',
      class extends Reader {
        constructor() {
          super(true);
        }
      },
    );
    expect(await take(having(new Blob([drawn])), file('image/svg+xml'))).toBeNull();
  });
});
