import * as reference from 'feelin';
import { compile } from '../core/formula/compile.ts';
import { wallClock } from '../core/formula/wall-clock.ts';
import { NUMBER, TEXT } from '../core/formula/types.ts';
import type { Name } from '../core/formula/scope.ts';
import type { Value } from '../core/formula/values.ts';
import { fastest, format, line } from './measure.ts';

const ROWS = 100_000;

/** Compiled formulas over 100,000 records, against the same in hand-written JavaScript and the reference interpreter (feelin). */
export async function formulaBench(): Promise<void> {
  const rows = Array.from({ length: ROWS }, (_, i) => ({
    Quantity: (i % 17) + 1,
    Price: (i % 900) / 100 + 0.99,
    Name: `Jar ${i % 50}`,
  }));
  const names: Name[] = [
    { id: '', name: 'Quantity', type: NUMBER, read: (f) => (f[1] as unknown as (typeof rows)[number]).Quantity },
    { id: '', name: 'Price', type: NUMBER, read: (f) => (f[1] as unknown as (typeof rows)[number]).Price },
    { id: '', name: 'Name', type: TEXT, read: (f) => (f[1] as unknown as (typeof rows)[number]).Name },
  ];
  const cases: [string, (r: (typeof rows)[number]) => unknown][] = [
    ['Quantity * Price', (r) => Math.round(r.Quantity * r.Price * 1e10) / 1e10],
    [
      'if Quantity > 10 then Price * 0.9 else Price',
      (r) => (r.Quantity > 10 ? Math.round(r.Price * 0.9 * 1e10) / 1e10 : r.Price),
    ],
    ['upper case(Name) + " x " + string(Quantity)', (r) => `${r.Name.toUpperCase()} x ${String(r.Quantity)}`],
    ['Quantity between 5 and 12 and Price < 5', (r) => r.Quantity >= 5 && r.Quantity <= 12 && r.Price < 5],
  ];
  for (const [formula, byHand] of cases) {
    const compiled = compile(formula, { names, firstSlot: 2 });
    if (compiled.problems.length) throw new Error(compiled.problems[0]!.message);
    const frame: Value[] = [{ now: wallClock } as unknown as Value, null];
    const out: unknown[] = new Array(ROWS);
    const ours = fastest(() => {
      for (let i = 0; i < ROWS; i++) {
        frame[1] = rows[i] as unknown as Value;
        out[i] = compiled.run(frame);
      }
    });
    const hand = fastest(() => {
      for (let i = 0; i < ROWS; i++) out[i] = byHand(rows[i]!);
    });
    const few = 300;
    const theirs =
      fastest(() => {
        for (let i = 0; i < few; i++) out[i] = reference.evaluate(formula, rows[i]!);
      }, 3) *
      (ROWS / few);
    console.log(`  ${formula}: ${format(ours / ROWS)} a record`);
    line('   100,000 records', ours, 'hand-written JavaScript', hand, 'within 5 times');
    line('   100,000 records', ours, 'the reference interpreter feelin', theirs, '1,000 times faster');
  }
}
