import { z } from 'zod';
import { CellsSchema, type RecordState } from '../records/change.ts';
import { readApp } from '../app/document.ts';
import { UnreadableError, firstIssue } from '../document/unreadable.ts';
import type { App } from '../app/schema.ts';

/** An exported app: the document, its records and the key that proves who owns it. */
export interface Bundle {
  app: App;
  records: { table: string; id: string; cells: Record<string, string | number | boolean | null> }[];
  ownerKey: string | null;
  address: string | null;
}

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
});

/** The text of an exported app. */
export function writeBundle(b: Bundle): string {
  const { app, records, ownerKey, address } = b;
  return `${JSON.stringify({ format: BUNDLE_FORMAT, version: 1, app, records, ownerKey, address })}\n`;
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
  if (Number((json as { version?: unknown }).version) > 1)
    throw new UnreadableError(`${what} was made with a newer Mellow Kite. Update this one, then open it again.`);
  const parsed = BundleSchema.safeParse(json);
  if (!parsed.success) throw new UnreadableError(`${what} is damaged: ${firstIssue(parsed.error)}`);
  const { app, records, ownerKey, address } = parsed.data;
  return { app: readApp(app, what), records, ownerKey, address };
}
