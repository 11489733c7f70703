import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER } from '../access/access.ts';
import { thisId } from '../document/ids.ts';
import { F, T } from '../records/fixture.ts';
import { DAY, HOUR, make, MINUTE, routine, RunsWorld, START, where } from './fixture.ts';

const me = thisId(T.hives);
const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });
const tags = (w: RunsWorld): unknown[] => w.rows(T.visits).map((c) => c[F.hiveTag]);
const put = (field: string, value: string) => make.step('set', { record: me, values: [{ field, value }] });

describe('a change of a record', () => {
  it('starts routines for what was added, changed and removed, with conditions over it as it was and is', async () => {
    const w = await RunsWorld.of(
      routine('Added', 'record changed', { how: 'added' }, [note(`"added " + ${me}.${F.name}`)]),
      routine('Heavier', 'record changed', { how: 'changed', fields: [F.weight], was: where(F.weight, 'under', '10'), where: where(F.weight, 'over', '10') }, [note(`"heavy " + ${me}.${F.name}`)]),
      routine('Renamed', 'record changed', { how: 'changed', fields: [F.name] }, [note('"renamed"')]),
      routine('Gone', 'record changed', { how: 'removed' }, [note('"gone"')], { given: null }),
    ); // prettier-ignore
    await w.set('oak', { [F.name]: 'Oak', [F.weight]: 4 });
    await w.set('oak', { [F.weight]: 9 });
    await w.set('oak', { [F.weight]: 12 });
    await w.set('oak', { [F.weight]: 13 });
    await w.set('oak', { [F.name]: 'Oak' });
    await w.write({ do: 'remove', table: T.hives, record: 'oak' });
    expect(tags(w)).toEqual(['added Oak', 'heavy Oak', 'gone']);
    expect(w.ended).toEqual(['Added', 'Heavier', 'Gone']);
  });

  it('gives inputs the values before and now', async () => {
    const r = routine('Moved', 'record changed', { how: 'changed', fields: [F.weight] }, [], {
      inputs: [
        { id: 'i_before00', name: 'Before', type: 'number', first: '', from: 'value before' },
        { id: 'i_now00000', name: 'Now', type: 'number', first: '', from: 'value now' },
      ],
    });
    r.steps = [make.step('add', { table: T.visits, values: [{ field: F.fed, value: 'i_now00000 - i_before00' }] })];
    const w = await RunsWorld.of(r);
    await w.set('oak', { [F.name]: 'Oak', [F.weight]: 4 });
    await w.set('oak', { [F.weight]: 9.5 });
    expect(w.rows(T.visits)).toEqual([{ [F.fed]: 5.5 }]);
  });

  it('brought along from before the first release starts nothing, and is taken from the owner alone', async () => {
    const w = await RunsWorld.of(
      routine('Added', 'record changed', { how: 'added' }, [note(`${me}.${F.name}`)]),
      routine('Heavy', 'record becomes', { where: where(F.weight, 'over', '1') }, [note('"heavy"')]),
    );
    const change = (record: string) => ({ do: 'set' as const, table: T.hives, record, cells: { [F.name]: record, [F.weight]: 2 }, id: `b-${record}`, stamp: w.released.host.stamp(), brought: true as const }); // prettier-ignore
    await Promise.race([w.released.accept([change('oak')], OWNER), w.settle()]);
    await w.settle();
    expect(tags(w)).toEqual([]);
    await Promise.race([w.released.accept([change('elm')], NOBODY), w.settle()]);
    await w.settle();
    expect(tags(w)).toEqual(['elm', 'heavy']);
  });

  it('made by a routine does not start what people alone start, and circles are cut and drawn', async () => {
    const up = routine('Up', 'record changed', { how: 'either', table: T.hives }, [
      put(F.weight, `${me}.${F.weight} + 1`),
    ]);
    const people = routine('People', 'record changed', { how: 'either', by: 'people' }, [note('"person"')]);
    const w = await RunsWorld.of(up, people);
    await w.set('oak', { [F.name]: 'Oak', [F.weight]: 0 });
    for (let i = 0; i < 10; i++) await w.settle();
    expect(w.cell('oak', F.weight)).toBe(20);
    expect(tags(w)).toEqual(['person']);
    expect(w.ended.at(-1)).toMatch(/^Up: Routines started one another 20 times, and were stopped: Up → Up\.$/);
  });

  it('two routines that each start both are stopped before they have grown beyond what a host can do, and it is said', async () => {
    const both = (name: string, letter: string) =>
      routine(name, 'record changed', { how: 'either', table: T.hives }, [
        put(F.tag, `string(${me}.${F.tag}) + "${letter}"`),
      ]);
    const w = await RunsWorld.of(both('To', 'a'), both('Fro', 'b'));
    const failed: string[] = [];
    const append = w.lines.append.bind(w.lines);
    w.lines.append = async (lines) => {
      failed.push(...lines.filter((l) => l.includes('"error"')).map((l) => (JSON.parse(l) as { error: string }).error));
      return append(lines);
    };
    await w.set('oak', { [F.name]: 'Oak', [F.tag]: 'x' });
    for (let i = 0, before = -1; i < 2000 && w.log.kept.length !== before; i++) {
      before = w.log.kept.length;
      for (let k = 0; k < 10; k++) await w.settle();
    }
    // The two that the change by hand starts are counted each for itself.
    expect(failed).toHaveLength(2);
    for (const words of failed)
      expect(words).toMatch(
        /^Routines started one another more than 2,000 times after one change, and were stopped: .*(To|Fro)\.$/,
      );
    expect(w.log.kept.length).toBeGreaterThan(3000);
    expect(w.log.kept.length).toBeLessThan(2 * 2020);
  }, 120_000);

  it('starts runs of one record one after another in the order of its changes, others beside them', async () => {
    const slow = make.step('wait', { time: 'duration("PT1M")' });
    const w = await RunsWorld.of(
      routine('Log', 'record changed', { how: 'changed', fields: [F.weight] }, [put(F.tag, `if ${me}.${F.tag} = null then string(${me}.${F.weight}) else ${me}.${F.tag} + "," + string(${me}.${F.weight})`)]),
      routine('Slow', 'record changed', { how: 'added' }, [slow, note('"waited"')]),
    ); // prettier-ignore
    await w.set('oak', { [F.name]: 'Oak' });
    await w.write(
      ...[1, 2, 3].map((n) => ({ do: 'set' as const, table: T.hives, record: 'oak', cells: { [F.weight]: n } })),
    );
    // All three were made before the first ran; one that holds keeps nothing back.
    expect(w.cell('oak', F.tag)).toBe('3,3,3');
    expect(tags(w)).toEqual([]);
    await w.pass(2 * MINUTE);
    expect(tags(w)).toEqual(['waited']);
  });
});

