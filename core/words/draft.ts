import { counts, sentencesOf, stem, wordsOf } from './tokens.ts';

/** Something that is known of a record: the name of a field and its value as people read it. */
export interface Fact {
  name: string;
  value: string;
}

/** As many facts as a draft gives that are not asked for. */
const SOME = 3;

/**
 * A first draft of an answer, by a pattern: who is greeted, the prompt as it stands, and the facts that it names, or the
 * first few. It invents nothing; what it says stands in the prompt or the record.
 */
export function draft(prompt: string, to: string, facts: readonly Fact[], from: string): string {
  const asked = new Set(counts(prompt).keys());
  const filled = facts.filter((f) => f.value.trim());
  const named = filled.filter((f) => wordsOf(f.name).some((w) => asked.has(stem(w))));
  const told = (named.length ? named : filled.slice(0, SOME)).map((f) => `- ${f.name}: ${f.value}`);
  const said = sentencesOf(prompt).map((s) => (/[.!?…]$/.test(s) ? s : `${s}.`));
  const first = said.map((s) => s.charAt(0).toUpperCase() + s.slice(1)).join(' ');
  return [
    `Hello${to ? ` ${to}` : ''},`,
    first,
    ...(told.length ? [told.join('\n')] : []),
    `With kind regards${from ? `\n${from}` : ''}`,
  ].join('\n\n');
}
