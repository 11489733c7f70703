import { csv } from './csv/definition.ts';
import { json } from './json/definition.ts';
import { xlsx } from './xlsx/definition.ts';
import { zip } from './zip/definition.ts';
import { endingOf, type FormatDefinition, type WritableFormat } from '../../core/formats/format.ts';

/** Every format, in the order in which a file is held up to them; CSV takes what no other knows. One line a format. */
export const FORMATS: readonly FormatDefinition[] = [zip, xlsx, json, csv];

/** Those that tables are read from. */
export const READABLE = FORMATS.filter((f) => f.read);
/** Those that a table is written in. */
export const WRITABLE = FORMATS.filter((f): f is WritableFormat => f.write !== undefined);
/** Endings of the files that can be read, as a file dialog takes them: ".xlsx,.csv". */
export const READABLE_ENDINGS = READABLE.flatMap((f) => f.endings).join(',');

/** The format that files of this name are written in; null when none has its ending. */
export const formatNamed = (fileName: string): WritableFormat | null =>
  WRITABLE.find((f) => f.endings.includes(endingOf(fileName))) ?? null;