describe('something that becomes so', () => {
  it('starts a routine once each time, also by other records', async () => {
    const w = await RunsWorld.of(
      routine('Fed', 'record becomes', { where: where(F.total, 'over', '10') }, [note(`"fed " + ${me}.${F.name}`)]),
    );
    await w.set('oak', { [F.name]: 'Oak', [F.tag]: 'o' });
    await w.set('v1', { [F.hiveTag]: 'o', [F.fed]: 6 }, T.visits);
    await w.set('v2', { [F.hiveTag]: 'o', [F.fed]: 5 }, T.visits);
    await w.set('v3', { [F.hiveTag]: 'o', [F.fed]: 5 }, T.visits);
    expect(tags(w).filter((t) => t !== 'o')).toEqual(['fed Oak']);
    await w.set('v2', { [F.fed]: -5 }, T.visits);
    await w.set('v2', { [F.fed]: 5 }, T.visits);
    expect(tags(w).filter((t) => t !== 'o')).toEqual(['fed Oak', 'fed Oak']);
  });

  it('by the time is found also where the machine was off meanwhile', async () => {
    const isLate = { match: 'all', conditions: [{ left: F.when, op: 'under', right: 'today()' }] };
    const r = routine('Late', 'record becomes', { table: T.visits, where: isLate }, [], { given: T.visits });
    r.steps = [make.step('set', { record: thisId(T.visits), values: [{ field: F.fed, value: '1' }] })];
    const w = await RunsWorld.of(r);
    await w.set('v1', { [F.when]: '2026-12-02' }, T.visits);
    await w.set('v2', { [F.when]: '2026-11-02' }, T.visits);
    await w.pass(MINUTE);
    expect(w.cell('v2', F.fed, T.visits)).toBe(1);
    w.kill();
    await w.clock.pass(3 * DAY);
    await w.start();
    expect(w.cell('v1', F.fed, T.visits)).toBe(1);
    expect(w.ended).toEqual(['Late', 'Late']);
  });
});

