import { endingOf, type FormatDefinition, type WritableFormat } from './format.ts';

let given: readonly FormatDefinition[] = [];

/** Gives the formats that there are, in the order in which a file is held up to them. */
export function giveFormats(formats: readonly FormatDefinition[]): void {
  given = formats;
}

/** Those that tables are read from. */
export const readable = (): FormatDefinition[] => given.filter((f) => f.read);

/** Those that a table is written in. */
export const writable = (): WritableFormat[] => given.filter((f): f is WritableFormat => f.write !== undefined);

/** Endings of the files that can be read, as a file dialog takes them: ".xlsx,.csv". */
export const readableEndings = (): string =>
  readable()
    .flatMap((f) => f.endings)
    .join(',');

/** The format that files of this name are written in; null when none has its ending. */
export const formatNamed = (fileName: string): WritableFormat | null =>
  writable().find((f) => f.endings.includes(endingOf(fileName))) ?? null;
