import type { Step } from '../../../core/app/schema.ts';
import { stepKinds } from '../../../core/routines/kinds.ts';
import type { Hand } from './hand.ts';
import { fieldIn, pathTo } from './values.ts';

/** Signs that nobody types, in place of the braces that somebody typed: readers make braces of their own. */
const [OPEN, CLOSE] = ['\uE000', '\uE001'];
const PLACE = /\uE000([^\uE000\uE001]*)\uE001/g;

export const hideBraces = (typed: string): string =>
  typed
    .replace(/[\uE000\uE001]/g, '')
    .replace(/\{/g, OPEN!)
    .replace(/\}/g, CLOSE!);
export const showBraces = (words: string): string => words.replace(/\uE000/g, '{').replace(/\uE001/g, '}');

/** Words with the values that were named in braces; braces that name nothing stay words. */
function asTemplate(words: string, hand: Hand): string {
  const places = words.replace(PLACE, (all, name: string) => {
    const field = fieldIn(name, hand);
    return field && !field.of.several ? `{${pathTo(field, hand)}}` : all;
  });
  return places.replace(/\uE000/g, '{{').replace(/\uE001/g, '}');
}

/** A step with the braces that were typed: values in its words, and signs like others in texts and names. */
export function withBraces<T>(thing: T, hand: Hand): T {
  if (typeof thing === 'string') return showBraces(thing) as T;
  if (Array.isArray(thing)) return thing.map((x: unknown) => withBraces(x, hand)) as T;
  if (typeof thing !== 'object' || thing === null) return thing;
  const properties = stepKinds.get((thing as Partial<Step>).do ?? '')?.properties;
  return Object.fromEntries(
    Object.entries(thing).map(([key, value]: [string, unknown]) => [
      key,
      properties?.[key]?.is === 'words' && typeof value === 'string'
        ? asTemplate(value, hand)
        : withBraces(value, hand),
    ]),
  ) as T;
}
