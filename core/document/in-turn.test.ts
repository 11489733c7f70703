import fc from 'fast-check';
import { expect, it } from 'vitest';
import { InTurn } from './in-turn.ts';

it('turns come in the order they were asked for, whichever is ready first (property)', async () => {
  await fc.assert(
    fc.asyncProperty(fc.scheduler(), fc.array(fc.boolean(), { maxLength: 12 }), async (s, fails) => {
      const order = new InTurn();
      const done: number[] = [];
      const all = fails.map((fail, i) => {
        const ready = s.schedule(Promise.resolve(i)).then(() => {
          if (fail) throw new Error(`not ${i}`);
        });
        ready.catch(() => undefined);
        return order
          .next(() => ready)
          .then(
            () => void done.push(i),
            (e: Error) => {
              expect([fail, e.message]).toEqual([true, `not ${i}`]);
              done.push(i);
            },
          );
      });
      await s.waitFor(Promise.all(all));
      expect(done).toEqual(fails.map((_, i) => i));
    }),
  );
});
