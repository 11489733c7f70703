import { csv } from './csv/definition.ts';
import { json } from './json/definition.ts';
import { xlsx } from './xlsx/definition.ts';
import { zip } from './zip/definition.ts';
import type { FormatDefinition } from '../../core/formats/format.ts';

/** Every format, in the order in which a file is held up to them; CSV takes what no other knows. One line a format. */
export const FORMATS: readonly FormatDefinition[] = [zip, xlsx, json, csv];