describe('the clock', () => {
  const at16 = { each: 'day', time: '16:00' };
  it('starts a routine at its time, and what was missed once, each or not', async () => {
    const w = await RunsWorld.of(
      ...(['once', 'each', 'skip'] as const).map((missed) =>
        routine(missed, 'clock', { ...at16, missed }, [note(`"${missed}"`)], { given: null }),
      ),
    );
    await w.pass(9 * HOUR);
    expect(tags(w)).toEqual(['once', 'each', 'skip']);
    w.kill();
    await w.clock.pass(3 * DAY);
    await w.start();
    expect(tags(w).slice(3).sort()).toEqual(['each', 'each', 'each', 'once']);
    expect(w.runs.now.past.at(-1)!.said).toContain('it was missed, and is done');
  });

  it('starts it once for each record of a query', async () => {
    const query = { table: T.hives, where: where(F.weight, 'over', '5'), order: [], limit: null };
    const w = await RunsWorld.of(routine('Each', 'clock', { ...at16, for: query }, [note(`${me}.${F.name}`)]));
    for (const [name, weight] of [['Ash', 6], ['Elm', 4], ['Oak', 7]] as const) await w.set(name, { [F.name]: name, [F.weight]: weight }); // prettier-ignore
    await w.pass(DAY);
    expect(tags(w).sort()).toEqual(['Ash', 'Oak']);
  });

  it('starts it before a date, once, though the date was moved', async () => {
    const r = routine('Soon', 'date reached', { table: T.visits, field: F.when, way: 'before', many: 3, unit: 'days', time: '9:00' }, [], { given: T.visits }); // prettier-ignore
    r.steps = [make.step('raise', { record: thisId(T.visits), values: [{ field: F.fed, value: '1' }] })];
    const w = await RunsWorld.of(r);
    await w.set('v1', { [F.when]: '2026-12-06', [F.fed]: 0 }, T.visits);
    await w.set('v2', { [F.when]: '2026-12-03', [F.fed]: 0 }, T.visits);
    await w.pass(2 * DAY - MINUTE);
    expect(w.cell('v1', F.fed, T.visits)).toBe(0);
    await w.pass(2 * HOUR);
    expect(w.cell('v1', F.fed, T.visits)).toBe(1);
    // Its moment was over when it was added.
    expect(w.cell('v2', F.fed, T.visits)).toBe(0);
    await w.set('v1', { [F.when]: '2026-12-16' }, T.visits);
    await w.set('v1', { [F.when]: '2026-12-07' }, T.visits);
    await w.pass(DAY);
    expect(w.cell('v1', F.fed, T.visits)).toBe(2);
  });

  it('says what it starts next', async () => {
    const w = await RunsWorld.of(routine('Digest', 'clock', at16, [], { given: null }));
    expect(w.runs.board.next).toEqual([
      { routine: w.app.routines[0]!.id, said: 'every day at 16:00', at: START + 8 * HOUR },
    ]);
  });
});

