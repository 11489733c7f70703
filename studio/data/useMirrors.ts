import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { MirrorsMessage, MirrorStatus } from '../../core/mirror/state.ts';
import { useEngine, useHome, useStudio } from '../state/studio.ts';
import { useRevisions } from '../state/revisions.ts';

/** The host's sheets folder and how every mirrored table stands with its file; null when the app is not released. */
export function useMirrors(): { state: MirrorsMessage | null; again(): void } {
  const engine = useEngine();
  const home = useHome();
  const released = useStudio((s) => s.kept?.released?.at);
  const mirrorRevision = useRevisions((s) => s.mirrorRevision);
  const { data, refetch } = useQuery({
    queryKey: ['mirrors', home, released, mirrorRevision],
    queryFn: () => engine.host.mirrors(),
    placeholderData: keepPreviousData,
    enabled: released !== undefined,
    retry: false,
  });
  return { state: data ?? null, again: () => void refetch() };
}

export const mirrorOf = (state: MirrorsMessage | null, table: string): MirrorStatus | undefined =>
  state?.mirrors.find((m) => m.table === table);
