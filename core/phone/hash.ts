/** What files are named by; apart, so that it comes only where files are kept or fetched. */
export { hashOf, keptFile } from '../fields/keep-file.ts';
