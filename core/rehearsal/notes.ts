import type { RunTrace } from '../routines/run.ts';
import type { Happened } from '../session/effects.ts';

/** The server, among those that notes are of; phones are named by their ids. */
export const SERVER = 'server';

/** What a note is about, so that a press leads there. */
export type About = NonNullable<Happened['about']>;

/** Something that happened in a rehearsal, as a sentence. */
export interface Note {
  /** Counts up. */
  n: number;
  /** When, by the clock of the rehearsal, in milliseconds since 1970. */
  at: number;
  /** The phone it happened on, or {@link SERVER}. */
  of: string;
  sort: 'done' | 'travelled' | 'taken' | 'refused' | 'run' | 'sent' | 'told';
  said: string;
  about?: About;
  /** It tells of a run, whose steps can be asked for. */
  ofRun?: true;
}

/** A run on a phone with its steps, or the id of one on the server. */
export type NotedRun = RunTrace | string;

/** So many of the latest are kept, and the runs of so many. */
const MOST = 2000;
const MOST_RUNS = 300;

/** What happened in a rehearsal, in its order. */
export class Notes {
  private all: Note[] = [];
  private readonly runs = new Map<number, NotedRun>();
  private count = 0;

  constructor(
    private readonly now: () => number,
    private readonly heard: (note: Note) => void,
  ) {}

  add(of: string, sort: Note['sort'], said: string, about?: About, run?: NotedRun): void {
    const note: Note = { n: ++this.count, at: this.now(), of, sort, said, ...(about && { about }) };
    if (run !== undefined) {
      note.ofRun = true;
      this.runs.set(note.n, run);
      if (this.runs.size > MOST_RUNS) this.runs.delete(this.runs.keys().next().value!);
    }
    this.all.push(note);
    if (this.all.length > MOST * 1.2) this.all = this.all.slice(-MOST);
    this.heard(note);
  }

  /** The run that a note tells of; undefined for none, and for one of long ago. */
  runOf(n: number): NotedRun | undefined {
    return this.runs.get(n);
  }

  /** Those behind a number, the earliest first. */
  since(n: number): Note[] {
    return this.all.filter((x) => x.n > n);
  }
}
