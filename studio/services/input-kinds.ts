import { VARIABLE_KINDS } from '../../core/app/variables.ts';

/** What a request can be given, or can have picked out of its answer, as makers choose it. */
export const INPUT_KINDS = {
  text: VARIABLE_KINDS.text,
  number: VARIABLE_KINDS.number,
  yesno: VARIABLE_KINDS.yesno,
  date: VARIABLE_KINDS.date,
  time: VARIABLE_KINDS.time,
  datetime: VARIABLE_KINDS.datetime,
  duration: VARIABLE_KINDS.duration,
  money: VARIABLE_KINDS.money,
  percent: VARIABLE_KINDS.percent,
  longtext: VARIABLE_KINDS.longtext,
  picture: VARIABLE_KINDS.picture,
  sound: VARIABLE_KINDS.sound,
  file: 'a file',
} as const;
export type InputKind = keyof typeof INPUT_KINDS;

/** The choices of a chip for them. */
export const INPUT_CHOICES = (Object.keys(INPUT_KINDS) as InputKind[]).map((value) => ({
  value,
  label: INPUT_KINDS[value],
}));
