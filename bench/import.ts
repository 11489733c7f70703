import Papa from 'papaparse';
import { bring } from '../core/formats/bring.ts';
import { line } from './measure.ts';

/** Import of a CSV of 100,000 rows to typed records, against reading and typing it by hand, column by column (on Papa Parse). */
export async function importBench(): Promise<void> {
  const rows = ['Code,Name,When,Quantity,Price,Mail,Done'];
  for (let i = 0; i < 100_000; i++)
    rows.push(
      `HB-${i},Jar number ${i % 300},2026-${String(1 + (i % 12)).padStart(2, '0')}-${String(1 + (i % 28)).padStart(2, '0')},${i % 40},${(i % 900) / 100},a${i % 90}@x.example,${i % 2 ? 'yes' : 'no'}`,
    );
  const text = rows.join('\n');
  const bytes = new TextEncoder().encode(text);
  const time = async (work: () => unknown): Promise<number> => {
    let best = Infinity;
    for (let i = 0; i < 4; i++) {
      const started = performance.now();
      await work();
      best = Math.min(best, performance.now() - started);
    }
    return best;
  };
  line(
    '100,000 rows to typed records',
    await time(() => bring([{ name: 'moves.csv', bytes }])),
    'the same typed by hand (on Papa Parse)',
    await time(() => typedByHand(text)),
    'within 4 times',
  );
}

/** What a programmer writes who knows the columns: nothing is guessed, and what does not fit is empty. */
function typedByHand(text: string): unknown[] {
  const [, ...rows] = Papa.parse<string[]>(text).data;
  return rows.map(([code, name, when, quantity, price, mail, done]) => {
    const date = /^(\d{4})-(\d{2})-(\d{2})$/.exec(when ?? '');
    const isDay =
      date &&
      new Date(Date.UTC(Number(date[1]), Number(date[2]) - 1, Number(date[3]))).getUTCDate() === Number(date[3]);
    const number = (t: string | undefined): number | null => (t && Number.isFinite(Number(t)) ? Number(t) : null);
    return {
      code,
      name,
      when: isDay ? when : null,
      quantity: number(quantity),
      price: number(price),
      mail: /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(mail ?? '') ? mail : null,
      done: done === 'yes' ? true : done === 'no' ? false : null,
    };
  });
}
