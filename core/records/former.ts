import { newId } from '../document/ids.ts';

/** What links to somebody have in place of their id who was erased. No record ever has such an id. */
const FORMER = /^former-[a-z0-9]{10}$/;

export const isFormer = (cell: unknown): cell is string => typeof cell === 'string' && FORMER.test(cell);
export const newFormer = (): string => `former-${newId('x').slice(2)}`;
/** How it reads: “a former keeper”. */
export const formerWords = (one: string): string => `a former ${one}`;
