import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import type { App } from '../app/schema.ts';
import { Model } from '../records/model.ts';

/** Something to look at before release. */
export interface Note {
  /** `stops` would fail for everybody and keeps the app from being released; `look` is worth a look. */
  severity: 'stops' | 'look';
  said: string;
  workspace: 'data' | 'screens' | 'logic' | 'services' | 'people';
  table?: string;
  field?: string;
  screen?: string;
  element?: string;
  routine?: string;
  /** A rule, a role, or a part of the People workspace. */
  rule?: string;
  /** What puts it right in one press: what it is about is removed. */
  mend?: 'remove';
  /** A service or a request. */
  service?: string;
}

/** What notes are made from: the app, its tables as formulas see them, and the kinds it is built of. */
export class Looking {
  readonly model: Model;
  readonly elements = elementKinds;
  readonly steps = stepKinds;
  constructor(readonly app: App) {
    this.model = new Model(app);
  }
}

/** A kind of note: one file that looks an app over for one sort of trouble. */
export interface NoteDefinition {
  /** In a word or two, for lists and tests: "screens nobody reaches". */
  readonly name: string;
  find(at: Looking): Note[];
}

export const defineNote = (definition: NoteDefinition): NoteDefinition => definition;
