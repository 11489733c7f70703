import type { KeptFile } from '../core/fields/kept-address.ts';
import { sendPieces, type PieceWay } from '../core/host/send-pieces.ts';
import type { HttpLink } from './link.ts';

/** Sends a file that records hold in pieces; `heard` is told how many bytes have arrived. */
export function sendFile(
  link: HttpLink,
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
