import { expose } from 'comlink';
import { richPieces, type RichPiece } from '../core/document/rich-words.ts';
import { madeBytes, type Made } from '../core/formats/made/made-bytes.ts';
import type { MadeFile } from '../core/routines/made.ts';

/** What is done apart from the page, since it may take long for what somebody wrote. */
const apart = {
  /** Answers when the rest can begin. */
  isHere: (): true => true,
  rich: (words: string): RichPiece[] => richPieces(words),
  /** `picture` is what is behind the address of a picture in the file. */
  make: (file: MadeFile, picture: { bytes: Uint8Array; type: string } | null): Promise<Made> =>
    madeBytes(file, async () => {
      if (!picture) throw new Error('The picture of the file cannot be had.');
      return picture;
    }),
};
export type Apart = typeof apart;

expose(apart);
