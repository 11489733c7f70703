import type { Change, RecordState } from '../records/change.ts';
import type { App } from '../app/schema.ts';
import type { Records } from '../records/store.ts';

/** Who asks, as the host has found out. What a device says of itself is no part of it. */
export interface Who {
  /** The holder of the app's key, somebody who has signed in, or nobody in particular: anyone who has the link. */
  kind: 'owner' | 'somebody' | 'nobody';
  /** Their record in the table of people; null where they have none. */
  person: string | null;
  /** The address by which they have signed in: they are that person only while the record says the same. */
  mail?: string;
}

export const NOBODY: Who = { kind: 'nobody', person: null };
export const OWNER: Who = { kind: 'owner', person: null };

/** One text for each who, to tell them apart by. */
export const nameOfWho = ({ kind, person }: Who): string => (person === null ? kind : `${kind} ${person}`);

/**
 * Says who may do what with the records of a released app. It is asked before anything is read or written; a record is
 * given as it is then, and with all others at hand.
 */
export interface Access {
  /** Everybody may read everything, so that nobody is asked record by record. */
  readonly isOpen: boolean;
  /**
   * All that decides what somebody may read, in one text: who they are, as far as that counts, and the roles they have
   * now. Those of the same rights read the same, and share what is made for them.
   */
  rights(who: Who): string;
  mayRead(rights: string, record: RecordState): boolean;
  /** Of a record that they may read. */
  mayReadField(rights: string, record: RecordState, field: string): boolean;
  /** Why the change is refused, or null when it is allowed. */
  refusal(who: Who, change: Change): string | null;
  /** Their record in the table of people, as long as they may use it. */
  personOf(who: Who): string | null;
  /** The records that may be read otherwise than when this was asked last, by id; null where any may be. */
  touched(): ReadonlySet<string> | null;
  /** The ids of records among which are all that may be read; without it any record may be. */
  candidates?(rights: string): Iterable<string>;
  /** The formula fields of a table whose values the host tells those with these rights, since they cannot work them out. */
  told(rights: string, table: string): readonly string[];
  /** All formula fields that are told to anybody, by table. */
  readonly allTold: ReadonlyMap<string, readonly string[]>;
}

/** Makes the access to the records of an app, whose document can change. */
export type AccessTo = (records: Records, app: () => App) => Access;

const NONE: ReadonlySet<string> = new Set();

/** An app without rules is open to whoever has its link. */
export const openToLinkHolders: AccessTo = () => ({
  isOpen: true,
  rights: () => 'everything',
  mayRead: () => true,
  mayReadField: () => true,
  refusal: () => null,
  personOf: (who) => who.person,
  touched: () => NONE,
  told: () => [],
  allTold: new Map(),
});
