import '../../kinds/given/all.ts';
import '../../kinds/elements/list/arranged.ts';
import { expose } from 'comlink';
import type { RecordState } from '../../core/records/change.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { fewRecords, shake, type ShakeFound, type ShakeOptions } from '../../core/scenes/shake.ts';
import { elementKinds } from '../../core/screens/kinds.ts';

/** So many records of each table are enough. */
const RECORDS = 12;
const kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };

/** Plays by chance, in a worker of its own. */
export class ChanceEngine {
  async shake(
    options: Omit<ShakeOptions, 'kinds' | 'heard' | 'ends' | 'states'> & { states: RecordState[] },
    heard: (tried: number, found: ShakeFound[]) => unknown,
  ): Promise<void> {
    const people = options.cast.flatMap((p) => (p.is === 'person' ? [p.record] : []));
    const states = fewRecords(options.app, options.states, RECORDS, people);
    await shake({ ...options, states, kinds, heard: ({ tried, found }) => void heard(tried, found) });
  }
}

expose(new ChanceEngine());
