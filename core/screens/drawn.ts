import type {
  BoxElement,
  ButtonElement,
  Colour,
  FieldType,
  ListElement,
  PictureElement,
  Surface,
  Tap,
  TextElement,
  TextStyle,
} from '../app/schema.ts';
import type { Cell } from '../records/cells.ts';

/** What a screen shows at this moment: plain data without formulas, ready to be drawn. */
export interface DrawnScreen {
  screen: string;
  title: string;
  /** The record the screen was given is gone or was never there. */
  missing: string | null;
  root: DrawnBox;
  problems: string[];
}

interface DrawnCommon {
  id: string;
  width?: 'fit' | 'fill' | number | undefined;
  height?: 'fit' | 'fill' | number | undefined;
  /** The record this element is about, for what a tap on it gives along. */
  scope: ScopeRef[];
}

/** A thing at hand by id, with its record: enough to find the same values again when something is tapped. */
export interface ScopeRef {
  thing: string;
  table: string;
  record: string;
}

export type DrawnText = DrawnCommon & {
  kind: 'text';
  words: string;
  style: TextStyle;
  colour: Colour;
  align: TextElement['align'];
};
export type DrawnPicture = DrawnCommon & {
  kind: 'picture';
  address: string;
  shape: PictureElement['shape'];
  alt: string;
};
export type DrawnButton = DrawnCommon & {
  kind: 'button';
  words: string;
  look: ButtonElement['look'];
  icon: string | undefined;
  tap: Tap;
};
export type DrawnReading = DrawnCommon & {
  kind: 'reading';
  label: string;
  value: string;
  format: FieldType | null;
  /** The data address of a kept file or sound. */
  file: string | null;
};
export type DrawnBox = DrawnCommon & {
  kind: 'box';
  runs: BoxElement['runs'];
  gap: number;
  inside: number;
  surface: Surface;
  across: BoxElement['across'];
  tap: Tap | undefined;
  children: Drawn[];
};
export type DrawnList = DrawnCommon & {
  kind: 'list';
  runs: ListElement['runs'];
  gap: number;
  surface: Surface;
  search: boolean;
  empty: string;
  tap: Tap;
  total: number;
  from: number;
  rows: { record: string; table: string; children: Drawn[] }[];
};
export type DrawnForm = DrawnCommon & {
  kind: 'form';
  table: string;
  record: string | null;
  children: Drawn[];
  values: Record<string, Cell>;
};
export type DrawnInput = DrawnCommon & {
  kind: 'input';
  field: string;
  type: FieldType;
  label: string;
  required: boolean;
  unit: string | undefined;
  /** A choice of several, or a link to several records: its cell is a list. */
  several: boolean;
  /** Address of the picture that a place on a plan is put on. */
  plan: string | null;
  /** False for what the app fills in itself. */
  writable: boolean;
  choices: string[];
  link: { table: string; total: number } | null;
};
export type Drawn =
  DrawnText | DrawnPicture | DrawnButton | DrawnReading | DrawnBox | DrawnList | DrawnForm | DrawnInput;
