import { useEffect, useState } from 'react';
import { isKeptAddress } from '../core/fields/kept-address.ts';
import type { PlayerApi } from './api.ts';

/**
 * What a page shows an address by: itself, or for a kept file its content. Null while that is on its way; `lost` when it
 * cannot be had, until there is a network again or the part is shown anew.
 */
export function useKept(api: Pick<PlayerApi, 'file'>, address: string): { url: string | null; lost: boolean } {
  const kept = isKeptAddress(address);
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