describe('a run that holds', () => {
  const held = (): Parameters<typeof routine>[3] => [
    make.step('hold', {
      when: where(`${me}.${F.status}`, 'is', '"Retired"'),
      time: 'duration("P1DT1H")',
      late: [note('"too late"')],
    }),
    note('"it came"'),
  ];
  it('goes on when what it waits for becomes so, and not before', async () => {
    const w = await RunsWorld.of(routine('Hold', 'record changed', { how: 'added' }, held()));
    await w.set('oak', { [F.name]: 'Oak' });
    const lines = w.lines.lines.length;
    await w.set('oak', { [F.weight]: 5 });
    await w.set('elm', { [F.weight]: 5 });
    await w.pass(DAY);
    expect(tags(w)).toEqual([]);
    expect([...w.runs.now.live.values()].map((r) => r.stands)).toEqual(['holds', 'holds']);
    // Looking on costs nothing that is kept: only the run of Elm was.
    expect(w.lines.lines.length - lines).toBeLessThan(5);
    await w.set('oak', { [F.status]: 'Retired' });
    expect(tags(w)).toEqual(['it came']);
  });

  it('goes on after a stop and a release, or when its time is over', async () => {
    const w = await RunsWorld.of(routine('Hold', 'record changed', { how: 'added' }, held()));
    await w.set('oak', { [F.name]: 'Oak' });
    await w.set('elm', { [F.name]: 'Elm' });
    w.kill();
    await w.start();
    w.app = { ...w.app, name: 'Renamed' };
    w.released.setApp(w.app);
    w.runs.setApp();
    await w.set('elm', { [F.status]: 'Retired' });
    expect(tags(w)).toEqual(['it came']);
    await w.pass(DAY + HOUR);
    expect(tags(w)).toEqual(['it came', 'too late', 'it came']);
    expect(w.runs.now.live.size).toBe(0);
  });
});

describe('a run that fails', () => {
  it('is gone on with from where it failed', async () => {
    const w = await RunsWorld.of(
      routine('Mail', 'record changed', { how: 'added' }, [
        note('"before"'),
        make.step('wait', { time: 'duration("PT1M")' }),
        make.step('mail', { to: `${me}.${F.tag}`, subject: 'Hello', body: 'Hello' }),
      ]),
    );
    await w.set('oak', { [F.name]: 'Oak' });
    await w.pass(2 * MINUTE);
    const [failed] = [...w.runs.now.live.values()];
    expect(failed).toMatchObject({ stands: 'failed' });
    await w.set('oak', { [F.tag]: 'oak@example.org' });
    await w.runs.runAgain(failed!.id);
    await w.settle();
    expect(await w.mails()).toEqual(['Hello']);
    expect(tags(w)).toEqual(['before']);
    expect(w.runs.now.live.size).toBe(0);
  });

  it('is let go of, and those of a routine are held up and go on', async () => {
    const r = routine('Note', 'record changed', { how: 'added' }, [note(`${me}.${F.name}`)]);
    const w = await RunsWorld.of(r);
    await w.runs.pause(r.id, true);
    await w.set('oak', { [F.name]: 'Oak' });
    w.kill();
    await w.start();
    expect(tags(w)).toEqual([]);
    await w.runs.pause(r.id, false);
    await w.settle();
    expect(tags(w)).toEqual(['Oak']);
  });

  it('does not fail because the host stops', async () => {
    const w = await RunsWorld.of(routine('Note', 'record changed', { how: 'added' }, [note(`${me}.${F.name}`)]));
    const taken = w.set('oak', { [F.name]: 'Oak' });
    await w.stop();
    await taken.catch(() => undefined);
    await w.start();
    await w.settle();
    expect(w.ended.filter((e) => e !== 'Note')).toEqual([]);
    expect(tags(w).length).toBe(w.rows(T.hives).length);
  });
});
