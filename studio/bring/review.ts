import type { ColumnDraft, Unread } from '../../core/formats/infer.ts';
import type { LinkDraft } from '../../core/formats/match.ts';

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
