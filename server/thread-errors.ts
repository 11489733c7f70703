import { transferHandlers, type TransferHandler } from 'comlink';
import { answerTo } from './answers.ts';
import { Refused } from '../core/document/refused.ts';

interface Thrown {
  value: unknown;
}

/** What fails on one side of a thread fails on the other with the same status and words, and nothing of the inside. */
export function passErrorsOn(): void {
  const before = transferHandlers.get('throw') as TransferHandler<Thrown, unknown>;
  transferHandlers.set('throw', {
    canHandle: before.canHandle.bind(before),
    serialize: ({ value }) => [answerTo(value), []],
    deserialize: (answer) => {
      const { status, message } = answer as ReturnType<typeof answerTo>;
      throw new Refused(status, message);
    },
  } satisfies TransferHandler<Thrown, unknown>);
}
