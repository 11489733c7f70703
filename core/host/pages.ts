import type { RecordState } from '../records/change.ts';
import type { Page } from './protocol.ts';

/** A page of records ends at either of these. */
const PAGE_RECORDS = 5000;
const PAGE_LETTERS = 2_000_000;

/** A page of all records, from a place in their order on. */
export function pageOf(all: Iterable<RecordState>, from: number, at: number): Page {
  const page = new PageOfStates();
  let index = 0;
  for (const s of all) {
    if (index++ < from) continue;
    if (page.isFull) return { at, states: page.states, next: index - 1 };
    page.add(s);
  }
  return { at, states: page.states };
}

/** Records that go out together: not too many, and one at least, however large it is. */
export class PageOfStates {
  readonly states: RecordState[] = [];
  private letters = 0;

  get isFull(): boolean {
    return this.states.length > 0 && (this.states.length >= PAGE_RECORDS || this.letters > PAGE_LETTERS);
  }

  add(state: RecordState): void {
    this.states.push(state);
    for (const cell of Object.values(state.cells)) this.letters += typeof cell === 'string' ? cell.length : 8;
  }
}
