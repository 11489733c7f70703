/** What links to somebody have in place of their id who was erased. No record ever has such an id. */
const FORMER = /^former-[a-z0-9]{10}$/;

export const isFormer = (cell: unknown): cell is string => FORMER.test(cell as string);
