import type { z } from 'zod';
import { ChangeSchema, RecordStateSchema, type Change, type RecordState } from '../core/records/change.ts';

/** Records and changes as lines of JSON, and the names of the files that hold them. */

const SEGMENT = /^changes-(\d{15})\.jsonl$/;

/** The name of a segment of changes, by the number of the change before it. */
export const segmentName = (start: number): string => `changes-${String(start).padStart(15, '0')}.jsonl`;
/** The number by which a segment is named; null for any other file. */
export const segmentStart = (name: string): number | null => {
  const [, start] = SEGMENT.exec(name) ?? [];
  return start === undefined ? null : Number(start);
};

/** What a line says; null for one that is no such thing. */
export function parsedLine<T>(schema: z.ZodType<T>, line: Buffer | string): T | null {
  try {
    return schema.safeParse(JSON.parse(line.toString('utf8'))).data ?? null;
  } catch {
    return null;
  }
}
export const changeIn = (line: Buffer | string): Change | null => parsedLine(ChangeSchema, line);
export const stateIn = (line: Buffer | string): RecordState | null => parsedLine(RecordStateSchema, line);
