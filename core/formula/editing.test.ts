import { WorkCalendar } from './work-time.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { T, hiveApp } from '../records/fixture.ts';
import { Model } from '../records/model.ts';
import { ABOUT } from './builtins/about.ts';
import { builtins } from './builtins/index.ts';
import { complete } from './complete.ts';
import { evaluate } from './evaluate.ts';
import { formatFormula } from './format-text.ts';
import { parse } from './parse.ts';

const app = hiveApp();
app.tables[0]!.fields.push({ id: 'f_days0000', name: 'Days since visit', type: 'number' });
const model = new Model(app);
const options = model.optionsFor(T.hives);
/** Completion at the place of the bar. */
const at = (marked: string, of = options) => {
  const place = marked.indexOf('|');
  return complete(marked.replace('|', ''), place, of);
};
const labels = (marked: string, of = options): string[] => at(marked, of)?.items.map((i) => i.label) ?? [];

describe('completion', () => {
  it('offers what is nearest first: own fields, whole tables, functions', () => {
    const all = labels('|');
    expect(all.slice(0, 3)).toEqual(['Name', 'Tag code', 'Weight']);
    expect(all.indexOf('Visits')).toBeLessThan(all.indexOf('all Visits'));
    expect(all.indexOf('all Visits')).toBeLessThan(all.indexOf('sum'));
  });
  it('finds names with spaces from any of their words', () => {
    expect(at('Days si|')).toMatchObject({ from: 0, items: [{ label: 'Days since visit' }] });
    expect(at('Weight > Days si|')?.from).toBe(9);
    expect(at('if Tag c|')).toMatchObject({ from: 3, items: [{ label: 'Tag code' }] });
    expect(labels('sum(Vis|')[0]).toBe('Visits');
    expect(labels('sinc|')).toContain('Days since visit');
  });
  it('offers behind a dot what is there', () => {
    expect(labels('Keeper.|')).toEqual(['Name', 'Mail', 'Lives nearby', 'Hives']);
    expect(labels('sum(Visits.F|')).toEqual(['Fed']);
    expect(labels('sum(all Visits.Hive.Keeper.Ma|')).toEqual(['Mail']);
    expect(labels('Visits[Fed > 1].Hive.Tag|')).toEqual(['Tag code']);
    expect(labels('Visits[1].|')).toContain('When');
    expect(labels('Visits[1].When.|')).toEqual(['year', 'month', 'day', 'weekday']);
    expect(labels('Nothing like it.|')).toEqual([]);
  });
  it('offers inside brackets the fields of each record first', () => {
    expect(labels('Visits[|')[0]).toBe('Hive tag');
    expect(labels('Visits[Fe|')[0]).toBe('Fed');
    expect(labels('count(all Visits[Hive.Keep|')).toEqual(['Keeper']);
    expect(labels('Visits[Fed > 1] + W|')[0]).toBe('Weight');
  });
  it('is quiet inside a text and in a number', () => {
    expect([at('"Wei|'), at('12.|5')]).toEqual([null, null]);
    expect(labels('"a" + W|')[0]).toBe('Weight');
  });
  it('every offer of a name compiles where it is put (property)', () => {
    const starts = ['', 'sum(', 'Visits[', 'if ', 'Keeper.', 'Visits.', '1 + '];
    fc.assert(
      fc.property(fc.constantFrom(...starts), fc.nat(30), (start, n) => {
        const item = complete(start, start.length, options)!.items.filter(
          (i) => i.kind !== 'word' && i.kind !== 'function',
        )[n];
        if (!item) return;
        const text = `${start}${item.insert}${start.endsWith('(') ? ')' : start.endsWith('[') ? ' = null]' : start === 'if ' ? ' = null then 1 else 2' : ''}`;
        const unknown = model.formulaOf(T.hives, text).problems.filter((p) => /called “/.test(p.message));
        expect(unknown).toEqual([]);
      }),
    );
  });
});

describe('the examples of functions', () => {
  it('are there for every function', () => {
    expect(Object.keys(ABOUT).sort()).toEqual([...builtins().keys()].sort());
  });
  it.each(Object.entries(ABOUT))('%s', (_name, { example, help }) => {
    expect(help.length).toBeGreaterThan(4);
    const week = Array.from({ length: 7 }, () => [[540, 1020]] as const);
    const answer = evaluate(example, {}, undefined, new WorkCalendar({ days: week, free: [] }));
    expect(answer.problems).toEqual([]);
    expect(answer.value).not.toBeNull();
  });
});

describe('formatting', () => {
  const names = ['Days since visit', 'E-mail', 'Fed in all'];
  it.each([
    ['1+2*  3', '1 + 2 * 3'],
    ['sum( Visits [Fed>1] . Fed )', 'sum(Visits[Fed > 1].Fed)'],
    ['-a  -  -b', '-a - -b'],
    ['Days since   visit>21', 'Days since visit > 21'],
    ['E-mail="x"', 'E-mail = "x"'],
    ['{a:1,b:[1..5]}', '{a: 1, b: [1..5]}'],
    ['if a then "b  c"else d', 'if a then "b  c" else d'],
    ['@"2026-11-23"<today()', '@"2026-11-23" < today()'],
    ['broken +', 'broken +'],
    ['a // remark\n+b', 'a // remark\n+b'],
  ])('%s', (before, after) => expect(formatFormula(before, names)).toBe(after));
  it('divides a long formula where it reads best', () => {
    const long =
      'if Status = "Active" and Days since visit > 21 and Fed in all < 3 then "look at it this week" else if Status = "Resting" then "leave it" else "fine"';
    expect(formatFormula(long, names)).toBe(
      [
        'if Status = "Active" and Days since visit > 21 and Fed in all < 3',
        '  then "look at it this week"',
        '  else if Status = "Resting" then "leave it" else "fine"',
      ].join('\n'),
    );
  });
  it('never changes what a formula means, and comes to rest (property)', () => {
    const leaf = fc.constantFrom(
      'a',
      'Fed in all',
      '12.5',
      '"x, (y"',
      'today()',
      '-3',
      'Visits[Fed > 1].Fed',
      '@"P1D"',
    );
    const { node } = fc.letrec<{ node: string }>((tie) => ({
      node: fc.oneof(
        { maxDepth: 4 },
        leaf,
        fc
          .tuple(tie('node'), fc.constantFrom('+', '-', '*', '/', '**', '=', '<', '>=', ' and ', ' or '), tie('node'))
          .map(([a, o, b]) => `(${a})${o}(${b})`),
        fc.tuple(tie('node'), tie('node'), tie('node')).map(([a, b, c]) => `if ${a} then ${b} else ${c}`),
        fc.tuple(tie('node'), tie('node')).map(([a, b]) => `sum([${a} ,${b}])`),
        fc.tuple(tie('node'), tie('node')).map(([a, b]) => `for i in [${a}] return i+(${b})`),
        tie('node').map((a) => `{k:${a}, "two words" :1}`),
      ),
    }));
    const bare = (text: string): string =>
      JSON.stringify(parse(text, names), (k, v: unknown) => (['from', 'to', 'nameFrom'].includes(k) ? undefined : v));
    fc.assert(
      fc.property(node, (text) => {
        const out = formatFormula(text, names);
        expect(bare(out)).toBe(bare(text));
        expect(formatFormula(out, names)).toBe(out);
      }),
      { numRuns: 500 },
    );
  });
});
