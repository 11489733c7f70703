import { mkdir, open, rename } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';

/** What is written here is on the disk when it is said to be: content before names, and names before what they replace goes. */

/** Brings the names in a folder to the disk. */
export async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Makes a folder, and those above it, where it is not there. */
export async function makeFolder(folder: string): Promise<void> {
  const first = await mkdir(folder, { recursive: true });
  if (first === undefined) return;
  const least = resolve(first).length;
  for (let made = resolve(folder); made.length >= least; made = dirname(made)) await syncFolder(dirname(made));
}

/** Writes a file that is new or written over, whole. */
export async function writeSynced(path: string, content: string | Uint8Array, mode?: number): Promise<void> {
  const file = await open(path, 'w', mode);
  try {
    await file.writeFile(content);
    await file.sync();
  } finally {
    await file.close();
  }
}

/** Writes a file so that it is either the old one or the new one, whole, even if the power fails. */
export async function writeWhole(path: string, content: string | Uint8Array, mode?: number): Promise<void> {
  const part = `${path}.part`;
  await writeSynced(part, content, mode);
  await rename(part, path);
  await syncFolder(dirname(path));
}
