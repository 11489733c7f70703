import { useState } from 'react';
import { placeOfHash } from './navigation.ts';
import type { Frame } from './api.ts';

const key = (app: string): string => `kite-started-${app}`;

/**
 * The screen that comes before the first: once on a device, or whenever the app starts. Null for none, and beside the
 * work, where nothing starts.
 */
export function useStart(frame: Frame, isReleased: boolean): string | null {
  const [start] = useState(() => {
    // Whoever follows a link wants what it leads to.
    const { first, every } = isReleased && !placeOfHash(location.hash) ? (frame.starts ?? {}) : {};
    const known = (id: string | undefined): string | null => (id && frame.screens.some((s) => s.id === id) ? id : null);
    try {
      if (known(first) && !localStorage.getItem(key(frame.id))) {
        localStorage.setItem(key(frame.id), '1');
        return known(first);
      }
    } catch {
      // Nothing can be kept here: then it is not known whether this is the first time, and nobody is held up.
    }
    return known(every);
  });
  return start;
}
