/** The colours that words and signs can have, by what they mean; each theme has its own for them. */
export const INKS = {
  ink: 'ink',
  soft: 'soft',
  accent: 'accent',
  good: 'good news',
  look: 'worth a look',
  bad: 'bad news',
} as const;
