import { PIECE_BYTES } from '../core/fields/kept-file.ts';
import { OfflineError } from '../core/host/link.ts';

/** How much of a file the host has. */
export interface Arrival {
  offset: number;
  complete: boolean;
}

/** Asks the host, in JSON; a piece goes as it is. */
export type AskHost = (path: string, init?: { method: string; piece: Blob }) => Promise<Arrival>;

/** Sends a file piece by piece from where the host has it to. `heard` hears how many bytes it has. */
export async function sendFile(
  path: string,
  ask: AskHost,
  size: number,
  content: Blob,
  heard: (bytes: number) => void,
): Promise<void> {
  const arrived = (): Promise<Arrival> => ask(`${path}/arrived`);
  let { offset, complete } = await arrived();
  for (let astray = 0; !complete;) {
    heard(offset);
    const piece = content.slice(offset, offset + PIECE_BYTES);
    const next = ask(`${path}?offset=${offset}&size=${size}`, { method: 'PATCH', piece });
    ({ offset, complete } = await next.catch((e: unknown) => {
      // Another device sends the same file, or the host has lost its beginning.
      if ((e as { status?: number }).status !== 409) throw e;
      if (++astray > 20) throw new OfflineError('The host does not take this file now.');
      return arrived();
    }));
  }
  heard(size);
}
