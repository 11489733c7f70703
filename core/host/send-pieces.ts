import { PIECE_BYTES } from '../fields/kept-file.ts';
import { OfflineError } from './link.ts';

/** How much of a file the host has. */
export interface Arrival {
  offset: number;
  complete: boolean;
}

/** The way of one file to the host. */
export interface PieceWay {
  arrived(): Promise<Arrival>;
  /** Rejects with `status` 409 where the host goes on elsewhere. */
  send(offset: number, piece: Blob): Promise<Arrival>;
}

/** Sends a file piece by piece from where the host has it to. `heard` hears how many bytes it has. */
export async function sendPieces(
  way: PieceWay,
  size: number,
  content: Blob,
  heard: (bytes: number) => void,
): Promise<void> {
  let { offset, complete } = await way.arrived();
  for (let astray = 0; !complete;) {
    heard(offset);
    const next = way.send(offset, content.slice(offset, offset + PIECE_BYTES));
    ({ offset, complete } = await next.catch((e: unknown) => {
      // Another device sends the same file, or the host has lost its beginning.
      if ((e as { status?: number }).status !== 409) throw e;
      if (++astray > 20) throw new OfflineError('The host does not take this file now.');
      return way.arrived();
    }));
  }
  heard(size);
}
