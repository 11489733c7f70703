import { changed } from './changed/definition.ts';
import { choice } from './choice/definition.ts';
import { code } from './code/definition.ts';
import { created } from './created/definition.ts';
import { date } from './date/definition.ts';
import { dateTime } from './datetime/definition.ts';
import { duration } from './duration/definition.ts';
import { file } from './file/definition.ts';
import { formula } from './formula/definition.ts';
import { id } from './id/definition.ts';
import { link } from './link/definition.ts';
import { longText } from './longtext/definition.ts';
import { mail } from './mail/definition.ts';
import { money } from './money/definition.ts';
import { number } from './number/definition.ts';
import { percent } from './percent/definition.ts';
import { person } from './person/definition.ts';
import { phone } from './phone/definition.ts';
import { picture } from './picture/definition.ts';
import { place } from './place/definition.ts';
import { plan } from './plan/definition.ts';
import { rating } from './rating/definition.ts';
import { sound } from './sound/definition.ts';
import { text } from './text/definition.ts';
import { time } from './time/definition.ts';
import { web } from './web/definition.ts';
import { yesNo } from './yesno/definition.ts';

/** Every type of field, in the order they are offered. One line a type. */
export const FIELDS = [
  text,
  longText,
  number,
  money,
  percent,
  yesNo,
  date,
  time,
  dateTime,
  duration,
  choice,
  rating,
  mail,
  phone,
  web,
  picture,
  file,
  sound,
  place,
  plan,
  code,
  person,
  id,
  created,
  changed,
  link,
  formula,
] as const;
