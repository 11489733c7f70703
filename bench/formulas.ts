import * as reference from 'feelin';
import { emptyApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { compile } from '../core/formula/compile.ts';
import { multiply } from '../core/formula/number.ts';
import { parse } from '../core/formula/parse.ts';
import { NUMBER, TEXT } from '../core/formula/types.ts';
import type { Name } from '../core/formula/scope.ts';
import { wallClock } from '../core/formula/wall-clock.ts';
import type { Value } from '../core/formula/values.ts';
import { Records } from '../core/records/store.ts';
import { fastest, format, line } from './measure.ts';

const ROWS = 100_000;

interface Jar {
  Quantity: number;
  Price: number;
  Name: string;
}
const jar = (i: number): Jar => ({ Quantity: (i % 17) + 1, Price: (i % 900) / 100 + 0.99, Name: `Jar ${i % 50}` });

/** Formulas, and the same by hand with the same decimal rounding. */
const CASES: [string, (r: Jar) => unknown][] = [
  ['Quantity * Price', (r) => multiply(r.Quantity, r.Price)],
  ['if Quantity > 10 then Price * 0.9 else Price', (r) => (r.Quantity > 10 ? multiply(r.Price, 0.9) : r.Price)],
  ['upper case(Name) + " x " + string(Quantity)', (r) => `${r.Name.toUpperCase()} x ${String(r.Quantity)}`],
  ['Quantity between 5 and 12 and Price < 5', (r) => r.Quantity >= 5 && r.Quantity <= 12 && r.Price < 5],
];

function jarApp(formula: string): App {
  const app = emptyApp('Bench', 'a_bench0000');
  const field = (id: string, name: string, type: 'number' | 'text') => ({ id, name, type });
  app.tables = [
    {
      id: 't_jars0000',
      name: 'Jars',
      one: 'jar',
      titleField: 'f_name0000',
      pictureField: null,
      fields: [
        field('f_quantity', 'Quantity', 'number'),
        field('f_price000', 'Price', 'number'),
        field('f_name0000', 'Name', 'text'),
        { id: 'f_formula0', name: 'Formula', type: 'formula', formula },
      ],
    },
  ];
  return app;
}

/**
 * Formula fields of 100,000 records, read through the records as every screen reads them, against hand-written code that
 * keeps its answer with each record until the record changes; and single formulas against the reference interpreter
 * (feelin), once with parsing on both sides and once with it on neither.
 */
export async function formulaBench(): Promise<void> {
  const rows = Array.from({ length: ROWS }, (_, i) => jar(i));
  for (const [formula, byHand] of CASES) {
    const records = new Records(jarApp(formula));
    records.load(
      't_jars0000',
      rows.map((r, i) => ({ id: `j${i}`, cells: { f_quantity: r.Quantity, f_price000: r.Price, f_name0000: r.Name } })),
    );
    const slot = records.model.tables.get('t_jars0000')!.slots.get('f_formula0')!;
    const ours = fastest(() => {
      records.forgetAll();
      for (const row of records.rows('t_jars0000')) row.read(slot);
    });
    const kept = new Array<unknown>(ROWS);
    const hand = fastest(() => {
      kept.fill(undefined);
      for (let i = 0; i < ROWS; i++) kept[i] ??= byHand(rows[i]!);
    });
    for (const [i, row] of records.rows('t_jars0000').entries())
      if (row.read(slot) !== byHand(rows[i]!)) throw new Error(`${formula}: the two do not agree.`);
    console.log(`  ${formula}`);
    line('   as a field of 100,000 records', ours, 'hand-written JavaScript', hand, 'within 5 times');
    referenceBench(formula, rows);
  }
}

function referenceBench(formula: string, rows: readonly Jar[]): void {
  const name = (n: keyof Jar): Name => ({
    id: '',
    name: n,
    type: n === 'Name' ? TEXT : NUMBER,
    read: (f) => (f[1] as unknown as Jar)[n],
  });
  const names = [name('Quantity'), name('Price'), name('Name')];
  const few = 300;
  const frame: Value[] = [{ now: wallClock } as unknown as Value, null];
  const compiled = compile(formula, { names, firstSlot: 2 });
  const each = (work: (r: Jar) => unknown): number =>
    fastest(() => {
      for (let i = 0; i < few; i++) work(rows[i]!);
    }, 5) / few;
  const run = (c: typeof compiled, r: Jar): Value => {
    frame[1] = r as unknown as Value;
    return c.run(frame);
  };
  const both = each((r) => run(compile(formula, { names, firstSlot: 2 }), r));
  const theirs = each((r) => reference.evaluate(formula, r as unknown as Record<string, unknown>));
  line('   one record, parsing on both sides', both, 'feelin', theirs, 'stated as it is');
  const neither = each((r) => run(compiled, r));
  const ourParsing = each(() => parse(formula, ['Quantity', 'Price', 'Name']));
  const parsing = each((r) => reference.parseExpression(formula, r as never, undefined));
  line(
    '   one record, parsing on neither',
    neither,
    'feelin less its parsing',
    Math.max(theirs - parsing, 1e-6),
    'stated as it is',
  );
  console.log(`      parsing alone: ours ${format(ourParsing)}, theirs ${format(parsing)}`);
}
