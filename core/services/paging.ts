import { addressIn, linkTo } from './links.ts';
import { picked } from './picks.ts';
import type { Read } from './reply.ts';
import type { Paging, ServiceRequest } from './schema.ts';
import type { Inputs } from './given.ts';

/** What the next page of a list is asked with: a number, a mark of the service, or an address. */
export type Page = string | number;

/** The inputs of a request for a page; the first without one. */
export function withPage(request: Pick<ServiceRequest, 'paging'>, inputs: Inputs, page: Page | undefined): Inputs {
  const { paging } = request;
  if (!paging || !('input' in paging)) return inputs;
  if (page !== undefined) return { ...inputs, [paging.input]: page };
  return paging.by === 'page' ? { ...inputs, [paging.input]: paging.first } : inputs;
}

/**
 * The address of a page whose own address the service gave. It may differ from that of the request in its query alone, and
 * in no part of it that the request itself says: nobody reaches by it what the app does not describe.
 */
export function pageAddress(first: string, page: string, own: readonly string[]): string | null {
  let next: URL;
  const url = new URL(first);
  try {
    next = new URL(page, first);
  } catch {
    return null;
  }
  if (next.origin !== url.origin || next.pathname !== url.pathname) return null;
  const fixed = new Set(own);
  for (const name of new Set(next.searchParams.keys())) {
    if (fixed.has(name)) continue;
    url.searchParams.delete(name);
    for (const value of next.searchParams.getAll(name)) url.searchParams.append(name, value);
  }
  return url.href;
}

/** With what the page after an answer is asked for; null where it was the last. `before` counts all records so far. */
export function pageAfter(
  paging: Paging | undefined,
  answer: { read: Read; headers: readonly (readonly [string, string])[] },
  page: Page | undefined,
  rows: number,
  before: number,
): Page | null {
  if (!paging || rows === 0) return null;
  const at = (path: string): unknown => (answer.read.is === 'json' ? picked(answer.read.value, path)[0] : undefined);
  switch (paging.by) {
    case 'page':
      return (typeof page === 'number' ? page : paging.first) + 1;
    case 'offset':
      return before + rows;
    case 'mark': {
      const mark = at(paging.at);
      return (typeof mark === 'string' && mark !== '') || typeof mark === 'number' ? mark : null;
    }
    case 'link':
      return linkTo(answer.headers, 'next');
    case 'address':
      return addressIn(at(paging.at));
  }
}
