import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluate } from './evaluate.ts';

const value = (formula: string, context = {}): unknown => evaluate(formula, context).value;
const q = (s: string): string => JSON.stringify(s);
const matches = (text: string, pattern: string, flags = ''): unknown =>
  value(`matches(t, p, ${q(flags)})`, { t: text, p: pattern });

describe('patterns by XPath’s rules', () => {
  it.each<[string, string, string, boolean | null]>([
    ['٣', '^\\d$', '', true], // digits of any script
    ['é', '^\\w$', '', true],
    ['€', '^\\w$', '', true],
    ['_', '^\\w$', '', false],
    ['_', '^\\W$', '', true],
    ['\u00a0', '^\\s$', '', false],
    ['\u00a0', '^\\S$', '', true],
    ['ñandú', '^\\p{L}+$', '', true],
    ['ñandú', '^\\p{IsBasicLatin}+$', '', false],
    ['Ωmega', '^\\p{IsGreek}', '', true],
    ['5', '^\\P{IsGreek}$', '', true],
    ['a1-', '^\\i\\c+$', '', true],
    ['1a', '^\\i', '', false],
    ['1', '^\\I$', '', true],
    ['b', '^[a-z-[aeiou]]$', '', true],
    ['e', '^[a-z-[aeiou]]$', '', false],
    ['e', '^[^a-z-[0-9]]$', '', false],
    ['x', '^[\\d\\w]$', '', true],
    ['-', '^[a-]$', '', true],
    ['-', '^[-a]$', '', true],
    ['\n', '^.$', '', false],
    ['\r', '^.$', '', false],
    ['\n', '^.$', 's', true],
    ['a\nb', '^b$', '', false],
    ['a\nb', '^b$', 'm', true],
    ['AB', '^a b$', 'ix', true],
    ['a b', '^a[ ]b$', 'x', true],
    ['a.b', 'a.b', 'q', true],
    ['axb', 'a.b', 'q', false],
    ['a b', 'a b', 'qx', true],
    ['😀', '^.$', '', true],
    ['😀', '^[😀-😂]$', '', true],
    ['aa', '^a{2}$', '', true],
    ['a', '(a)\\1', '', null],
    ['a', '(?i)A', '', null],
    ['a', '(?=a)', '', null],
    ['a', '\\bA', '', null],
    ['a', 'a{', '', null],
    ['a', '[b-a]', '', null],
    ['a', '[]', '', null],
    ['a', ']', '', null],
    ['a', '\\p{IsNowhere}', '', null],
    ['a', '\\p{Xy}', '', null],
    ['a', 'a', 'g', null],
    ['a', 'a\\', '', null],
  ])('%j against %j with %j: %j', (text, pattern, flags, expected) => {
    expect(matches(text, pattern, flags)).toBe(expected);
  });
  it('find plain text whatever signs are in it (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 8 }), fc.string({ maxLength: 5 }), (text, part) => {
        expect(matches(text + part, part, 'q')).toBe(true);
        const escaped = part.replace(/[\\|.?*+(){}[\]^$-]/g, '\\$&');
        expect(matches(text, escaped)).toBe(text.includes(part));
      }),
    );
  });
  it('take one class from another as sets do (property)', () => {
    const letters = fc.string({ unit: fc.constantFrom(...'abcdefgh'), minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(letters, letters, fc.constantFrom(...'abcdefgh'), (all, without, one) => {
        expect(matches(one, `^[${all}-[${without}]]$`)).toBe(all.includes(one) && !without.includes(one));
      }),
      { numRuns: 5 },
    );
  });
});

describe('replacing and dividing', () => {
  it.each<[string, unknown]>([
    ['replace("abracadabra", "bra", "*")', 'a*cada*'],
    ['replace("2026-11-25", "(\\d+)-(\\d+)-(\\d+)", "$3.$2.$1")', '25.11.2026'],
    ['replace("ab", "(a)(b)", "$2$10")', 'ba0'],
    ['replace("ab", "a", "$1")', 'b'],
    ['replace("ab", "a", "[$0]")', '[a]b'],
    ['replace("5", "5", "\\\\$5")', '$5'],
    ['replace("a", "a", "\\\\\\\\")', '\\'],
    ['replace("a", "a", "5$")', null],
    ['replace("a", "a", "\\\\d")', null],
    ['replace("a.b", ".", "$", "q")', 'a$b'],
    ['split("a1b22c", "(\\d)+")', ['a', 'b', 'c']],
    ['split("John Doe", "\\s")', ['John', 'Doe']],
    ['split("a;;b", ";")', ['a', '', 'b']],
    ['extract("a1b22", "\\d+")', ['1', '22']],
  ])('%s', (formula, expected) => {
    expect(value(formula)).toEqual(expected);
  });
});
