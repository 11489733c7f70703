import fc from 'fast-check';
import { describe as about, expect, it } from 'vitest';
import { parseDate } from '../formula/temporal.ts';
import { colourName, describe, type Pixels } from './describe.ts';
import { draft } from './draft.ts';
import { choicesIn, judge } from './judge.ts';
import { numberIn, PULLED, pullOut } from './pull-out.ts';
import { sumUp } from './sum-up.ts';
import { sentencesOf } from './tokens.ts';

about('a summary', () => {
  const text =
    'The bees fly well. The bees of the north meadow have much honey. It rained. The honey of the north meadow is dark. We had tea.';
  it('takes the sentences that say most, in their order', () => {
    expect(sumUp(text, 1)).toBe('The bees of the north meadow have much honey.');
    expect(sumUp(text, 2)).toBe('The bees fly well. The bees of the north meadow have much honey.');
  });
  it('is made of the sentences of the text, as many as wanted at most (property)', () => {
    const word = fc.constantFrom('bees', 'honey', 'rain', 'the', 'Queen', 'is', '12', 'hive’s');
    const sentence = fc.array(word, { minLength: 1, maxLength: 9 }).map((w) => `${w.join(' ')}.`);
    fc.assert(
      fc.property(fc.array(sentence, { maxLength: 12 }), fc.integer({ min: 1, max: 4 }), (all, most) => {
        const own = sentencesOf(all.join('\n'));
        const taken = sentencesOf(sumUp(all.join('\n'), most).replace(/\. /g, '.\n'));
        expect(taken).toHaveLength(Math.min(most, own.length));
        let from = 0;
        for (const s of taken) {
          const at = own.indexOf(s, from);
          expect(at).toBeGreaterThanOrEqual(0);
          from = at + 1;
        }
      }),
    );
  });
});

about('a judgement', () => {
  const choices = choicesIn('urgent: swarm, sting, now, falling\nlater: jar, label, order');
  it('is the choice whose words the text has, and says which', () => {
    expect(judge('A swarm hangs over the gate, come now!', choices)).toMatchObject({
      choice: 'urgent',
      why: ['swarm', 'now'].filter((w) => w !== 'now'),
    });
    expect(judge('Two jars ordered, labels missing', choices)).toMatchObject({
      choice: 'later',
      why: ['jars', 'ordered', 'labels'],
      sure: 1,
    });
  });
  it('is none where nothing speaks for any, or two are alike', () => {
    expect(judge('Nothing of that', choices)).toBeNull();
    expect(judge('a swarm and a jar', choicesIn('x: swarm\ny: jar'))).toBeNull();
  });
  it('takes choices from one line too', () =>
    expect(choicesIn('good, bad , ')).toEqual([
      { name: 'good', words: '' },
      { name: 'bad', words: '' },
    ]));
});

about('what is pulled out of a text', () => {
  const out = (text: string, kind: Parameters<typeof pullOut>[1]): unknown => pullOut(text, kind, 2026);
  const date = (text: string) => parseDate(text);
  it('dates, in words and figures; not those that can be read in two ways', () =>
    expect(
      out('On 3 May, 2027-01-31 and the 4th of March 2025; 31.12.2026, not 3/4/2026, not 31 Feb.', 'dates'),
    ).toEqual(['2026-05-03', '2027-01-31', '2025-03-04', '2026-12-31'].map(date)));
  it('numbers and amounts; not those that can be read in two ways', () => {
    expect(out('12 jars, 1,234.50 and 7,5 but 1,234; hive-3', 'numbers')).toEqual([12, 1234.5, 7.5]);
    expect(out('It cost £12.50, then 30 euros and 1.200,75 kr, not 8 bees', 'amounts')).toEqual([12.5, 30, 1200.75]);
    expect(numberIn('0.125')).toBe(0.125);
    expect(numberIn('1.234.567')).toBe(1_234_567);
  });
  it('addresses, telephone numbers, times and names', () => {
    expect(out('Write to ann@bees.example or bo.b@club.example.', 'mails')).toEqual([
      'ann@bees.example',
      'bo.b@club.example',
    ]);
    expect(out('See https://a.example/x?y=1, and (http://b.example).', 'pages')).toEqual([
      'https://a.example/x?y=1',
      'http://b.example',
    ]);
    expect(out('Ring +45 12 34 56 78 or 0161 496 0000, not 2026-11-26 or 123.', 'phones')).toEqual([
      '+45 12 34 56 78',
      '0161 496 0000',
    ]);
    expect(out('From 9:30 to 4 pm', 'times')).toHaveLength(2);
    expect(out('Today we saw Odile Marsh and Tom. We left.', 'names')).toEqual(['Odile Marsh', 'Tom']);
  });
  it('in time, whatever the text is', () => {
    const junk = ['1 ', '1', '1,', 'a@', 'Aa ', '+1-(2) ', 'http://', ' ', 'a', '1a'].map((w) =>
      w.repeat(60_000 / w.length),
    );
    const began = performance.now();
    for (const text of junk)
      for (const kind of Object.keys(PULLED)) pullOut(`x ${text} y`, kind as keyof typeof PULLED, 2026);
    // A pattern that goes back over its text takes minutes here.
    expect(performance.now() - began).toBeLessThan(30_000);
  });
  it('numbers are found as they were written, with points or commas (property)', () =>
    fc.assert(
      fc.property(fc.integer({ min: -9_999_999, max: 9_999_999 }), fc.integer({ min: 0, max: 99 }), (whole, cents) => {
        const parts = `${whole < 0 ? '-' : ''}${Math.abs(whole).toLocaleString('en-GB')}`;
        const rest = String(cents).padStart(2, '0');
        const value = Number(`${whole < 0 ? '-' : ''}${Math.abs(whole)}.${rest}`);
        expect(numberIn(`${parts}.${rest}`)).toBe(value);
        expect(numberIn(`${parts.replaceAll(',', '.')},${rest}`)).toBe(value);
        expect(numberIn(`${parts.replaceAll(',', ' ')}.${rest}`)).toBe(value);
      }),
    ));
});

