import type { Guess } from '../../core/fields/guess.ts';
import choice from './choice/guess.ts';
import date from './date/guess.ts';
import datetime from './datetime/guess.ts';
import duration from './duration/guess.ts';
import longtext from './longtext/guess.ts';
import mail from './mail/guess.ts';
import money from './money/guess.ts';
import number from './number/guess.ts';
import percent from './percent/guess.ts';
import phone from './phone/guess.ts';
import picture from './picture/guess.ts';
import place from './place/guess.ts';
import text from './text/guess.ts';
import time from './time/guess.ts';
import web from './web/guess.ts';
import yesno from './yesno/guess.ts';

/** When a column of a file is taken for a type of field. One line a type; phones do without. */
export const GUESSES: Readonly<Record<string, Guess>> = {
  choice,
  date,
  datetime,
  duration,
  longtext,
  mail,
  money,
  number,
  percent,
  phone,
  picture,
  place,
  text,
  time,
  web,
  yesno,
};
