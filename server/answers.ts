import { UnreadableError } from '../core/document/unreadable.ts';
import { Refused } from '../core/document/refused.ts';

/** What the packages below refuse, in words. */
const REFUSALS: Record<number, string> = {
  400: 'The request cannot be read.',
  413: 'This is more than the server takes at once.',
  415: 'The request is in an encoding that the server does not read. Send JSON in UTF-8.',
  416: 'This part of the file does not exist.',
};

/** The status and words for an error; nothing of the inside is in them. What nobody foresaw goes to the terminal. */
export function answerTo(error: unknown): { status: number; message: string } {
  const e = error as Error & { status?: number; type?: string; issues?: { path: PropertyKey[]; message: string }[] };
  if (e instanceof Refused) return { status: e.status, message: e.message };
  if (e instanceof UnreadableError) return { status: 422, message: e.message };
  if (e.issues) {
    const [first] = e.issues;
    const where = first ? ` at ${first.path.map(String).join('.')}: ${first.message}` : '';
    return { status: 422, message: `The request is not as it should be${where}.` };
  }
  if (e.type === 'entity.parse.failed') return { status: 400, message: 'The request is not JSON.' };
  if ((e as NodeJS.ErrnoException).code === 'ENOSPC')
    return { status: 507, message: 'The server’s disk is full; nothing was changed. Free some space, then try again.' };
  // Bad percent signs, charsets, encodings, ranges: whoever reads requests below says so by a status.
  if (typeof e.status === 'number' && e.status >= 400 && e.status < 500)
    return { status: e.status, message: REFUSALS[e.status] ?? 'The request is not as it should be.' };
  console.error(error);
  return { status: 500, message: 'Something failed in the server; nothing was changed. Its terminal says what.' };
}
