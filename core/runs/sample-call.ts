import type { InputDoc } from '../routines/program.ts';

/** What a value of a type looks like in JSON, for the types that are no text. */
const SAMPLES: Readonly<Record<string, unknown>> = {
  number: 1,
  percent: 0.5,
  money: 1,
  yesno: true,
  rating: 3,
  duration: 'PT30M',
  place: '51.5, -0.1',
  plan: '0.5, 0.5',
  date: '2026-12-24',
  datetime: '2026-12-24T10:00:00',
  time: '10:00:00',
  mail: 'ada@post.example',
  web: 'https://post.example',
  phone: '+44 20 7946 0000',
};

/** What another system could send to a routine with these inputs, as JSON: a value for each that is given by what is sent. */
export function sampleCall(inputs: readonly InputDoc[]): string {
  const sent = inputs.filter((i) => i.from === undefined);
  return JSON.stringify(Object.fromEntries(sent.map((i) => [i.name, SAMPLES[i.type] ?? `a ${i.name.toLowerCase()}`])), null, 2);
} // prettier-ignore
