import { useEffect, useMemo, useReducer } from 'react';
import { plainPieces, richPieces, type RichPiece } from '../../../core/document/rich-words.ts';
import { apart, TookTooLong } from '../../../player/apart.ts';

/** So many letters are read at once, whatever they are. */
const AT_ONCE = 1000;
/** What takes longer to read, in milliseconds, stands as it was typed. */
const LIMIT_MS = 2000;
/** So many long texts are kept as they were read. */
const MOST_KEPT = 60;

const read = new Map<string, RichPiece[]>();
function keep(words: string, pieces: RichPiece[]): void {
  if (read.size >= MOST_KEPT) read.delete(read.keys().next().value!);
  read.set(words, pieces);
}

/** The pieces of words. Long ones are read apart from the page, and stand as they were typed until then. */
export function usePieces(words: string): readonly RichPiece[] {
  const [, drawAgain] = useReducer((n: number) => n + 1, 0);
  const isLong = words.length > AT_ONCE;
  const known = isLong ? read.get(words) : undefined;
  useEffect(() => {
    if (!isLong || read.has(words)) return undefined;
    let wanted = true;
    void apart((there) => there.rich(words), LIMIT_MS)
      .then(
        (pieces) => keep(words, pieces),
        // What takes too long once does so again; what could not be fetched is tried anew.
        (e: Error) => e instanceof TookTooLong && keep(words, plainPieces(words)),
      )
      .then(() => wanted && drawAgain());
    return () => {
      wanted = false;
    };
  }, [words, isLong]);
  return useMemo(() => known ?? (isLong ? plainPieces(words) : richPieces(words)), [known, isLong, words]);
}
