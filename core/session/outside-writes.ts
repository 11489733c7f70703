import type { Cell } from '../fields/lists.ts';
import type { Draft } from '../records/change.ts';
import { fetchedSaid } from '../records/checks.ts';
import type { Records } from '../records/store.ts';
import { Failed } from '../routines/asks.ts';
import { newId } from '../document/ids.ts';
import { EMPTY, type AskedMessage, type ServiceAnswer } from '../services/answer.ts';
import { keyFor } from '../services/answer-type.ts';
import type { Table } from '../tables/schema.ts';
import type { SaveAnswer } from './effects.ts';
import type { ServicesHere } from './ports.ts';

const WAITS = 'Kept on this phone. It is sent as soon as there is a network.';
/** A longer name of a record tells nobody anything. */
const LONGEST_NAME = 20;

/** What came of asking a service to write. */
type Wrote = SaveAnswer & { failure?: string };

/**
 * Has the service of a fetched table add a record, or change one. What it refuses is told at its fields, as far as it says
 * at which; lists that show the table are asked for anew.
 */
export async function saveByService(
  records: Records,
  table: Table,
  record: string | null,
  cells: Record<string, Cell>,
  services: ServicesHere | undefined,
): Promise<Wrote> {
  const { waiting } = services ?? {};
  // What waits to be added is mended by adding it as it is now.
  const mended = record === null ? undefined : waiting?.added(record);
  const isNew = record === null || mended !== undefined;
  const writes = isNew ? table.fetched!.adds : table.fetched!.changes;
  if (!writes || !services) return { problems: { '': fetchedSaid(table) } };
  const before = record === null ? {} : (records.row(table.id, record)?.cells ?? {});
  const lost = untaken(table, writes.values, before, cells);
  if (lost) return { problems: lost };
  const inputs: Record<string, Cell> = {};
  for (const { input, field } of writes.values) {
    const cell = field in cells ? cells[field]! : (before[field] ?? null);
    // Emptied is something else than never filled in.
    if (cell !== null || (before[field] ?? null) !== null) inputs[input] = cell;
  }
  const once = mended?.message.once ?? onceFor(services, writes.request, inputs);
  const match = isNew ? {} : matching(services, table, record);
  const message: AskedMessage = { request: writes.request, inputs, ...match, once };
  const answer = await asked(services, message);
  if (answer.failure === 'no network' && writes.waits && waiting) {
    const waits = { table: table.id, record, adds: isNew, cells: { ...before, ...cells }, message };
    return { saved: await waiting.keep(waits), created: isNew, said: WAITS };
  }
  if (answer.failure === 'changed' && record !== null) await records.fetcher?.renew(table.id, record);
  if (answer.said !== null)
    return {
      problems: problemsOf(table, writes.values, answer),
      ...(answer.failure && { failure: answer.failure }),
    };
  const saved = answer.rows[table.id]?.[0];
  if (mended && record !== null) await waiting!.drop(record);
  else if (record !== null && saved?.mark === undefined) services.unmark(table.id, record);
  records.fetcher?.changed(table.id);
  const said = isNew && saved && saved.id.length <= LONGEST_NAME ? { said: `Saved as ${saved.id}` } : {};
  return { saved: saved?.id ?? (isNew ? '' : record!), created: isNew, ...said };
}

/** The same that was sent without an answer goes out under the same name, so that it is not done twice. */
const unanswered = new WeakMap<ServicesHere, Map<string, string>>();
function onceFor(services: ServicesHere, request: string, inputs: Readonly<Record<string, Cell>>): string {
  const known = unanswered.get(services) ?? new Map<string, string>();
  unanswered.set(services, known);
  const key = JSON.stringify([request, inputs]);
  const once = known.get(key) ?? newId('o');
  known.set(key, once);
  return once;
}

