import { describe, expect, it } from 'vitest';
import { F, T } from '../../../core/records/fixture.ts';
import { make, me, run, say, world } from '../../../core/routines/fixture.ts';

const raise = (value: string, how: 'raise' | 'lower' = 'raise', field: string = F.weight) =>
  make.step('raise', { how, record: me, values: [{ field, value }] });
const weight = (w: ReturnType<typeof world>): unknown => w.records.row(T.hives, 'bramble')!.cells[F.weight];

describe('raise and lower', () => {
  it('ask for the amount to be added, and say what came of it', async () => {
    const w = world([raise('5.1'), raise('0.2', 'lower')]);
    const before = Number(weight(w));
    const { steps, state } = await run(w);
    expect(state.ended).toEqual({});
    expect(w.asked.map((a) => a.ask === 'write' && a.drafts)).toEqual([
      [{ do: 'raise', table: T.hives, record: 'bramble', by: { [F.weight]: 5.1 } }],
      [{ do: 'raise', table: T.hives, record: 'bramble', by: { [F.weight]: -0.2 } }],
    ]);
    expect(weight(w)).toBeCloseTo(before + 4.9, 10);
    expect(steps.map((s) => s.said)).toEqual([
      'Raised Bramble › Weight by 5.1 kg',
      'Lowered Bramble › Weight by 0.2 kg',
    ]);
  });
  it('begin an empty number at 0', async () => {
    const w = world([raise('3')], {});
    w.records.set(T.hives, 'bramble', { [F.weight]: null });
    await run(w);
    expect(weight(w)).toBe(3);
  });
  it('written together are seen by the steps after them, and sent as one', async () => {
    const w = world([make.step('together', { steps: [raise('1'), raise('1'), say(`{${me}.${F.weight}}`)] })]);
    const before = Number(weight(w));
    await run(w);
    expect(w.asked.filter((a) => a.ask === 'write').map((a) => a.ask === 'write' && a.drafts.length)).toEqual([2]);
    expect(w.asked.find((a) => a.ask === 'message')).toMatchObject({ words: `${before + 2} kg` });
    expect(weight(w)).toBe(before + 2);
  });
  it('stop in words for what is no number', async () => {
    const error = async (step: ReturnType<typeof raise>) => (await run(world([step]))).state.ended?.error;
    expect(await error(raise('"much"'))).toBe('The amount for Weight is no number: much.');
    expect(await error(raise('null'))).toBe('The amount for Weight is no number: nothing.');
    expect(await error(raise('1', 'raise', F.name))).toBe('Nothing can be added to Name: it keeps no number.');
    expect(await error(raise('1e17 + 0.5'))).toContain('more digits than can be kept exactly');
  });
});
