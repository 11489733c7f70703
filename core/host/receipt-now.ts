import type { Change, RecordState } from '../records/change.ts';
import type { Formers } from './formers.ts';
import type { Receipt } from './protocol.ts';

/**
 * A receipt with all records as they are after the turn; and without what its person has written and may not read.
 * `shown` gives the record of a change as far as that person may see it.
 */
export function receiptNow(
  receipt: Receipt,
  changes: readonly Change[],
  at: number,
  formers: Formers,
  shown: (of: Pick<Change, 'table' | 'record'>) => RecordState[],
): Receipt {
  const now = (list: readonly RecordState[]): RecordState[] =>
    list.flatMap((s) => shown({ table: s.table, record: s.id }));
  const kept = new Set(receipt.accepted);
  const given = new Map<string, RecordState>();
  const forget = new Set<string>();
  for (const c of changes) {
    if (!kept.has(c.id) || c.do === 'remove') continue;
    const [seen] = shown(c);
    const written = [...Object.keys(c.cells ?? {}), ...(c.do === 'raise' ? Object.keys(c.by) : [])];
    if (!seen) forget.add(c.record);
    else if (formers.in(c) !== c || written.some((f) => !(f in seen.cells))) given.set(c.record, seen);
  }
  return {
    ...receipt,
    at,
    refused: receipt.refused.map((r) => ({ ...r, state: shown(r)[0] ?? null })),
    corrected: now(receipt.corrected),
    ...(receipt.raised && { raised: now(receipt.raised) }),
    ...(given.size && { given: [...given.values()] }),
    ...(forget.size && { forget: [...forget] }),
  };
}
