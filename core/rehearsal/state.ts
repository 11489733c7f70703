import type { Pace } from './pace.ts';
import type { PhoneState } from './rehearsed-phone.ts';
import type { ServiceFault } from './samples.ts';

/** Something that the clock of a rehearsal will come to. */
export interface Upcoming {
  at: number;
  said: string;
}

/** A rehearsal as it stands now. */
export interface RehearsalState {
  /** Its time, in milliseconds since 1970. */
  now: number;
  pace: Pace;
  /** Where time goes to now; null while it goes nowhere. */
  target: number | null;
  phones: PhoneState[];
  next: Upcoming | null;
  /** The faults of services, by their ids. */
  faults: Record<string, ServiceFault>;
  /** The number of the latest note. */
  notes: number;
}

/** A mail as somebody outside writes it. */
export interface OutsideMail {
  from: string;
  name: string;
  subject: string;
  words: string;
  answers?: string | undefined;
  /** Its files, in base 64. */
  files?: { name: string; type: string; data: string }[];
}

/** A record that is otherwise than at the beginning. */
export interface ChangedRecord {
  table: string;
  record: string;
  name: string;
  did: 'added' | 'changed' | 'removed';
  by: string[];
  fields: { id: string; name: string; was: string; is: string }[];
}
