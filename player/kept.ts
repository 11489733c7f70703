import { useEffect, useState } from 'react';
import { isKeptAddress } from '../core/fields/kept-address.ts';
import type { PhoneApi } from '../core/phone/api.ts';
import { useBarred } from './context.ts';

/**
 * A drawing that uses something again, as base 64 or text has those words; whether it comes to too much is looked at
 * before it is shown.
 */
export const USES = /^data:image.svg.*(PHVzZ|x1c2|8dXNl|dXJs|VybC|1cmw|use|url)/is;

/** What a page shows an address by. */
interface Had {
  /** Null while it is on its way, and for what is not shown. */
  url: string | null;
  /** It cannot be had until there is a network again, or the part is shown anew. */
  lost: boolean;
  /** Why it is not shown, where that is how the app is made. */
  why?: string;
}

/** What a page shows an address by: itself, or for a kept file its content. */
export function useKept(api: Pick<PhoneApi, 'file'>, address: string): Had {
  const barred = useBarred(address);
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
  if (barred) return { url: null, lost: true, why: barredSaid(barred) };
  if (!kept) return { url: address || null, lost: false };
  return { url: here?.url ?? null, lost };
}

/** Why nothing of a host is shown. */
export const barredSaid = (host: string): string => `This app takes nothing from ${host}.`;

/** Only addresses that a picture can have; anything else is no picture. */
export const isPicture = (address: string): boolean => /^(https?:|data:image\/|blob:|\/)/i.test(address);
