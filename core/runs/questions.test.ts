import { describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { F, T } from '../records/fixture.ts';
import { DAY, HOUR, make, routine, RunsWorld } from './fixture.ts';

const me = thisId(T.hives);
const note = (value: string) => make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value }] });
const tags = (w: RunsWorld): unknown[] => w.rows(T.visits).map((c) => c[F.hiveTag]);
const ask = (more: object = {}) =>
  make.step('ask somebody', {
    to: '["Ines", "Odile"]',
    words: `May {${me}.${F.name}} move?`,
    as: 'choice',
    choices: 'Yes, Not now',
    time: 'duration("P2D")',
    result: 'v_answer000',
    resultName: 'answer',
    late: [note('"nobody"')],
    ...more,
  });
const asking = (more: object = {}, ...after: ReturnType<typeof note>[]) =>
  RunsWorld.of(
    routine('Ask', 'record changed', { how: 'added' }, [ask(more), note('"got " + string(v_answer000)'), ...after]),
  );
const only = (w: RunsWorld, person: string) => w.runs.waits.of(person)[0]!;
const answers = async (w: RunsWorld, person: string, value: string, more: object = {}) => {
  const q = only(w, person);
  const said = w.runs.waits.answer(person, { run: q.run, key: q.key, value, person, device: '', ...more });
  const done = said.then(() => '', (e: Error) => e.message); // prettier-ignore
  await w.settle();
  return done;
};

describe('a question to people', () => {
  it('lies with each of them until the first answers, and the routine goes on with that', async () => {
    const w = await asking();
    await w.set('oak', { [F.name]: 'Oak' });
    expect(w.told).toEqual(['Ines', 'Odile']);
    expect(w.runs.waits.of('Tom')).toEqual([]);
    const q = only(w, 'Odile');
    expect(q.question).toEqual({
      words: 'May Oak move?',
      wants: 'a choice',
      choices: [
        { value: 'Yes', label: 'Yes' },
        { value: 'Not now', label: 'Not now' },
      ],
      later: true,
    });
    expect(only(w, 'Ines')).toEqual(q);
    expect(w.runs.board.live).toMatchObject([
      { stands: 'holds', holdsFor: 'until Ines, Odile answer “May Oak move?”', wakes: q.until },
    ]);
    expect(await answers(w, 'Ines', 'Not now')).toBe('');
    expect(tags(w)).toEqual(['got Not now']);
    expect(w.runs.waits.of('Odile')).toEqual([]);
    expect(w.told.slice(2)).toEqual(['Ines', 'Odile']);
    const late = w.runs.waits.answer('Odile', { run: q.run, key: q.key, value: 'Yes', person: '', device: '' });
    await expect(late).rejects.toThrow('answered already');
    const trace = await w.runs.trace(q.run);
    expect(trace!.steps[0]!.said).toBe('Asked Ines, Odile “May Oak move?”, waiting 2 days at most: Ines answered');
  });

  it('takes no answer of others, none that is none, and none that comes too late', async () => {
    const w = await asking();
    await w.set('oak', { [F.name]: 'Oak' });
    const { run, key } = only(w, 'Ines');
    const tried = (person: string, more: object, since?: number) =>
      w.runs.waits.answer(person, { run, key, value: 'Yes', person, device: '', ...more }, since);
    await expect(tried('Tom', {})).rejects.toThrow('answered already, or is not asked');
    await expect(tried('Ines', { key: `${key}9` })).rejects.toThrow('answered already, or is not asked');
    await expect(tried('Ines', { value: 'Perhaps' })).rejects.toThrow('none of the answers');
    await expect(tried('Ines', {}, w.clock.now() + 1)).rejects.toThrow('answered already, or is not asked');
    await w.pass(2 * DAY + HOUR);
    expect(tags(w)).toEqual(['nobody', null]);
    await expect(tried('Ines', {})).rejects.toThrow('answered already');
  });

  it('is a number or a date, as it is asked', async () => {
    const w = await asking({ as: 'number' });
    await w.set('oak', { [F.name]: 'Oak' });
    expect(await answers(w, 'Ines', ' ')).toBe('Nothing was answered.');
    expect(await answers(w, 'Ines', 'twelve')).toBe('“twelve” is no number.');
    expect(await answers(w, 'Ines', '12.5')).toBe('');
    expect(tags(w)).toEqual(['got 12.5']);
    const d = await asking({ as: 'date' });
    await d.set('oak', { [F.name]: 'Oak' });
    expect(await answers(d, 'Ines', 'soon')).toBe('“soon” is no date.');
    expect(await answers(d, 'Ines', '2026-12-24')).toBe('');
    expect(d.ended).toEqual(['Ask']);
  });

  it('outlives a stop, a release and other changes; so does an answer that was taken', async () => {
    const w = await asking();
    await w.set('oak', { [F.name]: 'Oak' });
    const before = only(w, 'Ines');
    w.kill();
    await w.start();
    expect(only(w, 'Ines')).toEqual(before);
    w.released.setApp(w.app);
    w.runs.setApp();
    await w.settle();
    expect(only(w, 'Ines')).toEqual(before);
    // The host is killed as soon as the answer is on its disk.
    w.killAfter = 2;
    await Promise.race([answers(w, 'Ines', 'Yes'), w.settle()]);
    expect(w.killed).toBe(true);
    w.killAfter = Infinity;
    await w.start();
    expect(tags(w)).toEqual(['got Yes']);
    expect(w.runs.waits.of('Odile')).toEqual([]);
  });

  it('stops in words where there is nobody', async () => {
    const nobody = await asking({ to: 'null' });
    await nobody.set('oak', { [F.name]: 'Oak' });
    expect(nobody.ended).toEqual(['Ask: There is nobody to ask: whom it is for is empty just now.']);
  });
});
