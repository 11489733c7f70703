import type { Sending } from '../../core/host/link.ts';
import { create } from 'zustand';

interface Revisions {
  /** Grows whenever records or the document change; who shows figures of them asks again. */
  revision: number;
  /** The same, per table. */
  tableRevision: Record<string, number>;
  /** How the released app's host is reached; null when there is none. */
  host: { online: boolean; waiting: number; sending: Sending | null } | null;
  /** Grows when a mirrored table stands differently with its file. */
  mirrorRevision: number;
}

const NONE: Revisions = { revision: 0, tableRevision: {}, host: null, mirrorRevision: 0 };

/** Numbers that say when something kept by the engine has changed. */
export const useRevisions = create<Revisions>(() => NONE);

export const revised = {
  reset: (): void => useRevisions.setState(NONE),
  document: (): void => useRevisions.setState((s) => ({ revision: s.revision + 1 })),
  tables: (tables: readonly string[]): void =>
    useRevisions.setState((s) => ({
      revision: s.revision + 1,
      tableRevision: {
        ...s.tableRevision,
        ...Object.fromEntries(tables.map((t) => [t, (s.tableRevision[t] ?? 0) + 1])),
      },
    })),
  mirrors: (): void => useRevisions.setState((s) => ({ mirrorRevision: s.mirrorRevision + 1 })),
  host: (host: Revisions['host']): void => useRevisions.setState({ host }),
};
