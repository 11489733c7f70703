import { describe, expect, it } from 'vitest';
import { drawingIn, drawsTooMuch } from './drawn-svg.ts';

const svg = (inside: string): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">${inside}</svg>`;
/** Groups of which each uses the one before so many times. */
const laughs = (deep: number, times: number, use = (id: string): string => `<use href="#${id}"/>`): string =>
  svg(
    `<defs><g id="a0"><path d="M0 0"/></g>${Array.from({ length: deep }, (_, i) => `<g id="a${i + 1}">${use(`a${i}`).repeat(times)}</g>`).join('')}</defs>${use(`a${deep}`)}`,
  );

describe('a drawing', () => {
  it.each([
    ['uses that use ten, six times over', laughs(6, 10)],
    ['the older way to name them', laughs(6, 10, (id) => `<use xlink:href = '#${id}'></use>`)],
    ['fills by patterns in patterns', laughs(6, 10, (id) => `<rect fill="url(#${id})"/>`)],
    ['a style of its own', laughs(6, 10, (id) => `<rect style="fill: url( '#${id}' )"/>`)],
    ['a quote with a bracket in it', laughs(6, 10, (id) => `<use title=">" href="#${id}"/>`)],
    ['round in a circle', svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>')],
    ['words that stand for markup', `<!DOCTYPE svg [<!ENTITY a "<use href='#b'/>">]>${svg('&a;')}`],
    ['words that stand for words', `<!DOCTYPE svg [<!ENTITY a "x"><!ENTITY b "&a;&a;">]>${svg('&b;')}`],
    ['thousands in one another', svg('<g>'.repeat(5000) + '</g>'.repeat(5000))],
    ['a chain of thousands', laughs(5000, 1)],
  ])('that comes to very many elements is told: %s', (_, text) => expect(drawsTooMuch(text)).toBe(true));
  it.each([
    ['one as programs write them', svg('<rect width="9" height="9" fill="#fff"/><path id="p" d="M0 0h9"/>')],
    ['a symbol used often', svg(`<symbol id="s"><path d="M0 0"/></symbol>${'<use href="#s"/>'.repeat(5000)}`)],
    [
      'a gradient of a gradient',
      svg('<linearGradient id="a"/><linearGradient id="b" href="#a"/><rect fill="url(#b)"/>'),
    ],
    ['a link to what is around it', svg('<g id="top"><a href="#top"><text>up</text></a></g>')],
    ['a large map', svg('<path d="M0 0"/>'.repeat(60_000))],
    ['names of an older program', `<!DOCTYPE svg [<!ENTITY ns_svg "http://www.w3.org/2000/svg">]>${svg('')}`],
    [
      'a comment and a text of brackets',
      svg(`<!-- ${'<use href="#a"/>'.repeat(9)} --><style><![CDATA[a > b {}]]></style>`),
    ],
    ['half a drawing', '<svg><g id="a"><use href="#'],
    ['no drawing', ''],
  ])('of an ordinary kind is not: %s', (_, text) => expect(drawsTooMuch(text)).toBe(false));
  it('is found in an address, however that is written', () => {
    const text = svg('<text>Ærø</text>');
    const base64 = Buffer.from(text).toString('base64');
    for (const address of [
      `data:image/svg+xml;base64,${base64}`,
      `data:image/svg+xml;name=a.svg;base64,${base64}`,
      `DATA:image/SVG+xml;charset=utf-8,${encodeURIComponent(text)}`,
    ])
      expect(drawingIn(address)).toBe(text);
    expect(
      ['data:image/png;base64,AAAA', 'https://a.example/b.svg', 'data:image/svg+xml,%E0%A4%A'].map(drawingIn),
    ).toEqual([null, null, null]);
  });
});