/** Has the service of a fetched table remove a record, which is gone here then. */
async function removeByService(
  records: Records,
  table: Table,
  record: string,
  services: ServicesHere | undefined,
): Promise<Wrote> {
  const removes = table.fetched!.removes;
  if (!removes || !services) return { problems: { '': fetchedSaid(table) } };
  const { waiting } = services;
  if (waiting?.added(record)) {
    await waiting.drop(record);
    return { saved: record, created: false };
  }
  const inputs = { [removes.input]: keyFor(records.model.app, removes, record) };
  const once = onceFor(services, removes.request, inputs);
  const answer = await asked(services, {
    request: removes.request,
    inputs,
    ...matching(services, table, record),
    once,
  });
  // Somebody else has removed it already: it is gone as was wanted.
  if (answer.said !== null && answer.failure !== 'not found')
    return { problems: problemsOf(table, [], answer), ...(answer.failure && { failure: answer.failure }) };
  records.remove(table.id, record);
  records.fetcher?.changed(table.id);
  return { saved: record, created: false };
}

/** Writes what a routine or a button changes in fetched tables; gives the id of what it wrote last. Throws in words. */
export async function writeOutside(
  records: Records,
  drafts: readonly Draft[],
  together: boolean,
  services: ServicesHere | undefined,
): Promise<{ table: string; record: string } | null> {
  if (drafts.length > 1 && together)
    throw new Failed(
      'A service takes one record at a time, so several cannot be changed all or none. Do it for each of them.',
      'not asked',
    );
  let last: { table: string; record: string } | null = null;
  for (const d of drafts) {
    const { table } = records.model.tables.get(d.table)!;
    const isThere = records.row(d.table, d.record) !== undefined;
    const wrote: Wrote =
      d.do === 'set'
        ? await saveByService(records, table, isThere ? d.record : null, d.cells, services)
        : d.do === 'remove'
          ? await removeByService(records, table, d.record, services)
          : { problems: { '': fetchedSaid(table) } };
    if ('problems' in wrote) throw new Failed(inWords(table, wrote.problems), wrote.failure ?? 'not asked');
    last = { table: d.table, record: wrote.saved };
  }
  return last;
}

/** What the service has changed meanwhile is said by it, where it marks its records. */
function matching(services: ServicesHere, table: Table, record: string | null): Pick<AskedMessage, 'match'> {
  const mark = record === null ? null : services.markOf(table.id, record);
  return mark === null ? {} : { match: mark };
}

async function asked(services: ServicesHere, message: AskedMessage): Promise<ServiceAnswer> {
  try {
    const answer = await services.askService(message);
    unanswered.get(services)?.delete(JSON.stringify([message.request, message.inputs]));
    if (answer.failure !== 'changed' || message.match === undefined) return answer;
    return {
      ...answer,
      said: 'Somebody else has changed it meanwhile. What is there now has been fetched: save once more to put yours in its place.',
    };
  } catch (e) {
    const said = `Nothing was saved: ${(e as Error).message} What you typed is still here.`;
    return { ...EMPTY, said, failure: 'no network' };
  }
}

/** What is changed though the request takes no such value: it would be lost without a word. */
function untaken(
  { fields }: Table,
  taken: readonly { field: string }[],
  before: Readonly<Record<string, Cell>>,
  cells: Readonly<Record<string, Cell>>,
): Record<string, string> | null {
  const lost = Object.keys(cells).filter(
    (id) => !taken.some((v) => v.field === id) && (cells[id] ?? null) !== (before[id] ?? null),
  );
  if (lost.length === 0) return null;
  return Object.fromEntries(
    lost.map((id) => [id, `The service takes no ${fields.find((f) => f.id === id)?.name ?? 'such value'} here.`]),
  );
}

function inWords({ fields }: Table, problems: Readonly<Record<string, string>>): string {
  return Object.entries(problems)
    .map(([id, said]) => [fields.find((f) => f.id === id)?.name, said].filter(Boolean).join(': '))
    .join(' ');
}

function problemsOf(
  table: Table,
  values: readonly { input: string; field: string }[],
  answer: ServiceAnswer,
): Record<string, string> {
  const problems: Record<string, string> = {};
  for (const [input, words] of Object.entries(answer.problems ?? {})) {
    const field = values.find((v) => v.input === input)?.field;
    if (field && table.fields.some((f) => f.id === field)) problems[field] = words;
  }
  if (Object.keys(problems).length === 0) problems[''] = [answer.said, ...answer.notes.slice(0, 1)].join(' ');
  return problems;
}
