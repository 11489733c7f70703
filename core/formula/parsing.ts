import type { Node } from './ast.ts';

/**
 * The parser, for the one built-in function that reads a text as FEEL. The parser must know the names of all functions,
 * so they cannot know it; it puts itself here when it is loaded.
 */
export const parsing: { parse: (text: string) => Node } = {
  parse: () => {
    throw new Error('The parser is not loaded.');
  },
};
