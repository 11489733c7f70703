import { openToLinkHolders, type AccessTo } from './access.ts';
import { RuledAccess } from './ruled.ts';

/** Access as the document of an app says: by its rules, or open where it has none. It stays the one that it began as. */
export const asDocumented: AccessTo = (records, app) =>
  app().access ? new RuledAccess(records, app) : openToLinkHolders(records, app);
