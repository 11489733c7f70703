import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Service, Where } from '../../core/services/schema.ts';
import { ask } from '../../player/link.ts';
import { useStudio } from '../state/studio.ts';

interface KnownSecret {
  service: string;
  where: Where;
  origin: string;
}

/** The scheme, host and port of an address; null where it is none. */
export function originOf(address: string): string | null {
  try {
    const { origin, protocol } = new URL(address);
    return /^https?:$/.test(protocol) ? origin : null;
  } catch {
    return null;
  }
}

/** The address of a service for one use; the first for both where there is one only. */
export const addressFor = (service: Service, where: Where): string =>
  service.sign.how === 'client' ? service.sign.tokens : (where === 'live' && service.live) || service.test;

/** The keys of this app’s services that the host has. What they are it tells nobody. */
export function useSecrets() {
  const app = useStudio((s) => s.app?.id ?? '');
  const key = useStudio((s) => s.kept?.ownerKey ?? '');
  const client = useQueryClient();
  const path = `/api/services/${app}/secrets`;
  const queryKey = ['secrets', app];
  const { data, error } = useQuery({
    queryKey,
    queryFn: () => ask<KnownSecret[]>(path, { key }),
    enabled: Boolean(app),
  });
  return {
    error: error as Error | null,
    /** Is there a key of a service for the address that it has now? */
    has: (service: Service, where: Where): boolean => {
      const origin = originOf(addressFor(service, where));
      return Boolean(data?.some((s) => s.service === service.id && s.where === where && s.origin === origin));
    },
    /** Gives the host a key, or takes it away. Rejects in words. */
    keep: async (service: Service, where: Where, secret: string | null): Promise<void> => {
      const origin = originOf(addressFor(service, where));
      if (!origin) throw new Error('Give the service its address first: the key is kept for that address alone.');
      await ask(path, { method: 'PUT', key, json: { service: service.id, where, origin, secret } });
      await client.invalidateQueries({ queryKey });
    },
  };
}
