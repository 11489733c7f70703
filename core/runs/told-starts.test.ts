import { describe, expect, it } from 'vitest';
import { hiveApp, F, T } from '../records/fixture.ts';
import { Records } from '../records/store.ts';
import type { Routine } from '../app/schema.ts';
import { make, routine, RunsWorld } from './fixture.ts';
import { startsOfPerson } from './told-starts.ts';

const input = (id: string, from: string) =>
  ({ id, name: id, type: 'text', first: '', from }) as NonNullable<Routine['inputs']>[number];
const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });
const tags = (w: RunsWorld): unknown[] => w.rows(T.visits).map((c) => c[F.hiveTag]);

describe('a run that fails for good', () => {
  const failing = (name: string) =>
    routine(name, 'record changed', { how: 'added' }, [make.step('mail', { to: '""', subject: 'x', body: 'x' })]);
  const telling = (of?: string, ...steps: ReturnType<typeof note>[]) =>
    routine(
      `Tell ${of ?? 'any'}`,
      'run failed',
      of ? { of } : {},
      [note('"failed " + i_what0000 + ": " + i_record00'), ...steps],
      {
        given: null,
        inputs: [input('i_what0000', 'what failed'), input('i_why00000', 'why it failed'), input('i_record00', 'name of the record')],
      },
    ); // prettier-ignore

  it('starts what tells of it, once, also where the host is stopped in between; and no other', async () => {
    const [a, b] = [failing('A'), failing('B')];
    const w = await RunsWorld.of(a, b, telling(a.id), routine('Not', 'run failed', { of: 'q_other0000' }, [note('"no"')], { given: null }));
    w.killAfter = 8;
    await Promise.race([w.set('oak', { [F.name]: 'Oak' }), w.settle()]);
    w.killAfter = Infinity;
    if (w.killed) await w.start();
    await w.settle();
    expect(tags(w)).toEqual(['failed A: Oak']);
    w.kill();
    await w.start();
    expect(tags(w)).toEqual(['failed A: Oak']);
  }); // prettier-ignore

  it('starts what tells of it also where routines started one another without end', async () => {
    const up = routine('Up', 'record changed', { how: 'either' }, [
      make.step('set', { record: `this_${T.hives}`, values: [{ field: F.weight, value: `this_${T.hives}.${F.weight} + 1` }] }),
    ]);
    const w = await RunsWorld.of(up, telling(up.id));
    await w.set('oak', { [F.name]: 'Oak', [F.weight]: 1 });
    for (let i = 0; i < 30; i++) await w.settle();
    expect(tags(w)).toEqual(['failed Up: Oak']);
  }); // prettier-ignore

  it('of what tells of failures starts nothing itself', async () => {
    const w = await RunsWorld.of(failing('A'), telling(undefined, make.step('mail', { to: '""', subject: 'x', body: 'x' }) as never));
    await w.set('oak', { [F.name]: 'Oak' });
    for (let i = 0; i < 5; i++) await w.settle();
    expect(tags(w)).toEqual(['failed A: Oak']);
    expect(w.runs.board.counts['failed']).toBe(2);
  }); // prettier-ignore
});

describe('what somebody does', () => {
  it('starts routines, with their record in the table of people where there is one', () => {
    const app = hiveApp();
    app.people = T.keepers;
    app.access = { opens: 'signed in', mail: F.mail } as never;
    const mine = routine('Mine', 'person came', { did: 'signed in' }, [], { given: T.keepers, inputs: [input('i_mail0000', 'mail of the person')] }); // prettier-ignore
    const any = routine('Any', 'person came', { did: 'signed in' }, [], { given: null });
    const invited = routine('Invited', 'person came', { did: 'invited' }, [], { given: null });
    app.routines = [mine, any, invited];
    const records = new Records(app);
    records.set(T.keepers, 'ines', { [F.mail]: 'Ines@post.example', [F.keeperName]: 'Ines' });
    const of = (did: 'signed in' | 'invited', mail: string) => startsOfPerson(app, records, { did, mail }, 7);
    expect(of('signed in', 'ines@post.example')).toMatchObject([
      { routine: mine.id, given: { table: T.keepers, record: 'ines' }, values: { i_mail0000: 'ines@post.example' } },
      { routine: any.id, given: null },
    ]);
    expect(of('signed in', 'tom@post.example')).toMatchObject([
      { routine: any.id, said: 'tom@post.example signed in' },
    ]);
    expect(of('invited', 'tom@post.example').map((s) => s.routine)).toEqual([invited.id]);
  });
});
