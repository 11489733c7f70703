import type { MadeContact } from '../../routines/made.ts';
import { folded } from './fold.ts';

/** What one reader or another takes for the end of a line (Unicode, 5.8). */
const LINE_END = /\r\n?|[\n\v\f\u0085\u2028\u2029]/g;

/** A text as the value of a property. */
const escape = (s: string): string =>
  s
    .replace(/\\/g, '\\\\')
    .replace(LINE_END, '\\n')
    // Control characters have no place in a card.
    .replace(/\p{Cc}/gu, '')
    .replace(/,/g, '\\,');

/** The same as one of several parts: only there a semicolon stands between (RFC 6350, 3.4), and readers take back only that. */
const escapePart = (s: string): string => escape(s).replace(/;/g, '\\;');

/** Contacts as vCard 4.0 (RFC 6350), one card behind the other. */
export const contactsText = (contacts: readonly MadeContact[]): string =>
  contacts
    .flatMap((c) => [
      'BEGIN:VCARD',
      'VERSION:4.0',
      `FN:${escape(c.name || '(no name)')}`,
      ...c.mails.map((m) => `EMAIL:${escape(m)}`),
      ...c.phones.map((p) => `TEL:${escape(p)}`),
      ...(c.company ? [`ORG:${escapePart(c.company)}`] : []),
      // The parts of an address are not told apart: all of it is its street (the third part of seven).
      ...(c.address ? [`ADR:;;${escapePart(c.address)};;;;`] : []),
      ...(c.note ? [`NOTE:${escape(c.note)}`] : []),
      'END:VCARD',
    ])
    .map((line) => `${folded(line)}\r\n`)
    .join('');
