import { sha256 } from '@noble/hashes/sha2.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';
import { base64Of } from '../document/base64.ts';
import type { RecordState } from '../records/change.ts';

/**
 * A name for what somebody has of a record: the same wherever the same cells were written by the same changes. Every
 * change has a stamp of its own, so the stamps say what the cells hold. Values that the host works out have none: they
 * count as they are.
 */
export function versionOf({ cells, stamp, stamps, removed = '', restored = '', told, hidden }: RecordState): string {
  const fields = Object.keys(cells).sort();
  const text = [removed, restored, ...fields.flatMap((f) => [f, stamps?.[f] ?? stamp])];
  if (hidden) text.push(...hidden);
  if (told)
    text.push(
      JSON.stringify(
        Object.keys(told)
          .sort()
          .map((f) => [f, told[f]]),
      ),
    );
  return base64Of(sha256(utf8ToBytes(text.join(' '))).slice(0, 12));
}
