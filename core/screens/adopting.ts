import type { Value } from '../formula/values.ts';
import type { CompiledNode } from './compile.ts';
import type { Instance } from './instance.ts';

/** What a screen that is open lends to whoever mends it after a change of the document. */
export interface Drawer {
  instance(node: CompiledNode, prefix: string, frame: Value[]): Instance;
  draw(i: Instance): void;
  forget(i: Instance): void;
}

/**
 * Puts an element of a changed document in the place of what it was. A phone fetches it with what takes newer releases;
 * without it a screen is drawn anew as a whole.
 */
export const adopting: { become: ((at: Drawer, i: Instance, node: CompiledNode) => void) | null } = { become: null };
