import { wrap, type Remote } from 'comlink';
import { looksLikeOData } from '../../core/services/odata/looks.ts';
import { fetchData } from '../bring/fetch-data.ts';
import type { Described, DescribeWorker, TakenOperation } from './describe-worker.ts';

let worker: Remote<DescribeWorker> | null = null;
const describing = (): Remote<DescribeWorker> =>
  (worker ??= wrap<DescribeWorker>(new Worker(new URL('./describe-worker.ts', import.meta.url), { type: 'module' })));

/** Does a text look like a description of a service rather than an address or a curl line? */
export const looksDescribed = (text: string): boolean =>
  (/^\s*(\{|---|openapi\s*:|swagger\s*:|#)/.test(text) &&
    /["']?(openapi|swagger)["']?\s*:/.test(text.slice(0, 20_000))) ||
  (/^\s*(\{|<)/.test(text) && looksLikeOData(text));

/** May there be a description at an address? */
export const mayLeadToOne = (text: string): boolean =>
  /^https?:\/\/\S+$/i.test(text.trim()) &&
  /\.(json|ya?ml)(\?|$)|openapi|swagger|api-docs|\$metadata/i.test(text.trim());

/** Reads a description; rejects in words. */
export const readDescription = (text: string, what: string, from?: string): Promise<Described> =>
  describing().read(text, what, from);

/** Fetches what is at an address and reads it as a description; null where it is none. */
export async function fetchDescription(address: string): Promise<Described | null> {
  const { file } = await fetchData(address.trim(), new AbortController().signal);
  const text = await file.text();
  return looksDescribed(text) ? readDescription(text, 'The description', address.trim()) : null;
}

export const takeOperations = (keys: readonly string[]): Promise<TakenOperation[]> => describing().take(keys);
