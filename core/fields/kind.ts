import type { FieldShape } from '../document/pieces.ts';
import { TEXT, type Type } from '../formula/types.ts';
import type { Value } from '../formula/values.ts';
import type { ColumnStyle, FileValue } from './file-cell.ts';
import type { Cell } from './lists.ts';
import type { DayOrder } from './read-text.ts';

/** How numbers and dates are written where a text comes from. */
export interface Writing {
  order: DayOrder;
  decimal: '.' | ',';
  /** Years of two digits are of the hundred years up to this one; 2069 when absent. */
  until?: number;
}

/** A type of field. One folder holds this definition, its input on the phone, and its place in the grid. */
export interface FieldDefinition<K extends string = string> {
  readonly type: K;
  /** As the interface names it: "web address". */
  readonly name: string;
  /** As a report on a file names it, where that differs: "amount of money". A type without it is no column of a file. */
  readonly column?: string;
  /** Filled in by the app, never by people. */
  readonly keptByApp?: boolean;
  /** Its texts may have several lines, and spaces at their ends stay. */
  readonly lines?: boolean;
  /** Its cells may hold a file itself, as a data address. */
  readonly holdsFile?: boolean;
  /** Whoever is written into such a field is taken for who uses the app on that device. */
  readonly isUser?: boolean;
  /** The longest cell, in characters; {@link MAX_CELL} when absent. */
  readonly longest?: number;
  /** Said when a cell is longer. */
  readonly tooLong?: (field: FieldShape) => string;
  /** The type its values have in formulas. */
  valueType(field: FieldShape): Type;
  /** The value of a cell that is neither empty nor null; null when the cell does not hold what the type says. */
  read(cell: unknown, field: FieldShape): Value;
  /** The value of an empty cell, where that is not nothing. */
  empty?(field: FieldShape): Value;
  /** The cell for a text that people typed or a file holds; undefined when it does not fit. */
  typed(text: string, writing: Writing, field: FieldShape): Cell | undefined;
  /** A cell that a formula gave, in the form this type keeps. */
  kept?(cell: Cell): Cell;
  /** How people read a value, where it is not as such values are read elsewhere. */
  display?(v: Value, field: Pick<FieldShape, 'unit' | 'decimals'>): string | null;
  /** A limit of the field as people read it. */
  limit?(n: number): string;
  /** What stands in a cell when its editing begins: enough to lose nothing by keeping it as it is. */
  editText?(cell: Cell): string;
  /** What stands in a form for a cell, where it is not the cell itself. */
  formText?(cell: Cell): Cell;
  /** A value in files and on the clipboard, where it is not the plain one. */
  fileText?(v: Value): string | null;
  /** A cell as a column of a mirrored file writes it, where that is not the text of the cell. */
  inFile?(cell: Cell, style: ColumnStyle, field: FieldShape): FileValue;
  /** The unit of its numbers in files, where a field has none of its own. */
  readonly usualUnit?: string;
  /** How a spreadsheet program shows a column of it (ECMA-376, 18.8.30); "General" when absent. */
  numberFormat?(field: FieldShape): string;
  /** What a new field of this type is told, given the values its column has already. */
  starts?(values: readonly string[]): Pick<FieldShape, 'choices' | 'formula'>;
  /** What the app fills in by itself when a record is made or changed; undefined for nothing. `now` is a cell. */
  fills?(record: { isNew: boolean; now: Cell }, field: FieldShape): Cell | undefined;
  /** Limits can be set for its values, which people write so many times as large, in that unit. */
  readonly range?: { times: number; unit: string };
  /** A pattern can be set that its texts keep to. */
  readonly patterned?: boolean;
  /** It has so few values that records cannot be asked to differ in it. */
  readonly repeats?: boolean;
  /** A cell as FEEL; as a text when absent. */
  literal?(cell: string): string;
  /** Values that are offered where one is to be chosen: formulas, with the words for them. */
  offers?(field: FieldShape): { value: string; label: string }[];
  /** How its input on the phone is typed into, for a type whose input is one line. */
  readonly phone?: {
    type?: string;
    inputMode?: 'decimal' | 'tel' | 'email' | 'url';
    placeholder?: string;
    autoComplete?: string;
    /** The input says its label itself. */
    labelled?: boolean;
  };
  /** How it serves in screens that are made of a table. */
  readonly serves?: {
    /** How well it names a record, from 0 for a poor name; absent for none. */
    title?: number;
    /** How well it stands in the line below the name. */
    second?: number;
    /** As the figure at the end of a row. */
    figure?: true;
    /** As the time that records happen at. */
    moment?: true;
    /** As the record’s picture. */
    picture?: true;
  };
  /** A column in the grid: its first width in pixels, and whether it holds figures. */
  readonly grid?: { width?: number; figures?: boolean; toggles?: boolean };
}

/** Text kept as it is typed: what a type is that says nothing else. */
const PLAIN = {
  valueType: (): Type => TEXT,
  read: (cell: unknown): Value => (typeof cell === 'string' ? cell : String(cell as number | boolean)),
  typed: (text: string): Cell => text,
};

/** Defines a type of field; what it leaves out is as for plain text. */
export const defineField = <const K extends string>(
  definition: Pick<FieldDefinition<K>, 'type' | 'name'> & Partial<FieldDefinition<K>>,
): FieldDefinition<K> => ({ ...PLAIN, ...definition });

/** The longest cell, and the longest that holds a file: about 1 MB of it in base 64. */
export const MAX_CELL = 400_000;
export const MAX_FILE_CELL = 1_400_000;
