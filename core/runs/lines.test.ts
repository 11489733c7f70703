import { describe, expect, it } from 'vitest';
import type { StepTrace } from '../routines/state.ts';
import { MemoryRuns, type RunLine } from './lines.ts';
import { lineIn, readRuns, stepsIn } from './live-run.ts';
import { PAST_MS, shortened } from './shorten.ts';

const start = (id: string): Extract<RunLine, { do: 'begins' }>['start'] => ({ id, routine: 'q_one00000', given: null, values: { i: { list: ['a', 1] } }, said: 'It was added', path: ['q_one00000'] }); // prettier-ignore
const run = (asks: number) => ({ state: { id: 'x', asks }, ask: { ask: 'wait', until: 5 }, trace: { ms: 1 } }) as never;
const step = (said: string): StepTrace => ({ step: 'p_1', path: [], turns: [], said, gave: '', ms: 1 });
const text = (l: RunLine): string => JSON.stringify(l);
const read = (lines: readonly string[]) => {
  const said: string[] = [];
  return readRuns(new MemoryRuns([...lines]), (words) => said.push(words)).then((now) => ({ now, said }));
};
const all = async (lines: AsyncIterable<string>): Promise<string[]> => {
  const found: string[] = [];
  for await (const l of lines) found.push(l);
  return found;
};

describe('the lines of runs', () => {
  it('say what a run was put away as last, whatever its steps have in their words', async () => {
    const odd = step('He typed ,"run":{"state":1} and \\ and }');
    const { now } = await read([
      text({ do: 'begins', at: 1, start: start('h1') }),
      text({ do: 'kept', id: 'h1', steps: [odd], run: run(1) }),
      // As they were written before, with the run in front.
      `{"do":"kept","id":"h1","run":${JSON.stringify(run(2))},"steps":[]}`,
      text({ do: 'kept', id: 'h1', steps: [odd], run: run(3) }),
      text({ do: 'begins', at: 1, start: start('h2') }),
      text({ do: 'kept', id: 'h2', steps: [], run: run(4) }),
    ]);
    expect(['h1', 'h2'].map((id) => JSON.parse(now.live.get(id)!.kept!) as unknown)).toEqual([run(3), run(4)]);
  });

  it('that cannot be read are said and left out', async () => {
    const { now, said } = await read([text({ do: 'begins', at: 1, start: start('h1') }), '{"do":"what"}', 'not JSON']);
    expect([now.live.size, said.length]).toEqual([1, 2]);
  });

  it('are shortened to the same, without runs that ended long ago', async () => {
    const late = 10 * PAST_MS;
    const lines = [
      text({ do: 'seen', at: 1, time: 1, triggers: 't' }),
      text({ do: 'begins', at: 1, start: start('old') }),
      text({ do: 'ended', id: 'old', at: 2, ms: 1, steps: [step('old')] }),
      text({ do: 'begins', at: late, start: start('new') }),
      text({ do: 'kept', id: 'new', steps: [step('one')], run: run(1) }),
      text({ do: 'ended', id: 'new', at: late, ms: 1, steps: [step('two')] }),
      text({ do: 'begins', at: 1, start: start('holds') }),
      text({ do: 'kept', id: 'holds', steps: [step('first')], run: run(1) }),
      text({ do: 'kept', id: 'holds', steps: [step('second')], run: run(2) }),
      text({ do: 'begins', at: 1, start: start('failed') }),
      text({ do: 'ended', id: 'failed', at: late, ms: 1, error: 'No.', steps: [] }),
      text({ do: 'paused', routine: '', on: true }),
      text({ do: 'seen', at: 9, time: 9, triggers: 't' }),
    ];
    const { now } = await read(lines);
    const short = await all(shortened(new MemoryRuns(lines).read(), now, late));
    const again = (await read(short)).now;
    expect([...again.live]).toEqual([...now.live]);
    expect([again.seen, [...again.paused]]).toEqual([now.seen, ['']]);
    expect(again.past.map((p) => p.id)).toEqual(['new', 'failed']);
    expect(short.join()).not.toContain('"old"');
    const steps = (id: string): string[] => short.flatMap((l) => stepsIn(lineIn(l)!, id)).map((s) => s.said);
    expect([steps('new'), steps('holds')]).toEqual([
      ['one', 'two'],
      ['first', 'second'],
    ]);
  });
});
