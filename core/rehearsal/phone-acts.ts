import type { Go } from '../phone/places.ts';
import type { Cell } from '../fields/lists.ts';
import type { Answer } from '../routines/asks.ts';
import type { Knows } from '../routines/trigger.ts';
import type { Network } from '../world/network.ts';

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
