import { useEffect, useState } from 'react';
import { isKeptAddress } from '../core/fields/kept-address.ts';
import type { PlayerApi } from './api.ts';

/**
 * A drawing that uses something again, as base 64 or text has those words; whether it comes to too much is looked at
 * before it is shown.
 */
export const USES = /^data:image.svg.*(PHVzZ|x1c2|8dXNl|dXJs|VybC|1cmw|use|url)/is;

/**
 * What a page shows an address by: itself, or for a kept file its content. Null while that is on its way; `lost` when it
 * cannot be had, until there is a network again or the part is shown anew.
 */
export function useKept(api: Pick<PlayerApi, 'file'>, address: string): { url: string | null; lost: boolean } {
  const kept = isKeptAddress(address) || USES.test(address);
  const [had, setHad] = useState<{ address: string; url: string | null } | null>(null);
  const [tries, setTries] = useState(0);
  const here = had?.address === address ? had : null;
  const lost = kept && here !== null && here.url === null;
  useEffect(() => {
    const again = (): void => setTries((n) => n + 1);
    if (lost) addEventListener('online', again);
    return () => removeEventListener('online', again);
  }, [lost]);
  useEffect(() => {
    if (!kept) return undefined;
    let wanted = true;
    const addresses = import('./kept-addresses.ts');
    void addresses
      .then((m) => m.take(api, address))
      .then(
        (url) => wanted && setHad({ address, url }),
        () => wanted && setHad({ address, url: null }),
      );
    return () => {
      wanted = false;
      void addresses.then((m) => m.letGo(address)).catch(() => undefined);
    };
  }, [api, address, kept, tries]);
  if (!kept) return { url: address || null, lost: false };
  return { url: here?.url ?? null, lost };
}

/** Only addresses that a picture can have; anything else is no picture. */
export const isPicture = (address: string): boolean => /^(https?:|data:image\/|blob:|\/)/i.test(address);
