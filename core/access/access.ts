import type { Change } from '../records/change.ts';

/** Who asks: the holder of the owner key, or anyone who has the app's link. */
export interface Who {
  kind: 'owner' | 'link';
}

/**
 * Stands in the path of every read and write of a released app. At this stage an app is open to whoever has its
 * link; roles and rules take this interface's place without another change.
 */
export interface Access {
  mayRead(who: Who, table: string): boolean;
  /** Why the change is refused, or null when it is allowed. */
  refusal(who: Who, change: Change): string | null;
}

export const openToLinkHolders: Access = {
  mayRead: () => true,
  refusal: () => null,
};
