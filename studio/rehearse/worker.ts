import '../../kinds/given/all.ts';
import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import type { App } from '../../core/app/schema.ts';
import type { RecordState } from '../../core/records/change.ts';
import { Rehearsal } from '../../core/rehearsal/rehearsal.ts';
import { Pointing } from '../../core/scenes/pointing.ts';
import { Recorder } from '../../core/scenes/recorder.ts';
import type { Scene, SceneStep } from '../../core/app/scene-schema.ts';
import type { RehearsalState } from '../../core/rehearsal/state.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { Seeing, type WhatPeopleSee } from '../engine/seeing.ts';
import '../../kinds/elements/list/arranged.ts';

/** The page hears of changes so often at most, in milliseconds. */
const TELL_MS = 50;

const release = (take: unknown): void => (take as Partial<ProxyMethods>)[releaseProxy]?.();

/** The room of a rehearsal, in a worker of its own. */
export class RehearsalEngine {
  room!: Rehearsal;
  private recorder!: Recorder;
  private pointing!: Pointing;
  private tell: (state: RehearsalState, steps: number) => unknown = () => undefined;
  private waits = false;

  async open(
    app: App,
    states: RecordState[],
    file: (hash: string) => Promise<Blob | null>,
    tell: (state: RehearsalState, steps: number) => unknown,
  ): Promise<void> {
    this.tell = tell;
    this.recorder = new Recorder(app, states, () => this.soon());
    this.room = new Rehearsal({
      app,
      states,
      kinds: { elements: elementKinds, steps: stepKinds, triggers: triggerKinds },
      file,
      changed: () => this.soon(),
      letGo: release,
      acts: this.recorder,
    });
    this.recorder.of(this.room);
    this.pointing = new Pointing(app, this.room, this.recorder);
    this.soon();
  }

  /** The phones of the room, as pages ask them. */
  get phones(): Rehearsal['phones'] {
    return this.room.phones;
  }

  /** What whoever uses a phone gets to see, and why not more. */
  whySees(person: string | null): WhatPeopleSee {
    const { app, host } = this.room.world;
    const { replica } = host;
    return new Seeing(replica.records, replica, () => app).whatSee([person]);
  }

  /** What was done so far, as the steps of a scene. */
  get soFar(): Recorder['soFar'] {
    return this.recorder.soFar;
  }
  scene(name: string): Promise<Scene> {
    return this.recorder.scene(name);
  }
  /** Takes the last step back from what is written down; what was done stays done. */
  forget(step: string): void {
    this.recorder.forget(step);
  }

  /** Expects what is seen at a place of a phone, by its element and the record of its row. Gives the step. */
  expectSeen(phone: string, element: string, record: string | null): SceneStep | null {
    return this.pointing.seen(phone, element, record);
  }
  expectSent(sort: 'mail' | 'text message' | 'notice', to: string, words: string): void {
    this.pointing.sent(sort, to, words);
  }
  expectRecord(table: string, record: string, field: string | null): void {
    this.pointing.record(table, record, field);
  }
  expectNote(n: number): void {
    this.pointing.note(n);
  }

  private soon(): void {
    if (this.waits) return;
    this.waits = true;
    setTimeout(() => {
      this.waits = false;
      void this.tell(this.room.state, this.recorder.count);
    }, TELL_MS);
  }

  /** Does something to a phone. */
  phone(
    id: string,
    does: { network: 'on' | 'slow' | 'off' | 'answers lost' | 'twice' } | { off: number } | { open: boolean },
  ): void {
    const phone = this.room.phones[id];
    if (!phone) return;
    if ('network' in does) phone.network = does.network;
    else if ('off' in does) phone.off = does.off;
    else if (does.open) phone.open();
    else phone.close();
  }
}

expose(new RehearsalEngine());
