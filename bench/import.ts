import Papa from 'papaparse';
import { bring } from '../core/formats/bring.ts';
import { line } from './measure.ts';

/** Import of a CSV of 100,000 rows to typed records, against parsing alone (Papa Parse). */
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
    'parsing alone (Papa Parse)',
    await time(() => Papa.parse(text)),
    'no more than a few times',
  );
}
