import '../../kinds/given/all.ts';
import '../../kinds/elements/list/arranged.ts';
import { expose } from 'comlink';
import type { RecordState } from '../../core/records/change.ts';
import { stepKinds, triggerKinds } from '../../core/routines/kinds.ts';
import { fewRecords, shake, type ShakeFound, type ShakeOptions } from '../../core/scenes/shake.ts';
import { castFor, suggest, type Suggested, type SuggestOptions } from '../../core/scenes/suggest.ts';
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

  /** Proposes scenes for what none comes to. */
  async suggest(
    options: Omit<SuggestOptions, 'kinds' | 'heard' | 'ends' | 'cast' | 'states'> & { states: RecordState[] },
    heard: (tried: number, suggested: Suggested[]) => unknown,
  ): Promise<void> {
    const cast = castFor(options.app, options.states);
    const people = cast.flatMap((p) => (p.is === 'person' ? [p.record] : []));
    const states = fewRecords(options.app, options.states, RECORDS, people);
    const tell = ({ tried, suggested }: { tried: number; suggested: Suggested[] }): void =>
      void heard(tried, suggested);
    await suggest({ ...options, cast, states, kinds, heard: tell });
  }
}

expose(new ChanceEngine());
