import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Routine, Trigger } from '../app/schema.ts';
import { F, T } from '../records/fixture.ts';
import { make, routine, RunsWorld, where } from './fixture.ts';
import { startsNext, wouldHaveStarted } from './would-start.ts';

/** What a routine would do where it started: something that no trigger of these tests looks at. */
const STEPS = () => [make.step('add', { table: T.keepers, values: [] })];
const heavy = where(F.weight, 'over', '10');
const light = where(F.weight, 'under', '10');

/** What would have started the first trigger of a routine, in a word each, the latest first. */
const said = (w: RunsWorld, r: Routine): string[] | undefined =>
  wouldHaveStarted(w.released.host.replica.records, w.app, r, 0, w.runs.lately.changes)?.map(
    (c) => `${c.title} ${c.did}${c.byRoutine ? ' by a routine' : ''}: ${c.starts}`,
  );

describe('what would have started a routine', () => {
  it('is said of the latest changes, whatever the records are now, and changes none of them', async () => {
    const w = await RunsWorld.of();
    await w.set('oak', { [F.name]: 'Oak', [F.weight]: 4 });
    await w.set('oak', { [F.weight]: 12 });
    await w.set('elm', { [F.name]: 'Elm', [F.weight]: 20 });
    await w.set('oak', { [F.weight]: 13 });
    await w.write({ do: 'remove', table: T.hives, record: 'oak' });
    await w.set('x', { [F.hiveTag]: 'a visit' }, T.visits);
    const before = JSON.stringify([w.rows(T.hives), w.rows(T.visits)]);
    const heavier = routine('Heavier', 'record changed', { how: 'changed', fields: [F.weight], was: light, where: heavy }, []); // prettier-ignore
    expect(said(w, heavier)).toEqual([
      'Oak removed: false',
      'Oak changed: false',
      'Elm added: false',
      'Oak changed: true',
      'Oak added: false',
    ]);
    const becomes = routine('Becomes', 'record becomes', { where: heavy }, []);
    expect(said(w, becomes)!.filter((l) => l.endsWith('true'))).toEqual(['Elm added: true', 'Oak changed: true']);
    expect(said(w, routine('Gone', 'record changed', { how: 'removed' }, []))![0]).toBe('Oak removed: true');
    expect(said(w, routine('Clock', 'clock', {}, []))).toBeUndefined();
    expect(JSON.stringify([w.rows(T.hives), w.rows(T.visits)])).toBe(before);
  });

  it('is told for dates of records: the soonest to come, of the records that count', async () => {
    const w = await RunsWorld.of();
    const due = { table: T.visits, field: F.when, many: 1, unit: 'days', way: 'before', time: '09:00' };
    const next = (more = {}) => {
      const r = routine('Due', 'date reached', { ...due, ...more }, [], { given: T.visits });
      return startsNext(w.released.host.replica.records, w.app, r, 0, w.clock.now());
    };
    expect(next()).toBeNull();
    const visits = [['late', '2026-12-24'], ['soon', '2026-12-04'], ['over', '2026-11-30']] as const; // prettier-ignore
    for (const [id, when] of visits) await w.set(id, { [F.when]: when, [F.hiveTag]: id }, T.visits);
    expect(next()).toMatchObject({ at: Date.parse('2026-12-03T09:00:00Z') });
    expect(next({ where: where(F.hiveTag, 'is', '"late"') })).toMatchObject({ at: Date.parse('2026-12-23T09:00:00Z') });
    const r = routine('Added', 'record changed', { how: 'added' }, []);
    expect(startsNext(w.released.host.replica.records, w.app, r, 0, w.clock.now())).toBeNull();
  });

  it('says nothing of what was brought along, and knows nothing of somebody who is forgotten', async () => {
    const w = await RunsWorld.of();
    await w.set('oak', { [F.name]: 'Oak' });
    expect(w.runs.lately.changes).toHaveLength(1);
    await w.runs.forget(['Oak']);
    expect(w.runs.lately.changes).toEqual([]);
  });

  it('is what the host began for them (property)', async () => {
    const how = fc.constantFrom('added', 'changed', 'either', 'removed');
    const trigger = fc.record({
      how,
      was: fc.constantFrom(where(F.weight, 'under', '10'), where('', 'is'), heavy),
      where: fc.constantFrom(heavy, light, where(F.name, 'is', '"Elm"')),
      fields: fc.constantFrom(undefined, [F.weight], [F.name]),
    });
    const write = fc.record({
      record: fc.constantFrom('oak', 'elm', 'ash'),
      cells: fc.record({ [F.weight]: fc.constantFrom(1, 9, 11, null), [F.name]: fc.constantFrom('Oak', 'Elm') }, { requiredKeys: [] }),
      removes: fc.nat(4).map((n) => n === 0),
    }); // prettier-ignore
    await fc.assert(
      fc.asyncProperty(fc.array(trigger, { minLength: 1, maxLength: 3 }), fc.array(write, { maxLength: 7 }), async (triggers, writes) => {
        const clean = triggers.map((t) => Object.fromEntries(Object.entries(t).filter(([, v]) => v !== undefined)));
        const becomes = routine('Becomes', 'record becomes', { where: heavy }, STEPS());
        const routines = [...clean.map((t, i) => routine(`R${i}`, 'record changed', t as Partial<Trigger>, STEPS())), becomes];
        const w = await RunsWorld.of(...routines);
          const there = new Set<string>();
          let lives = 0;
          for (const { record: name, cells, removes } of writes) {
            // One that was removed stays so: the next of its name is another.
            const record = `${name}${lives}`;
            if (removes && !there.has(record)) continue;
            await w.write(removes ? { do: 'remove', table: T.hives, record } : { do: 'set', table: T.hives, record, cells });
            if (removes) lives++;
            else there.add(record);
          }
        for (const r of routines) {
          const began = w.runs.now.past.filter((p) => p.routine === r.id).length;
          expect(said(w, r)!.filter((l) => l.endsWith('true')), r.name).toHaveLength(began);
        }
      }),
      { numRuns: 60 },
    ); // prettier-ignore
  });
});
