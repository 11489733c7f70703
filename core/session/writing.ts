/** What a session needs when something is written, in one file to be fetched. */
export { completed } from '../records/begin.ts';
export { readForm } from './forms.ts';
