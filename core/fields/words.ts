import { GivenKinds } from '../document/given.ts';
import type { SearchWords } from '../document/search-words.ts';

/** The words people look for a type of field by, by type. Phones do without. */
export const fieldWords = new GivenKinds<SearchWords>('words for types of field');
