import type { Records } from '../records/store.ts';
import type { Overtaken } from './protocol.ts';

/** Says to the person who wrote them which values do not stand, because others wrote the same cells later. */
export function overtakenSaid(records: Records, overtaken: readonly Overtaken[]): string {
  const [first] = overtaken;
  if (!first) return '';
  const model = records.model.tables.get(first.table);
  const names = first.fields.map((f) => model?.fields.get(f)?.name ?? 'A field');
  const title = records.row(first.table, first.record)?.title() || `this ${model?.table.one ?? 'record'}`;
  const more = overtaken.length - 1;
  const stands = names.length > 1 ? 'Those values stand.' : 'That value stands.';
  const others = more > 0 ? ` So ${more === 1 ? 'was another record' : `were ${more} other records`}.` : '';
  return `${names.join(' and ')} of ${title} ${names.length > 1 ? 'were' : 'was'} also changed elsewhere, later. ${stands}${others}`;
}
