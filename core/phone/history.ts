import { OfflineError } from '../host/link.ts';
import { HistoryMessage, type HistoryAsked } from '../released/history.ts';

/** Asks the host what happened to a record. Rejects in words where that cannot be known now, or not by this person. */
export async function askHistory(
  sends: (path: string) => Promise<unknown>,
  { table, record, from }: HistoryAsked,
): Promise<HistoryMessage> {
  try {
    return HistoryMessage.parse(await sends(`/history/${table}/${encodeURIComponent(record)}?from=${from}`));
  } catch (e) {
    if (e instanceof OfflineError)
      throw new Error('What was before is known to the server, which cannot be reached now.', { cause: e });
    throw e;
  }
}
