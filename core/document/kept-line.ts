import type { z } from 'zod';

/** What a line of JSON that was kept says; null for one that is no such thing. */
export function readLine<T>(schema: z.ZodType<T>, text: string): T | null {
  try {
    return schema.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}
