import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Doors } from './doors.ts';

const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

describe('the doors of an address', () => {
  it('let many in at once, and who closes it is alone (property)', async () => {
    const visit = fc.record({ closes: fc.boolean(), after: fc.nat(6), lasts: fc.nat(6), fails: fc.boolean() });
    await fc.assert(
      fc.asyncProperty(fc.array(visit, { minLength: 1, maxLength: 12 }), async (visits) => {
        const doors = new Doors();
        let inside = 0;
        let closers = 0;
        const done = visits.map(async ({ closes, after, lasts, fails }) => {
          await pause(after);
          const work = async (): Promise<void> => {
            if (closes) {
              expect([inside, closers]).toEqual([0, 0]);
              closers++;
            } else {
              expect(closers).toBe(0);
              inside++;
            }
            await pause(lasts);
            if (closes) closers--;
            else inside--;
            if (fails) throw new Error('failed');
          };
          await (closes ? doors.close('a', work) : doors.enter('a', work)).catch((e: Error) =>
            expect(e.message).toBe('failed'),
          );
        });
        await Promise.all(done);
        expect([inside, closers]).toEqual([0, 0]);
      }),
      { numRuns: 60 },
    );
  });
  it('of different addresses do not wait for one another', async () => {
    const doors = new Doors();
    let over = (): void => undefined;
    const long = doors.close('a', () => new Promise<void>((r) => (over = r)));
    expect(await doors.enter('b', async () => 'in')).toBe('in');
    over();
    await long;
    expect(await doors.enter('a', async () => 'in')).toBe('in');
  });
});
