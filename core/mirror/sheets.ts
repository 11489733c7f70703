import { formatNamed } from '../formats/formats.ts';

/** What tells one state of a file from another. */
export interface Stamp {
  /** Milliseconds. */
  time: number;
  size: number;
  inode: number;
}
export const sameStamp = (a: Stamp | null, b: Stamp | null): boolean =>
  a?.time === b?.time && a?.size === b?.size && a?.inode === b?.inode;

/** Can it be mirrored, by its ending? */
const hasKind = (name: string): boolean => formatNamed(name)?.open !== undefined;

/** May this be the name of a file in the sheets folder? No paths, nothing hidden. */
export const isFileName = (name: string): boolean =>
  !/^[.~]/.test(name) && !/[\\/\0]/.test(name) && name.length > 0 && name.length <= 200 && hasKind(name);

export const notThere = (name: string): string => `“${name}” is not in the sheets folder, or is not yours.`;

/** A file of the folder: its sheets, or what keeps it from being read. */
export interface Listed {
  name: string;
  sheets: string[];
  problem: string | null;
}

/** The files that the tables of one app can mirror; other people's files are not there. */
export interface SheetsPort {
  list(): Promise<Listed[]>;
  /** Null when there is no such file. */
  stamp(name: string): Promise<Stamp | null>;
  read(name: string): Promise<Uint8Array>;
  write(name: string, bytes: Uint8Array): Promise<void>;
  /** Does another program hold it open? */
  isOpenElsewhere(name: string): Promise<boolean>;
  /** The name that a file has now which was known by another; null where there is none. */
  findByInode(inode: number): Promise<string | null>;
  /** Makes a new file. */
  create(name: string, content: () => Promise<Uint8Array>): Promise<void>;
  /** The file belongs to this app from now on. */
  claim(name: string): Promise<void>;
}
