/**
 * Files that routines make, as data: a step says what stands in the file, and its bytes are made where the file is
 * kept, by `core/formats/made`, so that a routine need not load what writes them.
 */
export type MadeFile = { name: string } &
  /** A table as text, its head first: CSV (RFC 4180). */
  (
    | { is: 'csv'; lines: string[][] }
    /** iCalendar (RFC 5545). */
    | { is: 'calendar'; events: MadeEvent[] }
    /** vCard (RFC 6350). */
    | { is: 'contacts'; contacts: MadeContact[] }
    /** PDF (ISO 32000). */
    | { is: 'pdf'; page: MadePage }
    /** A QR code (ISO/IEC 18004) as a picture. */
    | { is: 'qr'; words: string }
  );

/**
 * When something is: a day, from midnight to midnight; a time by the clock of the place; or a moment the world over, in
 * milliseconds from 1970 in UTC.
 */
export type MadeTime = { day: string } | { clock: string } | { moment: number };

export interface MadeEvent {
  id: string;
  title: string;
  start: MadeTime;
  /** The last day, or the moment it ends; of the same kind as the start. */
  end: MadeTime | null;
  /** Minutes it lasts, where no end is known. */
  lasts: number;
  place: string;
  words: string;
}

export interface MadeContact {
  name: string;
  mails: string[];
  phones: string[];
  company: string;
  address: string;
  note: string;
}

export interface MadePage {
  turned: boolean;
  /** The address of a picture at its head; empty for none. */
  picture: string;
  /** Words as CommonMark has them. */
  before: string;
  table: { head: string[]; figures: boolean[]; lines: string[][]; sums: string[] | null } | null;
  after: string;
}
