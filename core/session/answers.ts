import { Failed } from '../routines/asks.ts';
import type { KeptValue } from '../records/kept-value.ts';
import { keptValue } from '../records/kept-value.ts';
import { readCell } from '../records/cells.ts';
import type { ServiceAnswer } from '../services/answer.ts';
import { requestIn, type Asking } from '../services/answer-type.ts';

/** What a routine has in hand of an answer. Throws in words where it is a refusal, or none came. */
export function keptAnswer(app: Asking, id: string, answer: ServiceAnswer): KeptValue {
  if (answer.said !== null)
    throw new Failed(
      [answer.said, ...answer.notes.slice(0, 1).map((n) => `It says: ${n}`)].join(' '),
      answer.failure ?? 'other',
    );
  const context: Record<string, KeptValue> = { status: answer.status };
  for (const p of requestIn(app, id)?.picks ?? []) {
    const cell = answer.picks[p.id] ?? null;
    const one = { ...p, several: false };
    context[p.id] = Array.isArray(cell)
      ? { list: cell.map((c) => keptValue(readCell(one, c))) }
      : keptValue(readCell(p, cell));
  }
  for (const t of app.tables) {
    const rows = answer.rows[t.id]?.map((r) => ({ table: t.id, record: r.id }));
    if (rows) context[t.id] = t.fetched?.request === id ? { list: rows } : (rows[0] ?? null);
  }
  return { context };
}
