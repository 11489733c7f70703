import { draftTable, readRows, type TableDraft, type TypedRows } from './infer.ts';
import { findLinks, type LinkDraft } from './find-links.ts';
import { readSheets } from './read.ts';

export interface Brought {
  drafts: TableDraft[];
  data: TypedRows[];
  links: LinkDraft[];
}

/** Reads files to table drafts with their rows and the links between them. Throws for a file that cannot be read. */
export async function bring(files: readonly { name: string; bytes: Uint8Array }[]): Promise<Brought> {
  const drafts: TableDraft[] = [];
  for (const f of files) {
    for (const sheet of await readSheets(f.name, f.bytes)) drafts.push(draftTable(sheet));
  }
  const data = drafts.map(readRows);
  return { drafts, data, links: findLinks(drafts, data) };
}
