import type { SearchWords } from '../../core/document/search-words.ts';

/** What people look for the themes by: how they look. Apart from the definitions, since the player loads those. */
export const THEME_WORDS: Readonly<Record<string, SearchWords>> = {
  straw: ['warm, cream, orange, natural, country, cosy, earthy, honey, autumn'],
  harbour: ['blue, sea, calm, cool, teal, professional, business, ocean'],
  heather: ['purple, violet, soft, rounded, friendly, playful, pink'],
  slate: ['grey, gray, minimal, neutral, plain, modern, black and white, sober, square'],
};
