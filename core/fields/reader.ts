/**
 * Reading dates, times and the like as people write them. Only where something is typed or brought is this needed, so a
 * first screen does without: whoever reads such texts imports `typed-texts.ts` first.
 */
export type Reader = Pick<
  typeof import('./read-text.ts'),
  'readDateText' | 'readDateTimeText' | 'readTimeText' | 'readDurationText' | 'readYesNoText'
>;

let known: Reader | null = null;
export const readBy = (reader: Reader): void => {
  known = reader;
};

export function reader(): Reader {
  if (!known) throw new Error('What reads typed texts is not loaded.');
  return known;
}
