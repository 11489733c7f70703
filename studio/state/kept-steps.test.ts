import fc from 'fast-check';
import { applyPatches, enablePatches, produceWithPatches } from 'immer';
import { describe, expect, it } from 'vitest';
import { keptSteps, readSteps, type Step } from './kept-steps.ts';

enablePatches();

const app = { id: 'a_app0000001', changed: '2026-05-01T10:00:00.000Z' };
const step = (label: string, more: Partial<Step> = {}): Step => ({
  label,
  patches: [],
  inverse: [],
  drafts: [],
  written: null,
  merge: 'name',
  at: 1,
  ...more,
});
const set = (record: string) => ({ do: 'set' as const, table: 't_1', record, cells: { f_abcdefghij: 'x' } });
const written = (record: string): Step['written'] => ({
  made: [{ ...set(record), id: 'c1', stamp: '0abcdefgh-0000-devices' }],
  back: [{ do: 'remove', table: 't_1', record }],
});
/** As storage gives things back, or a text in between. */
const stored = (kept: unknown, asText: boolean): unknown =>
  asText ? (JSON.parse(JSON.stringify(kept)) as unknown) : structuredClone(kept);
const labels = (list: readonly Step[]): string[] => list.map((s) => s.label);

describe('steps that outlive a reload', () => {
  it('lead from the document back to every state before, and forward again (property)', () => {
    const value = fc.oneof(fc.string(), fc.integer(), fc.constant(null), fc.array(fc.integer(), { maxLength: 3 }));
    const edits = fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.option(value, { nil: undefined })), {
      maxLength: 12,
    });
    fc.assert(
      fc.property(edits, fc.nat(12), fc.boolean(), (list, undone, asText) => {
        const states: Record<string, unknown>[] = [{ a: 1 }];
        const steps = list.map(([key, v], i) => {
          const [next, patches, inverse] = produceWithPatches(states[i]!, (d) => {
            if (v === undefined) delete d[key];
            else d[key] = v;
          });
          states.push(next);
          return step(`${i}`, { patches, inverse });
        });
        const at = Math.max(0, steps.length - undone);
        const kept = keptSteps(app, { past: steps.slice(0, at), future: steps.slice(at).toReversed() });
        const { past, future } = readSteps(stored(kept, asText), app);
        let now = states[at]!;
        past.toReversed().forEach((s, i) => {
          now = applyPatches(now, s.inverse);
          expect(now).toEqual(states[at - 1 - i]);
        });
        now = states[at]!;
        future.toReversed().forEach((s, i) => {
          now = applyPatches(now, s.patches);
          expect(now).toEqual(states[at + 1 + i]);
        });
        expect([past.length, future.length]).toEqual([at, steps.length - at]);
      }),
    );
  });

  it('are those of this document alone, and of nothing that is not what was kept', () => {
    const kept = keptSteps(app, { past: [step('One', { written: written('r1') })], future: [] });
    expect(labels(readSteps(kept, app).past)).toEqual(['One']);
    expect(readSteps(kept, { ...app, changed: '2026-05-01T10:00:00.001Z' }).past).toEqual([]);
    expect(readSteps(kept, { ...app, id: 'a_app0000002' }).past).toEqual([]);
    for (const spoilt of [
      undefined,
      null,
      'x',
      { ...kept, past: ['{"label":1}'] },
      { ...kept, past: ['{'] },
      { ...kept, future: null },
    ])
      expect(readSteps(spoilt, app)).toEqual({ past: [], future: [] });
  });

  it('leave out one that is still being written, and all that do not fit without it', () => {
    const doc = { patches: [{ op: 'replace' as const, path: ['name'], value: 'B' }] };
    const open = { drafts: [set('r1')] };
    const past = [step('One', doc), step('Two', open), step('Three', doc)];
    expect(labels(readSteps(keptSteps(app, { past, future: [] }), app).past)).toEqual(['One', 'Three']);
    const changes = [step('One', doc), step('Two', { ...open, ...doc }), step('Three', doc)];
    expect(labels(readSteps(keptSteps(app, { past: changes, future: [] }), app).past)).toEqual(['Three']);
    const turning = [step('One', doc), step('Two', { written: written('r1'), turning: true, ...doc })];
    expect(readSteps(keptSteps(app, { past: [], future: turning }), app).future).toEqual([]);
  });

  it('are the newest hundred, of so many letters as a browser keeps easily', () => {
    const many = Array.from({ length: 130 }, (_, i) => step(`${i}`));
    expect(labels(readSteps(keptSteps(app, { past: many, future: [] }), app).past)).toEqual(labels(many.slice(-100)));
    const large = ['One', 'Two', 'Three'].map((label) =>
      step(label, { patches: [{ op: 'replace', path: ['name'], value: 'x'.repeat(400_000 * 2) }] }),
    );
    expect(labels(readSteps(keptSteps(app, { past: large, future: [] }), app).past)).toEqual(['Two', 'Three']);
  });
});
