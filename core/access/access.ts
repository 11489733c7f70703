import type { Change, MadeByRun, RecordState } from '../records/change.ts';
import type { App } from '../app/schema.ts';
import type { PhoneRules } from './phone-rules.ts';
import type { Records } from '../records/store.ts';

/** Who asks, as the host has found out. What a device says of itself is no part of it. */
export interface Who {
  /** The holder of the app's key, somebody who has signed in, or nobody in particular: anyone who has the link. */
  kind: 'owner' | 'somebody' | 'nobody';
  /** Their record in the table of people; null where they have none. */
  person: string | null;
  /** The address by which they have signed in: they are that person only while the record says the same. */
  mail?: string;
  /** A routine of the host asks, with the rights of the app itself: its run, and the routines that led to it. */
  run?: MadeByRun;
}

export const NOBODY: Who = { kind: 'nobody', person: null };
export const OWNER: Who = { kind: 'owner', person: null };

/** One text for each who, to tell them apart by. */
export const nameOfWho = ({ kind, person }: Who): string => (person === null ? kind : `${kind} ${person}`);

/** A record that may be read. */
export interface SeenRecord {
  table: string;
  id: string;
  fields: ReadonlySet<string>;
}

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
  /** Both at once, where they are known together: the fields of a record that may be read; null where it may not be. */
  fieldsSeen?(rights: string, record: RecordState): ReadonlySet<string> | null;
  /** Why the change is refused, or null when it is allowed. */
  refusal(who: Who, change: Change): string | null;
  /** The fields of a record whose past somebody may look back at, of those they may read; null for none. */
  looksBack(who: Who, record: RecordState): ReadonlySet<string> | null;
  /** What phones of those with some rights are told of what they may do; null where they may do everything. */
  forPhones(rights: string): PhoneRules | null;
  /** Their record in the table of people, as long as they may use it. */
  personOf(who: Who): string | null;
  /** The records that may be read otherwise than when this was asked last, by id; null where any may be. */
  touched(): ReadonlySet<string> | null;
  /** It is another number whenever somebody's rights may be others than before. */
  rightsAt(): number;
  /** All records that may be read, with the fields of each; without it each record is asked about. */
  allSeen?(rights: string): Iterable<SeenRecord>;
  /** Names under which those with some rights are found who may read a record; see {@link seenUnder}. */
  namesOf?(rights: string): readonly string[];
  /** Whoever may read a record has one of these names, and some others may have; null where anybody might. */
  seenUnder?(record: RecordState): readonly string[] | null;
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
  // Whoever has the link sees what is there, not what was.
  looksBack: () => null,
  forPhones: () => null,
  personOf: (who) => who.person,
  touched: () => NONE,
  rightsAt: () => 0,
  told: () => [],
  allTold: new Map(),
});
