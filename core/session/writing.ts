import type { App } from '../app/schema.ts';
import { aOrAn } from '../document/names.ts';
import { completed } from '../records/begin.ts';
import type { Draft } from '../records/change.ts';
import { refusedHere } from '../records/refused-here.ts';
import type { Records } from '../records/store.ts';
import { tableOf } from '../tables/names.ts';

/** Changes with what the app itself fills in. Throws in words where whoever uses the app may not make them. */
export function readyToWrite(records: Records, drafts: Draft[]): Draft[] {
  const whole = completed(records, drafts);
  const refused = refusedHere(records, whole);
  if (refused) throw new Error(refused);
  return whole;
}

/** What a change that was made is called where things that happen are listed. */
export function wroteSaid(app: App, records: Records, d: Draft): string {
  const table = tableOf(app, d.table);
  const title = records.row(d.table, d.record)?.title();
  const one = aOrAn(table?.one ?? 'record');
  return d.do === 'remove' ? `Removed ${one}` : `Saved ${title ?? one} in ${table?.name}`;
}
