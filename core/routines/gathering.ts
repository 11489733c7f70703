import { MOST_LETTERS_TOGETHER, MOST_TOGETHER } from '../document/limits.ts';
import { lettersOf } from '../fields/lists.ts';
import { completed } from '../records/begin.ts';
import type { Draft } from '../records/change.ts';
import { Overlay } from '../records/overlay.ts';
import type { Records } from '../records/store.ts';
import type { RunState } from './state.ts';
import { StepError } from './step.ts';

const lettersIn = (drafts: readonly Draft[]): number =>
  drafts.reduce((n, d) => n + (d.do === 'set' ? lettersOf(d.cells) : 0), 0);

/** What a run has written that is to be sent together: its own steps see it already, as laid over the records. */
export class Gathering {
  private readonly overlay: Overlay;
  private letters = 0;

  constructor(
    private readonly state: RunState,
    private readonly records: Records,
  ) {
    this.overlay = new Overlay(records);
    this.lay();
  }

  private lay(): void {
    if (this.state.gathered) this.overlay.lay(this.state.gathered);
    this.letters = lettersIn(this.state.gathered ?? []);
  }

  begin(): void {
    this.state.gathered = [];
    this.letters = 0;
  }

  /** Throws in words when it grows too large. */
  add(drafts: readonly Draft[]): void {
    const full = completed(this.records, drafts);
    const gathered = this.state.gathered!;
    if (gathered.length + full.length > MOST_TOGETHER)
      throw new StepError(`At most ${MOST_TOGETHER.toLocaleString('en-GB')} changes can be written together.`);
    this.letters += lettersIn(full);
    if (this.letters > MOST_LETTERS_TOGETHER)
      throw new StepError('The files and texts written together are too large; write fewer at once.');
    gathered.push(...full);
    this.overlay.lay(full);
  }

  /** Drops what came after the first so many; null drops all and ends the gathering. */
  cutTo(count: number | null): void {
    this.state.gathered = count === null ? null : this.state.gathered!.slice(0, count);
    this.overlay.lift();
    this.lay();
  }

  /** All of it, which is then no longer gathered. */
  take(): Draft[] {
    const drafts = this.state.gathered ?? [];
    this.state.gathered = null;
    this.overlay.lift();
    return drafts;
  }

  /** The records are as they are again. */
  lift(): void {
    this.overlay.lift();
  }
}
