import { readFile } from 'node:fs/promises';
import { transfer } from 'comlink';
import { readApp } from '../core/app/document.ts';
import type { App } from '../core/app/schema.ts';
import { Refused } from '../core/document/refused.ts';
import { readKeptAddress } from '../core/fields/kept-address.ts';
import type { News } from '../core/host/protocol.ts';
import type { Happening } from '../core/released/ports.ts';
import type { OpenQuestion } from '../core/runs/questions.ts';
import type { FilesFolder } from './files-folder.ts';
import { eventText } from './live.ts';

/** What a running app says by itself. */
export type AppNews =
  /** An event as it goes over the wire, for some who listen, by their names; with the number of the last change in it. */
  | { kind: 'news'; to: string[]; message: Uint8Array<ArrayBuffer>; at: number; view?: string | undefined }
  | Exclude<Happening, { kind: 'news' }>
  /** What people are asked now, by their names. */
  | { kind: 'asks'; of: Record<string, OpenQuestion[]> }
  /** A mirrored table stands differently with its file. */
  | { kind: 'mirror'; table: string };

/** A value as JSON in bytes. */
export const inBytes = (value: unknown): Uint8Array<ArrayBuffer> => new TextEncoder().encode(JSON.stringify(value));
/** The same, given over to whoever it is sent to. */
export const inJson = (value: unknown): Uint8Array => {
  const bytes = inBytes(value);
  return transfer(bytes, [bytes.buffer]);
};

/** News are written once for all who hear them, and given to the server as they are. */
export function tellNews(to: string[], news: News, tell: (news: AppNews) => unknown): void {
  const message = new TextEncoder().encode(eventText('news', news));
  tell(transfer({ kind: 'news', to, message, at: news.at, view: news.view }, [message.buffer]));
}

/** The content of a kept file; null where it is not here. */
export async function contentAt(files: FilesFolder, address: string): Promise<Blob | null> {
  const kept = readKeptAddress(address);
  const content = kept && (await files.content(kept.hash));
  return content && new Blob([new Uint8Array(content)], { type: kept.type });
}

/** The document of an app, from a file. */
export const documentAt = async (path: string): Promise<App> =>
  readApp(JSON.parse(await readFile(path, 'utf8')), 'The app');

/** JSON from bytes. Throws in words where it is none. */
export function parsed(body: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.length).toString('utf8'));
  } catch {
    throw new Refused(400, 'The request is not JSON.');
  }
}
