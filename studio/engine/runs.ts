import type { App } from '../../core/app/schema.ts';
import { joined, takeBack, type Written } from '../../core/host/undo.ts';
import type { Phone } from '../../core/phone/phone.ts';
import type { Answer } from '../../core/routines/asks.ts';
import type { RunTrace } from '../../core/routines/run.ts';
import type { Editing } from './editing.ts';
import type { OutboxItem, StudioOutbox } from './outbox.ts';
import type { GoOn, Stepper } from './stepper.ts';
import type { TriedRuns } from './tried-runs.ts';

/** What runs of routines are tried and looked at with. */
interface Around {
  app(): App;
  phone: Phone;
  editing: Editing;
  tried: TriedRuns;
  stepper: Stepper;
  sent: StudioOutbox;
}

/** Runs of routines that the maker tries, stops and looks at, and what they send. */
export class Runs {
  constructor(private readonly around: Around) {}

  stopBefore(steps: readonly string[]): void {
    this.around.stepper.mark(steps);
  }
  goOn(run: string, how: GoOn): void {
    this.around.stepper.goOn(run, how);
  }
  /** What a person said, or the device gave, when a run that is tried asked for it. */
  answered(id: string, answer: Answer): void {
    this.around.tried.answered(id, answer);
  }
  outbox(): Promise<OutboxItem[]> {
    return this.around.sent.items();
  }

  /**
   * Tries a routine for a record on a copy of the records; for the first of its table where none is named. `values` are
   * for its inputs, as an earlier run had them.
   */
  async try(id: string, record?: string | null, values?: RunTrace['values'], stepwise = false): Promise<void> {
    const { app, phone, stepper, tried } = this.around;
    const routine = app().routines.find((r) => r.id === id);
    if (!routine) return;
    const sample = routine.given ? (phone.records.rows(routine.given)[0]?.id ?? null) : null;
    if (stepwise) stepper.stepNext(id);
    await tried.run(routine, record ?? sample, values);
  }

  /** Does for real what a run has done on a copy. Gives what takes its changes of records back. */
  async doTried(id: string): Promise<Written> {
    const { phone, editing, tried, sent } = this.around;
    const { groups, sends, made } = tried.take(id);
    const written: Written[] = [];
    // All of it is one step for whoever does it: half of it is none, and nobody is sent it.
    const { onQueued } = phone.device;
    phone.device.onQueued = () => undefined;
    try {
      for (const { drafts, together } of groups) written.push(await editing.edit(drafts, together));
    } catch (e) {
      await takeBack(phone.device, joined(written), true);
      throw new Error(`Nothing was done: ${(e as Error).message}`, { cause: e });
    } finally {
      phone.device.onQueued = onQueued;
      if (phone.device.waiting) onQueued();
    }
    for (const m of sends) await sent.send(m);
    for (const address of made) await sent.made(address);
    return joined(written);
  }
}
