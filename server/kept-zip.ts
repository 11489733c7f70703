import { readFile } from 'node:fs/promises';
import { once } from 'node:events';
import type { Response } from 'express';
import { strToU8, Zip, ZipPassThrough } from 'fflate';
import type { KeptAbout } from '../core/released/kept-about.ts';

/**
 * Sends what is kept about somebody as a ZIP file: `kept.json` with the records and sessions, and the files that records
 * hold. One file after the other is read, so that no more than one is in memory.
 */
export async function sendKept(
  res: Response,
  { files, paths, ...kept }: KeptAbout & { sessions: object[]; paths: string[] },
): Promise<void> {
  res.set({ 'content-type': 'application/zip', 'content-disposition': 'attachment; filename="kept.zip"' });
  const zip = new Zip((error, part, isLast) => {
    if (error) return void res.destroy(error);
    res.write(part);
    if (isLast) res.end();
  });
  const put = (name: string, content: Uint8Array): void => {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    entry.push(content, true);
  };
  // A file that has gone since it was named is said to be missing, not left out in silence.
  const missing: string[] = [];
  for (const [i, { name }] of files.entries()) {
    const content = await readFile(paths[i]!).catch(() => null);
    if (content) put(name, new Uint8Array(content));
    else missing.push(name);
    if (res.destroyed) return;
    if (res.writableNeedDrain) await Promise.race([once(res, 'drain'), once(res, 'close')]);
  }
  put('kept.json', strToU8(JSON.stringify({ ...kept, ...(missing.length && { missing }) }, null, 2)));
  zip.end();
}
