import { GivenKinds } from '../document/given.ts';
import type { Guess } from './guess.ts';

/** When a column of a file is taken for a type of field, by type. Phones do without. */
export const fieldGuesses = new GivenKinds<Guess>('guesses at types of field');
