import { describe, expect, it } from 'vitest';
import { StoppedError, spend, withBudget } from './budget.ts';
import { compile } from './compile.ts';
import { evaluate } from './evaluate.ts';
import { RANGE_FUNCTIONS } from './builtins/ranges.ts';
import { LIST_PLACE_FUNCTIONS } from './builtins/list-places.ts';
import { RARE_FUNCTIONS } from './builtins/rare.ts';
import { WORK_FUNCTIONS } from './builtins/work.ts';
import { usesPatterns, usesRare } from './patterns.ts';

/** Formulas that would end a process, or hold it up for hours. */

const times = (n: number, text: string): string => text.repeat(n);
const firstProblem = (formula: string): string => evaluate(formula).problems[0]?.message ?? '';

describe('a formula that is too deep', () => {
  it.each<[string, string]>([
    ['brackets', `${times(3000, '(')}1${times(3000, ')')}`],
    ['lists', `${times(3000, '[')}1${times(3000, ']')}`],
    ['contexts', `${times(1500, '{a: ')}1${times(1500, '}')}`],
    ['ifs', `${times(800, 'if true then ')}1${times(800, ' else 2')}`],
    ['calls', `${times(2000, 'not(')}true${times(2000, ')')}`],
    ['functions', `${times(2000, 'function(a) ')}1`],
    ['conditions', `${times(2000, '[1][')}1${times(2000, ']')}`],
    ['loops', `${times(1000, 'for i in [1] return ')}1`],
    ['ranges', `${times(2000, '[1..')}1${times(2000, ']')}`],
    ['minus signs', `${times(5000, '-')}1`],
    ['half of it', times(5000, '(')],
  ])('%s: is refused in words', (_, formula) =>
    expect(firstProblem(formula)).toMatch(/stand inside one another here|too many minus signs/),
  );
  it.each<[string, string]>([
    ['a long sum', `1${times(9000, ' + 1')}`],
    ['a long chain of and', `true${times(4000, ' and true')}`],
    ['a long path', `x${times(4000, '.a')}`],
    ['many conditions behind one another', `[1]${times(3000, '[1]')}`],
    ['many calls behind one another', `a${times(3000, '()')}`],
  ])('%s: is refused in words', (_, formula) => expect(firstProblem(formula)).toContain('This formula is too long'));
  it('is not one with as much as people write', () => {
    expect(evaluate(`${times(40, '(')}1${times(40, ')')}`).value).toBe(1);
    expect(evaluate(`1${times(400, ' + 1')}`).value).toBe(401);
    expect(evaluate(`[${times(2000, '1, ')}1][2001]`).value).toBe(1);
    expect(evaluate(`${times(30, 'if false then 0 else ')}7`).value).toBe(7);
  });
});

describe('a formula that would not come to an end', () => {
  it.each<[string, string]>([
    ['every pair of many', 'some x in 1..100000, y in 1..100000 satisfies x + y = -1'],
    ['a range of a billion', 'count(for x in 1..1000000000 return x)'],
    ['a range of a billion in brackets', 'count(for x in [1..1000000000] return x)'],
    [
      'days of ten million years',
      'count(for d in date("0001-01-01")..date("9999-12-31") return for e in 1..100 return e)',
    ],
    [
      'a list that doubles',
      'count(for i in 1..40 return if i = 1 then [1] else concatenate(partial[-1], partial[-1]))',
    ],
    ['a list of all lists so far', 'count(for i in 1..100000 return partial)'],
    [
      'many lists in a filter',
      'count((for i in 1..10000 return i)[count((for j in 1..10000 return j)[item > 1]) > 1])',
    ],
    [
      'values of a list, each looked for in it',
      'count(union(for i in 1..20000 return {a: i}, for i in 1..20000 return {a: -i}))',
    ],
    ['functions without end', 'count(for i in 1..10000 return sort(for k in 1..10000 return k, function(a, b) a < b))'],
    ['a pattern that reads to the end again and again', 'count(extract(t, "a.*c|b"))'],
    ['the same with groups', 'replace(t, "(a)(.*?c|b)", "$1")'],
    ['a large pattern on a long text', 'matches(t, "(?:a|b|ab|ba){3,200}?(a)(?:z|$)")'],
    ['a delimiter that reads to the end', 'count(split(t, "b.*?c|a"))'],
  ])('%s: is stopped and says so', (_, formula) => {
    const started = performance.now();
    const { value, problems } = evaluate(formula, { t: 'ab'.repeat(150_000) });
    expect([value, problems.map((p) => p.message)]).toEqual([null, [expect.stringContaining('too many steps')]]);
    // Not a measurement: without the bound these take from minutes to for ever.
    expect(performance.now() - started).toBeLessThan(20_000);
  });
  it('a text that doubles is stopped by its length', () =>
    expect(firstProblem('for i in 1..60 return if i = 1 then "ab" else partial[-1] + partial[-1]')).toContain(
      'more than 1,000,000 letters',
    ));
  it('rests after a stop, and says nothing more once it comes to an end', () => {
    let most = 1e9;
    const c = compile('count(for x in 1..most return x)', {
      names: [{ id: 'm', name: 'most', type: { k: 'number' }, read: () => most }],
    });
    expect(c.run([])).toBeNull();
    expect(c.problems).toHaveLength(1);
    most = 3;
    // At once it is not tried again; a list of records asks for it once each.
    expect(c.run([])).toBeNull();
    const now = Date.now;
    Date.now = () => now() + 6000;
    try {
      expect(c.run([])).toBe(3);
    } finally {
      Date.now = now;
    }
    expect(c.problems).toEqual([]);
  });
  it('what many people ask for is far from the bound', () => {
    expect(evaluate('count(for x in 1..300000 return x * 2)').value).toBe(300_000);
    const t = 'ab '.repeat(100_000);
    expect(evaluate('count(extract(t, "\\w+"))', { t }).value).toBe(100_000);
    expect(evaluate('matches(t, "^(\\w+\\s?)+$")', { t }).value).toBe(true);
    expect(evaluate('string length(replace(t, "[a-c]+", "x"))', { t }).value).toBe(200_000);
    expect(evaluate('sum(for x in 1..1000, y in 1..1000 return if x = y then 1 else 0)').value).toBe(1000);
  });
});

