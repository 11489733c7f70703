import '../../kinds/given/all.ts';
import { expose, releaseProxy, type ProxyMethods } from 'comlink';
import type { App } from '../../core/app/schema.ts';
import type { RecordState } from '../../core/records/change.ts';
import { Rehearsal } from '../../core/rehearsal/rehearsal.ts';
import type { RehearsalState } from '../../core/rehearsal/state.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { Seeing, type WhatPeopleSee } from '../engine/seeing.ts';
import '../../core/formula/patterns-engine.ts';
import '../../core/screens/becoming.ts';
import '../../core/screens/parts.ts';
import '../../kinds/elements/list/arranged.ts';

/** The page hears of changes so often at most, in milliseconds. */
const TELL_MS = 50;

const release = (take: unknown): void => (take as Partial<ProxyMethods>)[releaseProxy]?.();

/** The room of a rehearsal, in a worker of its own. */
export class RehearsalEngine {
  room!: Rehearsal;
  private tell: (state: RehearsalState) => unknown = () => undefined;
  private waits = false;

  async open(
    app: App,
    states: RecordState[],
    file: (hash: string) => Promise<Blob | null>,
    tell: (state: RehearsalState) => unknown,
  ): Promise<void> {
    this.tell = tell;
    this.room = new Rehearsal({
      app,
      states,
      kinds: { elements: elementKinds, steps: stepKinds, triggers: triggerKinds },
      file,
      changed: () => this.soon(),
      letGo: release,
    });
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

  private soon(): void {
    if (this.waits) return;
    this.waits = true;
    setTimeout(() => {
      this.waits = false;
      void this.tell(this.room.state);
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
