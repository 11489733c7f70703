import type { CompileOptions } from './compile.ts';
import { toStored } from './stored.ts';

/** How people say a comparison, the longest first, and how it is written in FEEL; `y` where a second value follows. */
const SAID: readonly [said: RegExp, write: (x: string, y: string) => string][] = [
  [/^(.+?)\s+(?:is|are)\s+(?:filled(?: in)?|there|set|not empty)$/i, (x) => `${x} != null`],
  [/^(.+?)\s+(?:is|are)\s+(?:empty|missing|nothing|not set|not filled(?: in)?)$/i, (x) => `${x} = null`],
  [/^(.+?)\s+(?:is|are)\s+(?:over|above|more than|greater than|after)\s+(.+)$/i, (x, y) => `${x} > ${y}`],
  [/^(.+?)\s+(?:is|are)\s+(?:under|below|less than|fewer than|before)\s+(.+)$/i, (x, y) => `${x} < ${y}`],
  [/^(.+?)\s+(?:is\s+|are\s+)?at least\s+(.+)$/i, (x, y) => `${x} >= ${y}`],
  [/^(.+?)\s+(?:is\s+|are\s+)?at most\s+(.+)$/i, (x, y) => `${x} <= ${y}`],
  [/^(.+?)\s+(?:is not|are not|isn't|isn’t)\s+(.+)$/i, (x, y) => `${x} != ${y}`],
  [/^(.+?)\s+contains\s+(.+)$/i, (x, y) => `contains(${x}, ${y})`],
  [/^(.+?)\s+(?:is|are|equals)\s+(.+)$/i, (x, y) => `${x} = ${y}`],
];
/** A yes or no by itself: “Done”, “not done”. */
const PLAIN: [RegExp, (x: string) => string] = [/^not\s+(.+)$/i, (x) => `not(${x})`];

/**
 * What was typed as a formula, read as a condition in words: “Second link is filled in and Weight is over 20”. Gives the
 * formula that it means, with names as they are shown; null where a word of it is not understood, or it is no yes or no.
 */
export function saidCondition(text: string, options: CompileOptions): string | null {
  const fits = (shown: string): boolean => {
    const { type, problems } = toStored(shown, options).compiled;
    return type.k === 'boolean' && problems.length === 0;
  };
  for (const joiner of ['or', 'and'] as const) {
    const parts = text.trim().split(new RegExp(`\\s+${joiner}\\s+`, 'i'));
    if (parts.length < 2) continue;
    const read = parts.map((p) => saidCondition(p, options));
    if (read.every((r) => r !== null)) return read.join(` ${joiner} `);
  }
  const one = text.trim();
  for (const [pattern, write] of SAID) {
    const m = pattern.exec(one);
    if (!m) continue;
    const [, x, y = ''] = m;
    const name = nameIn(x!, options) ?? x!.trim();
    for (const value of valuesFor(y, options)) if (fits(write(name, value))) return write(name, value);
  }
  const [not, write] = PLAIN;
  const denied = not.exec(one)?.[1];
  const name = nameIn(denied ?? one, options);
  const plain = name && (denied === undefined ? name : write(name));
  return plain && fits(plain) ? plain : null;
}

/** A name as it is written, in whatever case somebody typed it. */
function nameIn(typed: string, options: CompileOptions): string | null {
  const wanted = typed
    .trim()
    .replace(/^(?:the|its)\s+/i, '')
    .toLowerCase();
  return options.names?.find((n) => n.name.toLowerCase() === wanted)?.name ?? null;
}

/** What may be meant by the second value: as it stands, a yes or no, a name, or a text. */
function valuesFor(typed: string, options: CompileOptions): string[] {
  if (typed === '') return [''];
  const yesNo = /^(yes|true)$/i.test(typed) ? ['true'] : /^(no|false)$/i.test(typed) ? ['false'] : [];
  const name = nameIn(typed, options);
  const text = /^["“].*["”]$/.test(typed) ? typed.slice(1, -1) : /\s(?:and|or)\s/i.test(typed) ? null : typed;
  return [...yesNo, ...(name ? [name] : []), typed, ...(text === null ? [] : [JSON.stringify(text)])];
}
