import type { KeptFile } from '../core/fields/kept-address.ts';
import { sendPieces, type PieceWay } from '../core/host/send-pieces.ts';

/** As much of a link as this needs: sends something to a path of the app. */
interface Sends {
  sends<T>(path: string, init?: { method?: string; piece?: Blob }): Promise<T>;
}

/** Sends a file that records hold in pieces; `heard` is told how many bytes have arrived. */
export function sendFile(
  link: Sends,
  { hash, size }: KeptFile,
  content: Blob,
  heard: (bytes: number) => void,
): Promise<void> {
  const path = `/files/${hash}`;
  const way: PieceWay = {
    arrived: () => link.sends(`${path}/arrived`),
    send: (offset, piece) => link.sends(`${path}?offset=${offset}&size=${size}`, { method: 'PATCH', piece }),
  };
  return sendPieces(way, size, content, heard);
}
