import type { Go } from '../phone/places.ts';
import type { Cell } from '../fields/lists.ts';
import type { Answer } from '../routines/asks.ts';
import type { Knows } from '../routines/trigger.ts';
import type { Network } from '../world/network.ts';
import type { Persona } from './cast.ts';
import type { Note } from './notes.ts';
import type { RehearsedPhone } from './rehearsed-phone.ts';
import type { ServiceFault } from './samples.ts';
import type { OutsideMail } from './state.ts';

/** What somebody does on a phone, as the page tells it, or what becomes of the phone. */
export type PhoneAct =
  | { did: 'tapped'; view: string; key: string; property?: string | undefined; knows?: Knows | undefined }
  | { did: 'saved'; table: string; record: string | null; values: Record<string, Cell>; isPart: boolean }
  | { did: 'typed'; variable: string; cell: Cell }
  | { did: 'looked'; view: string; key: string; change: Record<string, unknown> }
  | { did: 'moved'; view: string; key: string; before: string | null }
  | { did: 'answered'; id: string; answer: Answer }
  | { did: 'went'; to: Go }
  | { did: 'left'; anyway: boolean }
  | { did: 'kept a file'; content: Blob; name: string; address: string }
  | { did: 'network'; network: Network }
  | { did: 'clock'; ahead: number }
  | { did: 'went off' | 'opened' | 'came' | 'goes' };

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
