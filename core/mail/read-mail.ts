import { convert } from 'html-to-text';
import PostalMime from 'postal-mime';
import { isMailAddress, plainMail } from '../document/addresses.ts';
import { newWords } from './reply.ts';

/** A file that came with a mail. */
export interface MailFile {
  name: string;
  /** Media type. */
  type: string;
  content: Uint8Array;
}

/** What a mail says (RFC 5322 with MIME), in whatever character set it came. */
export interface ReadMail {
  /** Its id, without brackets; empty where it has none. */
  id: string;
  from: { name: string; address: string };
  /** Whom it is to: the first address. */
  to: string;
  /** When it was written, in milliseconds since 1970; 0 where it does not say. */
  at: number;
  subject: string;
  /** All of its words, from HTML where it has no plain text. */
  whole: string;
  /** What is new in them, apart from what is quoted and the signature. */
  words: string;
  /** The messages it refers to, by their ids, the first of the thread first. */
  refers: string[];
  /**
   * Who has written it: a person; a machine by itself (RFC 3834), which is never answered; or a mail server that could
   * not deliver (RFC 3464).
   */
  by: 'person' | 'machine' | 'mail server';
  /** The messages that could not be delivered, by their ids. */
  returned: string[];
  files: MailFile[];
}

/** Letters of a mail’s words, and of its HTML, that are taken; a longer one is refused, and not cut. */
const MOST_WORDS = 500_000;
const MOST_HTML = 2_000_000;
const idsIn = (text: string | undefined): string[] =>
  Array.from(text?.matchAll(/<([^<>\s]{3,250})>/g) ?? [], ([, id]) => id!);
const bytesOf = (content: ArrayBuffer | Uint8Array | string): Uint8Array =>
  typeof content === 'string' ? new TextEncoder().encode(content) : new Uint8Array(content);

/** HTML as words, without what is not seen. */
const wordsOfHtml = (html: string): string =>
  convert(html, {
    wordwrap: false,
    limits: { maxInputLength: MOST_HTML },
    selectors: [
      { selector: 'img', format: 'skip' },
      { selector: 'a', options: { hideLinkHrefIfSameAsText: true } },
      { selector: 'table', format: 'dataTable' },
    ],
  });

/** Reads a mail as it came, in bytes. Rejects where it is none. */
export async function readMail(raw: Uint8Array): Promise<ReadMail> {
  const mail = await PostalMime.parse(raw, { maxNestingDepth: 50, maxHeadersSize: 512_000 });
  const header = (name: string): string => mail.headers.find((h) => h.key === name)?.value.trim() ?? '';
  if (!mail.text?.trim() && (mail.html?.length ?? 0) > MOST_HTML)
    throw new Error(`its HTML has more than ${MOST_HTML.toLocaleString('en-GB')} letters.`);
  const whole = (mail.text?.trim() ? mail.text : wordsOfHtml(mail.html ?? '')).trim();
  if (whole.length > MOST_WORDS) throw new Error(`its words have more than ${MOST_WORDS.toLocaleString('en-GB')} letters.`);
  const address = plainMail(mail.from?.address ?? '');
  const answers = idsIn(header('in-reply-to'));
  const refers = [...new Set([...idsIn(header('references')), ...answers])];
  const isReport = /^multipart\/report\b/i.test(header('content-type'));
  const files = mail.attachments.map((a) => ({
    name: a.filename?.trim() || 'file',
    type: /^[\w.+-]{1,60}\/[\w.+-]{1,80}$/.test(a.mimeType) ? a.mimeType.toLowerCase() : 'application/octet-stream',
    content: bytesOf(a.content as ArrayBuffer),
  }));
  return {
    id: idsIn(header('message-id'))[0] ?? '',
    from: { name: (mail.from?.name ?? '').trim(), address: isMailAddress(address) ? address : '' },
    to: plainMail(mail.to?.[0]?.address ?? ''),
    at: Date.parse(mail.date ?? '') || 0,
    subject: (mail.subject ?? '').replace(/\s+/g, ' ').trim(),
    whole,
    words: newWords(whole),
    refers,
    by: isReport || isFromServer(address, header('return-path')) ? 'mail server' : isAutomatic(header) ? 'machine' : 'person',
    returned: isReport || isFromServer(address, header('return-path')) ? returnedIn(files, whole) : [],
    files: isReport ? [] : files,
  };
} // prettier-ignore

/** Mail servers write from no address, or from that of the daemon (RFC 5321, 4.5.5). */
const isFromServer = (address: string, returnPath: string): boolean =>
  returnPath === '<>' || /^(mailer-daemon|postmaster)@/.test(address);

/** Was it written by a machine, as its headers say (RFC 3834, 5; and what list servers and answering machines write)? */
function isAutomatic(header: (name: string) => string): boolean {
  const auto = header('auto-submitted').toLowerCase();
  if (auto && !/^no\b/.test(auto)) return true;
  if (/^(bulk|list|junk|auto_reply)$/i.test(header('precedence'))) return true;
  return [
    'x-autoreply',
    'x-autorespond',
    'x-auto-response-suppress',
    'list-id',
    'list-unsubscribe',
    'feedback-id',
  ].some((h) => header(h) !== '');
}

/** The ids of the messages that a report is about: in its parts, or as its words quote them. */
function returnedIn(files: readonly MailFile[], whole: string): string[] {
  const texts = [whole, ...files.filter((f) => f.content.length < 100_000).map((f) => new TextDecoder().decode(f.content))];
  return [
    ...new Set(texts.flatMap((t) => Array.from(t.matchAll(/^(?:Original-)?Message-ID:\s*<([^<>\s]+)>/gim), ([, id]) => id!))),
  ];
} // prettier-ignore

const bare = (subject: string): string =>
  subject
    .replace(/^(\s*(re|aw|antw|sv|vs|r|odp|ref|fwd?|wg|tr|rv)(\[\d+\])?\s*:\s*)+/i, '')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase();

/**
 * The thread that a mail belongs to: that of the first message it refers to which is known, or of an address with a mark;
 * else that of the same sender with the same subject, where it is an answer by its subject; else one of its own.
 * `known` gives the thread of a message, or of such a pair; `mark` is what the address it came to has behind its plus.
 */
export function threadOf(
  mail: Pick<ReadMail, 'id' | 'refers' | 'subject' | 'from'>,
  known: (key: string) => string | undefined,
  mark: string | null,
): string {
  const byMark = mark === null ? undefined : known(`mark ${mark}`);
  if (byMark) return byMark;
  for (const id of mail.refers) {
    const thread = known(id);
    if (thread) return thread;
  }
  const isAnswer = bare(mail.subject) !== mail.subject.trim().toLowerCase();
  const same = isAnswer ? known(pairOf(mail)) : undefined;
  return same ?? mail.refers[0] ?? mail.id;
}

/** A sender and a subject, by which an answer is known that refers to nothing. */
export const pairOf = ({ from, subject }: Pick<ReadMail, 'from' | 'subject'>): string =>
  `pair ${from.address} ${bare(subject)}`;
