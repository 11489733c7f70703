import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { App, Step } from '../app/schema.ts';
import { thisId } from '../document/ids.ts';
import { F, T } from '../records/fixture.ts';
import { DAY, HOUR, make, routine, RunsWorld } from './fixture.ts';
import { readRuns } from './live-run.ts';
import { shortened } from './shorten.ts';

/** Runs that hold over releases: with the routines of the newest, or with those that they began with. */

const me = thisId(T.hives);
const note = (words: string): Step =>
  make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: `"${words}"` }] });
const A_DAY = (): Step => make.step('wait', { time: 'duration("PT24H")' });
const tags = (w: RunsWorld): unknown[] => w.rows(T.visits).map((c) => c[F.hiveTag]);
const INSIDE = /undefined|null|reading|is not a|Cannot|Maximum/;

/** An app whose routine holds for a day, twice, and notes `first` and then `second`. */
async function holding(): Promise<RunsWorld> {
  const r = routine('Hold', 'record changed', { how: 'added' }, [A_DAY(), note('first'), A_DAY(), note('second')]);
  return RunsWorld.of(r);
}
/** Puts other words in place of the notes of its routine; the steps stay the same ones. */
const says = (first: string, second: string) => (app: App) => {
  const steps = app.routines.find((r) => r.name === 'Hold')!.steps as (Step & { values?: { field: string; value: string }[] })[];
  steps[1]!.values![0]!.value = `"${first}"`;
  steps[3]!.values![0]!.value = `"${second}"`;
}; // prettier-ignore

describe('runs over a release', () => {
  it('go on with the newest where nothing else is chosen; what begins later always does', async () => {
    const w = await holding();
    await w.set('oak', { [F.name]: 'Oak' });
    await w.release(says('one', 'two'));
    await w.pass(2 * DAY);
    expect(tags(w)).toEqual(['one', 'two']);
  });

  it('go on as they began, through stops and with everything else of the newest', async () => {
    const w = await holding();
    await w.set('oak', { [F.name]: 'Oak' });
    await w.release(says('one', 'two'), 'as begun');
    await w.set('elm', { [F.name]: 'Elm' });
    await w.pass(DAY + HOUR);
    expect(tags(w).sort()).toEqual(['first', 'one']);
    w.kill();
    await w.start();
    await w.pass(DAY);
    expect(tags(w).sort()).toEqual(['first', 'one', 'second', 'two']);
    expect(w.runs.now.live.size).toBe(0);
  });

  it('each of its own release over several, until they are moved to the newest', async () => {
    const w = await holding();
    for (const [i, name] of ['oak', 'elm', 'ash'].entries()) {
      await w.set(name, { [F.name]: name });
      await w.release(says(`first of ${i + 2}`, `second of ${i + 2}`), 'as begun');
    }
    await w.pass(DAY + HOUR);
    expect(tags(w).sort()).toEqual(['first', 'first of 2', 'first of 3']);
    await w.release(() => undefined, 'as begun');
    await w.release(() => undefined);
    await w.pass(DAY);
    expect(tags(w).slice(3)).toEqual(['second of 4', 'second of 4', 'second of 4']);
    expect(w.runs.now.programs.size).toBe(0);
  });

  it('of a routine that is gone go on as they began, or end in words', async () => {
    const without = (app: App): void => void (app.routines = []);
    const stays = await holding();
    await stays.set('oak', { [F.name]: 'Oak' });
    await stays.release(without, 'as begun');
    await stays.pass(2 * DAY);
    expect(tags(stays)).toEqual(['first', 'second']);
    const moves = await holding();
    await moves.set('oak', { [F.name]: 'Oak' });
    await moves.release(without);
    await moves.pass(2 * DAY);
    expect(tags(moves)).toEqual([]);
    expect(moves.runs.now.past.map((p) => p.error)).toEqual(['The routine is not part of the app any more.']);
  });

  it('end in words, and in none of the inside, where the release has taken what they go by (property)', async () => {
    const takes: Record<string, (app: App) => void> = {
      'the field it writes': (app) => {
        const visits = app.tables.find((t) => t.id === T.visits)!;
        visits.fields = visits.fields.filter((f) => f.id !== F.hiveTag);
      },
      'the table it writes in': (app) => void (app.tables = app.tables.filter((t) => t.id !== T.visits)),
      'the table of its record': (app) => void (app.tables = app.tables.filter((t) => t.id !== T.hives)),
    };
    for (const [what, take] of Object.entries(takes)) {
      const w = await holding();
      const reads = structuredClone(w.app.routines[0]!);
      reads.steps[1] = make.step('add', { table: T.visits, values: [{ field: F.hiveTag, value: `${me}.${F.name}` }] });
      await w.release((app) => void (app.routines = [reads]));
      await w.set('oak', { [F.name]: 'Oak' });
      await w.release(take, 'as begun');
      await w.pass(2 * DAY);
      expect(
        w.runs.now.past.map((p) => p.error).filter((e) => INSIDE.test(e)),
        what,
      ).toEqual([]);
      expect(
        [...w.runs.now.live.values()].map((r) => r.stands).filter((s) => s !== 'failed'),
        what,
      ).toEqual([]);
    }
  });

  it('are the same after lines were read, and shortened, in whatever order things happened (property)', async () => {
    const what = fc.constantFrom('begins', 'as begun', 'newest', 'pass', 'shorten', 'kill');
    await fc.assert(
      fc.asyncProperty(fc.array(what, { maxLength: 14 }), async (acts) => {
        const w = await holding();
        let n = 0;
        for (const act of acts) {
          n++;
          if (act === 'begins') await w.set(`r${n}`, { [F.name]: `Hive ${n}` });
          else if (act === 'as begun' || act === 'newest') await w.release(says(`a${n}`, `b${n}`), act);
          else if (act === 'pass') await w.pass(10 * HOUR);
          else if (act === 'kill') {
            w.kill();
            await w.start();
          } else await w.lines.rewrite(shortened(w.lines.read(), w.runs.now, w.clock.now()));
          const read = await readRuns(w.lines, (words) => expect(words).toBe(''));
          const programs = (now: typeof read): unknown[] => Array.from(now.live.values(), (r) => [r.id, r.program && now.programs.get(r.program)?.routines]); // prettier-ignore
          expect(programs(read)).toEqual(programs(w.runs.now));
        }
      }),
      { numRuns: 60 },
    );
  });

  it('go on with the newest where the earlier release cannot be read any more, and it is said', async () => {
    const w = await holding();
    await w.set('oak', { [F.name]: 'Oak' });
    await w.release(says('one', 'two'), 'as begun');
    w.kill();
    w.lines.lines = w.lines.lines.map((l) => (l.startsWith('{"do":"program"') ? l.replace('"format"', '"form"') : l));
    await w.start();
    expect(w.said.join()).toContain('Runs that began with an earlier release go on with the newest');
    await w.pass(2 * DAY);
    expect(tags(w)).toEqual(['one', 'two']);
  });
});
