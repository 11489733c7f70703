import { OfflineError, type HostLink } from '../host/link.ts';
import { HistoryMessage, type HistoryAsked } from '../released/history.ts';

/** As much of a phone as this asks. */
interface Asks {
  readonly device: { readonly waiting: number };
  connect(): Promise<unknown>;
}

/**
 * Asks the host what happened to a record, when it has what was written here. Rejects in words where that cannot be known
 * now, or not by this person.
 */
export async function askHistory(
  phone: Asks,
  link: Required<Pick<HostLink, 'sends'>>,
  { table, record, from }: HistoryAsked,
): Promise<HistoryMessage> {
  if (phone.device.waiting) await phone.connect();
  try {
    return HistoryMessage.parse(await link.sends(`/history/${table}/${encodeURIComponent(record)}?from=${from}`));
  } catch (e) {
    if (e instanceof OfflineError)
      throw new Error('What was before is known to the server, which cannot be reached now.', { cause: e });
    throw e;
  }
}
