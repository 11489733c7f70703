/** Name and version of the app document's format. */
export const FORMAT = 'mellow-kite-app';
export const VERSION = 2;