about('sentences', () => {
  const directly = (line: string): string[] =>
    Array.from(new Intl.Segmenter('en', { granularity: 'sentence' }).segment(line), (s) => s.segment.trim()).filter(
      (s) => /\p{L}/u.test(s),
    );
  const piece = fc.constantFrom('Bees fly', 'no. ', '12 ', '. ', '.', '! ', '?”', ' ', 'e.g. ', '3.5', '…', '𝒜', 'A. ');

  it('of a long line are those of the standard, wherever windows end (property)', () =>
    fc.assert(
      fc.property(
        fc.array(piece, { minLength: 1, maxLength: 40 }),
        fc.integer({ min: 1, max: 60 }),
        (pieces, times) => {
          const line = pieces.join('').repeat(times);
          expect(sentencesOf(line)).toEqual(directly(line));
        },
      ),
    ));

  it('whose end only a letter far behind it tells', () => {
    const line = `About no. ${'1 '.repeat(1500)}more. End.`;
    expect(sentencesOf(line)).toEqual(directly(line));
  });

  it('of a line of a megabyte do not fill the memory', () =>
    expect(sentencesOf('The hive is calm. '.repeat(50_000))).toHaveLength(50_000));
});

it('a draft says what the prompt says and what the record knows, and nothing else', () => {
  const facts = [
    { name: 'Weight', value: '12 kg' },
    { name: 'Queen year', value: '2024' },
    { name: 'Notes', value: '' },
  ];
  expect(draft('thank them, and tell the weight', 'Odile', facts, 'The club')).toBe(
    'Hello Odile,\n\nThank them, and tell the weight.\n\n- Weight: 12 kg\n\nWith kind regards\nThe club',
  );
  expect(draft('Thanks!', '', [], '')).toBe('Hello,\n\nThanks!\n\nWith kind regards');
});

about('a description of a picture', () => {
  const draw = (width: number, height: number, at: (x: number, y: number) => [number, number, number]): Pixels => {
    const data = new Uint8ClampedArray(width * height * 4);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set([...at(x, y), 255], (y * width + x) * 4);
    return { data, width, height };
  };
  const disc = draw(96, 96, (x, y) => ((x - 48) ** 2 + (y - 48) ** 2 < 30 ** 2 ? [220, 30, 30] : [255, 255, 255]));
  it('tells colours, light and one shape', () =>
    expect(describe(disc, null, []).words).toBe(
      'A square, bright picture, with some detail, mostly white and red. One disc stands before a plain ground.',
    ));
  it('counts things, and knows wide boxes', () => {
    const boxes = draw(120, 60, (x, y) =>
      y > 20 && y < 36 && ((x > 10 && x < 50) || (x > 70 && x < 86)) ? [20, 40, 180] : [240, 240, 90],
    );
    expect(describe(boxes, null, []).words).toContain('2 things stand before a plain ground, the largest a');
    expect(describe(boxes, null, []).words).toMatch(/^A wide, .* mostly yellow/);
  });
  it('says what a code says, and which known picture it looks like, and how sure it is', () => {
    const other = draw(40, 40, (x) => (x < 20 ? [0, 0, 0] : [255, 255, 255]));
    const known = [
      { name: 'Ball', pixels: disc },
      { name: 'Half', pixels: other },
    ];
    const half = describe(
      draw(80, 80, (x) => (x < 40 ? [10, 10, 10] : [250, 250, 250])),
      'HIVE-7',
      known,
    );
    expect(half.words).toContain('It shows a code that says “HIVE-7”. It looks like “Half”.');
    expect(half.sure).toBeGreaterThan(0.9);
    expect(describe(disc, null, [known[1]!]).words).not.toContain('looks like');
  });
  it('names colours as people do', () =>
    expect(
      [
        [255, 0, 0],
        [255, 150, 0],
        [120, 70, 20],
        [30, 160, 60],
        [40, 80, 200],
        [128, 128, 130],
      ].map(([r, g, b]) => colourName(r!, g!, b!)),
    ).toEqual(['red', 'orange', 'brown', 'green', 'blue', 'grey']));
});
