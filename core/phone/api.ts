import type { Cell } from '../fields/lists.ts';
import type { Answer } from '../routines/asks.ts';
import type { Knows } from '../routines/trigger.ts';
import type { Patch } from '../screens/live-screen.ts';
import type { SaveAnswer } from '../session/effects.ts';
import type { Opening, TypedAnswer } from '../session/variables.ts';

/** Whose record the person who uses the app is, in the table of people. */
export interface PersonRecord {
  table: string;
  record: string;
}

/** What a page asks of the phone behind it, wherever that runs. */
export interface PhoneApi {
  /** Shows a screen in a view: all of it as the first patch, then what changes. False when there is no such screen. */
  show(
    view: string,
    screen: string,
    record: string | null,
    take: (patch: Patch) => Promise<void>,
    /** Which opening of the screen this is, among those that are open; none where nobody walks, as in a preview. */
    opening?: Opening,
  ): Promise<boolean>;
  leave(view: string): Promise<void>;
  /** What a person does to see an element otherwise: scrolls a list, types words to look for. */
  look(view: string, key: string, change: Record<string, unknown>): Promise<void>;
  /**
   * An element was tapped, or the row of a list; `property` names another tap than the first, `knows` what is known of
   * it. Effects follow.
   */
  tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void>;
  /** What a person said, or the device gave, when an effect asked for it. */
  answered(id: string, answer: Answer): Promise<void>;
  /** A row of a list was dragged before the record of another, or to the end. */
  moved(view: string, key: string, before: string | null): Promise<void>;
  /** A person fills in an input of a variable. Gives what it shows then, or what is wrong in words. */
  typed(variable: string, cell: Cell): Promise<TypedAnswer>;
  /** Saves values of a record, those of a whole form or, where `isPart` says so, of a single input. */
  saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean): Promise<SaveAnswer>;
  /** Asks again for all that services answered and is shown. */
  again(): Promise<void>;
  /** What waits to be written as a record by its service is sent now, also where it was refused, or taken back. */
  waits(record: string, then: 'send' | 'take back'): Promise<void>;
  /** Somebody is back from the page where they signed in, with a code, what proves that it is for them, and where they are back. */
  cameBack(code: string, verifier: string, back: string): Promise<void>;
  choices(table: string, search: string): Promise<{ id: string; title: string }[]>;
  /** Keeps a file and gives the address that a record holds it by. Rejects in words when it cannot be kept. */
  keepFile(content: Blob, name: string): Promise<string>;
  /** The content behind such an address; null when it cannot be had now. */
  file(address: string): Promise<Blob | null>;
  /** Titles of records, by id. */
  titles(table: string, ids: string[]): Promise<Record<string, string>>;
  /** By this secret the host knows the device again; from a page it is waited for. */
  readonly ear?: string | Promise<string>;
  /** Who uses the app here, by name; null while nobody has said so. */
  person(): Promise<string | null>;
  /** From now on this person uses it, or nobody known. */
  beUsedBy(person: string | null, record?: PersonRecord | null): Promise<void>;
}
