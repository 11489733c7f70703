import { describe, expect, it } from 'vitest';
import { F, T } from '../../../core/records/fixture.ts';
import { keyedId } from '../../../core/records/keyed-id.ts';
import { make, me, run, world } from '../../../core/routines/fixture.ts';

const total = (by: string, tag: string, how: 'raise' | 'lower' = 'raise') =>
  make.step('total', {
    how,
    table: T.hives,
    keys: [
      { field: F.tag, value: tag },
      { field: F.status, value: '"Strong"' },
    ],
    values: [{ field: F.weight, value: by }],
  });
const drafts = (w: ReturnType<typeof world>) => w.asked.flatMap((a) => (a.ask === 'write' ? a.drafts : []));

describe('a total', () => {
  it('is begun where there is none, and added to where there is one', async () => {
    const w = world([total('5.1', '"New"'), total('0.2', '"New"', 'lower')]);
    const { steps, state } = await run(w);
    expect(state.ended).toEqual({});
    const makes = { [F.tag]: 'New', [F.status]: 'Strong' };
    const record = keyedId(T.hives, makes);
    expect(drafts(w)).toEqual([
      { do: 'raise', table: T.hives, record, by: { [F.weight]: 5.1 }, makes },
      { do: 'raise', table: T.hives, record, by: { [F.weight]: -0.2 }, makes },
    ]);
    expect(steps.map((s) => [s.said, s.gave])).toEqual([
      ['Raised New, Strong › Weight by 5.1 kg', '5.1 kg'],
      ['Lowered New, Strong › Weight by 0.2 kg', '4.9 kg'],
    ]);
  });
  it('is the record that has the values already, whatever its id', async () => {
    const w = world([total('1', `${me}.${F.tag}`)]);
    w.records.set(T.hives, 'bramble', { [F.status]: 'Strong' });
    await run(w);
    expect(drafts(w).map((d) => d.record)).toEqual(['bramble']);
  });
  it('stops in words without what it is of, and for what is no number', async () => {
    const error = async (step: ReturnType<typeof total>) => (await run(world([step]))).state.ended?.error;
    expect(await error(total('1', 'null'))).toBe('There is no total without Tag code, which is empty.');
    expect(await error(total('"x"', '"New"'))).toBe('The amount for Weight is no number: x.');
    expect(await error({ ...total('1', '"New"'), keys: [] } as never)).toBe(
      'What the total is of is not filled in yet.',
    );
  });
});
