import type { ColumnDraft, Unread } from '../../core/formats/infer.ts';
import type { LinkDraft } from '../../core/formats/find-links.ts';

/** What the review shows of one sheet; its rows stay in the worker. */
export interface SheetReview {
  name: string;
  file: string;
  headerRow: number;
  firstRows: string[][];
  columns: ColumnDraft[];
  records: number;
  rejected: Unread[];
  rejectedCount: number;
  misfits: Unread[];
  misfitCount: number;
  /** What of the file is not taken over as it was. */
  odd: Unread[];
  oddCount: number;
  /** Cells whose words mean that there is nothing. */
  nothing: number;
  /** Rows that are hidden in the file, and whether they are brought. */
  hiddenRows: number;
  bringHidden: boolean;
  /** Cells that lie under merged ones, and whether they are filled with their text. */
  under: number;
  fillDown: boolean;
  /** Cells that do not fit their column are kept in one beside it. */
  oddApart: boolean;
  notes: string[];
  sample: string[][];
  skip: boolean;
}
export interface LinkReview extends LinkDraft {
  accepted: boolean;
  samples: string[];
}
export interface Review {
  sheets: SheetReview[];
  links: LinkReview[];
}
