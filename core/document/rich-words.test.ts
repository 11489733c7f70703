import { describe, expect, it } from 'vitest';
import { richPieces, tooRich } from './rich-words.ts';

const plain = (words: string) => [{ type: 'paragraph', children: [{ type: 'text', value: words }] }];

describe('rich words', () => {
  it('are read as CommonMark', () => {
    expect(richPieces('# Head\n\nSome *words*').map((p) => p.type)).toEqual(['heading', 'paragraph']);
  });
  it('of an ordinary kind are never too rich', () => {
    const chapter = '## Chapter\n\nSome **strong** and *soft* words with a [link](https://a.example) and `code`.\n\n';
    const nested = Array.from({ length: 12 }, (_, i) => `${'  '.repeat(i)}- item`).join('\n');
    const code = `\`\`\`\n${' '.repeat(120)}far right\n\`\`\``;
    for (const words of [chapter.repeat(2000), nested, code, '> > > quoted thrice', '***'.repeat(30)])
      expect(tooRich(words), words.slice(0, 40)).toBeNull();
  });
  it.each([
    ['quotes in quotes', '>'.repeat(3000)],
    ['quotes apart', '> '.repeat(3000)],
    ['lists in lists', '- '.repeat(3000)],
    ['numbered lists in lists', '1. '.repeat(3000)],
    ['lists in lists over many lines', Array.from({ length: 400 }, (_, i) => `${'  '.repeat(i)}- a`).join('\n')],
    ['signs of emphasis', 'a*'.repeat(20_000)],
    ['strong in strong', `${'**'.repeat(5000)}a${'**'.repeat(5000)}`],
    ['links that never end', '['.repeat(100_000)],
    ['very many words', 'word '.repeat(80_000)],
  ])('that would stop a phone stand as they were typed: %s', (_, words) => {
    expect(tooRich(words)).not.toBeNull();
    expect(richPieces(words)).toEqual(plain(words));
  });
});
