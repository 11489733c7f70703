import type { Cell } from '../fields/lists.ts';
import { listOf, NUMBER, type Type } from '../formula/types.ts';
import { cellType } from '../records/cells.ts';
import type { NamedRequest, Tables } from '../tables/names.ts';

/** As much of an app as says what its requests are given and give. */
export type Asking = Pick<Tables, 'tables' | 'services'>;

/** A request by its id. */
export const requestIn = (app: Asking, id: string): NamedRequest | undefined =>
  app.services?.flatMap((s) => s.requests).find((r) => r.id === id);

/** What a routine has in hand when a request was answered: the status, each pick, and the records of fetched tables. */
export function answerType(app: Asking, id: string): Type {
  const request = requestIn(app, id);
  const entries: Record<string, Type> = { status: NUMBER };
  const names: Record<string, string> = {};
  for (const p of request?.picks ?? []) {
    entries[p.id] = p.several ? listOf(cellType({ ...p, several: false })) : cellType(p);
    names[p.id] = p.name;
  }
  for (const t of app.tables) {
    if (t.fetched?.request !== id && t.fetched?.one?.request !== id) continue;
    entries[t.id] = t.fetched.request === id ? listOf({ k: 'record', table: t.id }) : { k: 'record', table: t.id };
    names[t.id] = t.fetched.request === id ? t.name : t.one;
  }
  return { k: 'context', entries, names };
}

/** The input of a request that takes the words people look for, by what it is called; its only text that may be left out. */
export function searchInput(request: NamedRequest | undefined): string | null {
  const texts = request?.inputs.filter((i) => i.optional && i.type === 'text') ?? [];
  const named = texts.find((i) => /^(q|s|search|query|find|text|term|words?|filter|keywords?|name)\b/i.test(i.name));
  return named?.id ?? null;
}

/** What an input is given that takes the key of a record: a number where it is one, as records are named by texts. */
export function keyFor(app: Asking, { request, input }: { request: string; input: string }, id: string): Cell {
  const { type } = requestIn(app, request)?.inputs.find((i) => i.id === input) ?? {};
  return type === 'number' && String(Number(id)) === id ? Number(id) : id;
}
