import type { z } from 'zod';

/** What was wrong with a file or message, in words for the person who brought it. */
export class UnreadableError extends Error {
  override name = 'UnreadableError';
}

/** The first thing Zod found, with the place it is at. */
export function firstIssue(error: z.ZodError): string {
  const issue = error.issues[0];
  if (!issue) return 'it has no content.';
  return `${issue.path.length ? `at ${issue.path.join(' › ')}: ` : ''}${issue.message}.`;
}
