import { z } from 'zod';
import { CellsSchema, type RecordState } from '../records/change.ts';
import { base64Of, fromBase64 } from '../document/base64.ts';
import { hashOf } from '../fields/keep-file.ts';
import { readApp } from '../app/document.ts';
import { UnreadableError, firstIssue } from '../document/unreadable.ts';
import type { App } from '../app/schema.ts';

/** An exported app: the document, its records and the key that proves who owns it. */
export interface Bundle {
  app: App;
  records: { table: string; id: string; cells: Record<string, string | number | boolean | null> }[];
  ownerKey: string | null;
  address: string | null;
  /** The files that records hold, by their hash. */
  files: Record<string, Uint8Array>;
}

const VERSION = 2;
export const BUNDLE_FORMAT = 'mellow-kite-bundle';

const BundleSchema = z.object({
  format: z.literal(BUNDLE_FORMAT),
  version: z.number(),
  app: z.unknown(),
  records: z.array(
    z.object({ table: z.string().max(30), id: z.string().regex(/^[a-zA-Z0-9_-]{1,60}$/), cells: CellsSchema }),
  ),
  ownerKey: z.string().max(100).nullable().default(null),
  address: z.string().max(60).nullable().default(null),
  files: z.record(z.string().regex(/^[A-Za-z0-9_-]{43}$/), z.string()).default({}),
});
/** More than this is no longer one text; bytes. */
const MOST_BYTES = 300 * 1024 * 1024;

/** The text of an exported app. Throws in words when its files are too much for one. */
export function writeBundle(b: Bundle): string {
  const { app, records, ownerKey, address } = b;
  const size = Object.values(b.files).reduce((n, f) => n + f.length, 0);
  if (size > MOST_BYTES)
    throw new Error(
      `The files of this app have ${Math.round(size / 1_048_576)} MB, and one exported app takes ${MOST_BYTES / 1_048_576}. Export all data as a zip instead.`,
    );
  const files = Object.fromEntries(Object.entries(b.files).map(([hash, content]) => [hash, base64Of(content)]));
  // Who knows nothing of files must not take the app without them.
  const version = size > 0 ? VERSION : 1;
  const parts = { format: BUNDLE_FORMAT, version, app, records, ownerKey, address, ...(size > 0 && { files }) };
  return `${JSON.stringify(parts)}\n`;
}

export const recordsOf = (states: Iterable<RecordState>): Bundle['records'] =>
  Array.from(states, (s) => ({ table: s.table, id: s.id, cells: s.cells }));

/** Reads an exported app. Throws {@link UnreadableError} with what is wrong. */
export function readBundle(text: string, fileName: string): Bundle {
  const what = `“${fileName}”`;
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    const begun = text.trimStart().startsWith('{');
    throw new UnreadableError(
      begun
        ? `${what} is cut off or damaged: it begins like an app but does not end like one. Export it again, or copy it once more.`
        : `${what} is not a Mellow Kite app.`,
    );
  }
  if (typeof json !== 'object' || json === null || (json as { format?: string }).format !== BUNDLE_FORMAT)
    throw new UnreadableError(`${what} is not a Mellow Kite app.`);
  if (Number((json as { version?: unknown }).version) > VERSION)
    throw new UnreadableError(`${what} was made with a newer Mellow Kite. Update this one, then open it again.`);
  const parsed = BundleSchema.safeParse(json);
  if (!parsed.success) throw new UnreadableError(`${what} is damaged: ${firstIssue(parsed.error)}`);
  const { app, records, ownerKey, address } = parsed.data;
  return { app: readApp(app, what), records, ownerKey, address, files: readFiles(parsed.data.files, what) };
}

function readFiles(files: Record<string, string>, what: string): Bundle['files'] {
  return Object.fromEntries(
    Object.entries(files).map(([hash, text]) => {
      let content: Uint8Array | null = null;
      try {
        content = fromBase64(text);
      } catch {
        // Said below: it is not what its hash says.
      }
      if (!content || hashOf(content) !== hash)
        throw new UnreadableError(`${what} is damaged: a picture or file in it is not whole. Export it again.`);
      return [hash, content];
    }),
  );
}
