import type { Writing } from './kind.ts';
import type { Unit } from './units.ts';

/** The values of a column of a file, for types to say whether they are theirs. */
export interface Sample extends Writing {
  values: readonly string[];
  name: string;
  /** They look like numbers and are names: a number would lose a nought, digits or an E of them. */
  coded: boolean;
  /** The currency or unit that stands beside numbers, where it is one for all. */
  unit: Unit | null;
  /** A value without that unit. */
  bare(value: string): string;
  /** Do all values pass, or all but one in twenty of a longer column? */
  fits(test: (value: string) => boolean): boolean;
}

/** When a column of a file is taken for a type: that with the lowest number whose `fits` says yes. */
export interface Guess {
  order: number;
  fits(sample: Sample): boolean;
  /** Its texts may be dates, of which the day or the month comes first. */
  asksDayOrder?: boolean;
}
export const defineGuess = (guess: Guess): Guess => guess;
