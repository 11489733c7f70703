import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';
import type { FileStore } from '../core/phone/files.ts';

/** For tests of components: what jsdom leaves out and components ask for. Importing it puts it in place. */
class NoObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal('ResizeObserver', NoObserver);
Element.prototype.scrollTo = () => undefined;
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.hasPointerCapture = () => false;
afterEach(cleanup);

/** Files of a device that forgets them with the test. */
export function memoryFiles(): FileStore {
  const kept = new Map<string, Blob>();
  return {
    file: async (hash) => kept.get(hash) ?? null,
    keepFile: async (hash, content) => void kept.set(hash, content),
    forgetFiles: async (used) => {
      for (const hash of kept.keys()) if (!used.has(hash)) kept.delete(hash);
    },
  };
}
