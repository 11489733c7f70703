import { expect, it } from 'vitest';
import '../kinds/given/all.ts';
import '../kinds/elements/list/arranged.ts';
import '../core/world/warm.fixture.ts';
import { peopleTable } from '../core/app/people.ts';
import { play } from '../core/scenes/play.ts';
import { fewRecords, shake, type ShakeFound } from '../core/scenes/shake.ts';
import { allKinds } from '../core/session/fixture.ts';
import { withFiveFaults } from './faults.fixture.ts';
import { makeDemo } from './heatherfield.ts';

const day = new Date('2026-11-23T10:00:00');
const { app: demo, records } = makeDemo(day);
const people = records.filter((r) => r.table === peopleTable(demo)!.id).slice(0, 2);
const states = fewRecords(
  demo,
  records,
  12,
  people.map((p) => p.id),
);

/** What each of the five is told as. */
const FIVE: Record<string, RegExp> = {
  'an endless pair': /were stopped: .*(To and fro|Fro and to) → /,
  'a rule that leaks': /who has not the role Coordinators, could give it to/,
  'an unanswered failure': /ran What is on the photo\?, which stopped: There is no picture to describe/,
  'a dead end': /can never save this form: Seen by must be filled in/,
  'a lost update': /^A change of Quantity by .* was lost/,
};

it('finds five faults planted in a copy of the demo, each with a scene that fails', async () => {
  const app = withFiveFaults(demo);
  let found: ShakeFound[] = [];
  const of = (says: RegExp): ShakeFound | undefined => found.find((f) => says.test(f.fault.said));
  found = await shake({
    app,
    states,
    kinds: allKinds,
    cast: people.map(({ id }) => ({ is: 'person', record: id })),
    at: day.getTime(),
    times: 200,
    acts: 60,
    seed: 4,
    heard: (now) => (found = now.found),
    ends: () => Object.values(FIVE).every(of),
  });
  for (const [called, says] of Object.entries(FIVE)) {
    const fault = of(says);
    expect(fault, called).toBeDefined();
    expect(fault!.to, called).toBeLessThanOrEqual(fault!.from);
    const { passed, failed } = await play({ app, scene: fault!.scene, states: [], kinds: allKinds });
    expect(passed, `${called}: ${fault!.fault.said}`).toBe(false);
    expect(failed, called).not.toBeNull();
  }
}, 400_000);