describe('a budget', () => {
  it('is one for an evaluation and all it asks for', () => {
    let why = '';
    const inner = () =>
      withBudget(
        () => {
          spend(6_000_000);
          return 'inner';
        },
        null,
        () => (why = 'the inner'),
      );
    const outer = withBudget(
      () => [inner(), inner()],
      null,
      () => (why = 'the outer'),
    );
    expect([outer, why]).toEqual([null, 'the outer']);
    expect([inner(), why]).toEqual(['inner', 'the outer']);
  });
  it('leaves other errors alone, and is there anew afterwards', () => {
    expect(() =>
      withBudget(
        () => {
          throw new TypeError('ours');
        },
        null,
        () => undefined,
      ),
    ).toThrow('ours');
    expect(() => spend(1)).not.toThrow(StoppedError);
    expect(
      withBudget(
        () => 1,
        null,
        () => undefined,
      ),
    ).toBe(1);
  });
});

describe('patterns', () => {
  it.each<[string, string, boolean]>([
    ['^(a+)+$', `${times(5000, 'a')}!`, false],
    ['^(a|aa)+$', `${times(5000, 'a')}!`, false],
    ['(.*a){20}', times(5000, 'b'), false],
    ['^(([a-z])+.)+[A-Z]([a-z])+$', times(3000, 'a'), false],
    ['(x+x+)+y', times(3000, 'x'), false],
  ])('%s takes no longer than its text is long', (pattern, text, fits) => {
    const c = compile(`matches(t, ${JSON.stringify(pattern)})`, {
      names: [{ id: 't', name: 't', type: { k: 'text' }, read: () => text }],
    });
    expect(c.run([])).toBe(fits);
  });
  it.each<[string, unknown]>([
    ['replace("abracadabra", "(a)(b)?", "[$1|$2|$0]")', '[a|b|ab]r[a||a]c[a||a]d[a|b|ab]r[a||a]'],
    ['replace("a.b.c", ".", "-", "q")', 'a-b-c'],
    ['replace("1 2", "(\\\\d)", "\\\\$$1")', '$1 $2'],
    ['replace("ab", "(", "x")', null],
    ['matches("Straße", "^STRASSE$", "i")', false],
    ['matches("a\\nb", "a.b")', false],
    ['matches("a\\nb", "a.b", "s")', true],
    ['matches("a\\nb", "^b$", "m")', true],
    ['matches("ab", "a b", "x")', true],
    ['matches("ab", "b", "k")', null],
    ['split("a1b22c", "[0-9]+")', ['a', 'b', 'c']],
    ['split("abc", "")', ['a', 'b', 'c']],
    ['split(";a;", ";")', ['', 'a', '']],
    ['extract("HB-1 and HB-22", "HB-[0-9]+")', ['HB-1', 'HB-22']],
    ['extract("x", "(?=x)")', null],
  ])('%s', (formula, value) => expect(evaluate(formula).value).toEqual(value));
  it('are looked for in a document before it runs', () => {
    expect(usesPatterns(JSON.stringify({ a: [{ formula: 'matches (f_a, "x")' }] }))).toBe(true);
    expect(usesPatterns('no matches found')).toBe(false);
    // Phones fetch what each of these needs for apps that use it.
    for (const { name } of [...RANGE_FUNCTIONS, ...RARE_FUNCTIONS, ...LIST_PLACE_FUNCTIONS, ...WORK_FUNCTIONS])
      for (const between of ['', ' ', '\n', '/* of both */'])
        expect(usesRare(JSON.stringify(`x = ${name}${between}(a, b)`)), name).toBe(true);
    expect(usesRare('after that, before (long) and during the day')).toBe(true);
    expect(usesRare('f_a instance of number')).toBe(true);
    expect(usesRare('after that, and during the day')).toBe(false);
  });
});
