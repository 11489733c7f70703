import { expect, it } from 'vitest';
import type { PausedRun } from './events.ts';
import { Stepper } from './stepper.ts';

const trace = { routine: 'q', name: 'Q', given: '', steps: [], ms: 0 };

it('runs that stand still at the same time are shown one after the other, and none waits for ever', async () => {
  let shown: PausedRun | null = null;
  const stepper = new Stepper((paused) => (shown = paused));
  stepper.mark(['p_1']);
  const went: string[] = [];
  const stands = (run: string): Promise<void> =>
    stepper.paused(run, 'p_1', trace).then((how) => void went.push(`${run} ${how}`));
  const [first, second] = [stands('one'), stands('two')];
  expect(shown).toMatchObject({ run: 'one', behind: 1 });
  stepper.goOn('one', 'step');
  await first;
  // The one that is looked at comes back before the other.
  const again = stands('one');
  expect(shown).toMatchObject({ run: 'one', behind: 1 });
  stepper.goOn('one', 'go on');
  await again;
  expect(shown).toMatchObject({ run: 'two', behind: 0 });
  stepper.goOn('two', 'end');
  await second;
  expect([shown, went]).toEqual([null, ['one go on', 'one go on', 'two end']]);
});
