import type { Persona } from './cast.ts';
import type { Note } from './notes.ts';
import type { PhoneAct } from './phone-acts.ts';
import type { RehearsedPhone } from './rehearsed-phone.ts';
import type { ServiceFault } from './samples.ts';
import type { OutsideMail } from './state.ts';

/** What happens around the phones of a rehearsal. */
export type RoomAct =
  | { did: 'passed'; ms: number }
  | { did: 'went to'; from: number; to: number }
  /** The way that time went was ended here. */
  | { did: 'stopped'; at: number }
  | { did: 'wrote'; mail: OutsideMail }
  | { did: 'called'; routine: string; body: string }
  | { did: 'fault'; service: string; fault: ServiceFault }
  | { did: 'signed in'; phone: string; mail: string };

/** Hears what is done in a rehearsal, before anything comes of it. */
export interface HearsActs {
  phone(phone: RehearsedPhone, act: PhoneAct, persona?: Persona): void;
  room(act: RoomAct): void;
  noted(note: Note): void;
}
