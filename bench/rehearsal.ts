import { phoneHalf } from '../core/app/halves.ts';
import type { App } from '../core/app/schema.ts';
import { peopleTable } from '../core/app/people.ts';
import { stampText } from '../core/host/clock.ts';
import type { NewSceneStep, Scene } from '../core/app/scene-schema.ts';
import type { PhonePage } from '../core/phone/walk.ts';
import type { RecordState } from '../core/records/change.ts';
import { Records } from '../core/records/store.ts';
import { MOST_PHONES } from '../core/rehearsal/cast.ts';
import { Rehearsal } from '../core/rehearsal/rehearsal.ts';
import { play } from '../core/scenes/play.ts';
import { stepKinds, triggerKinds } from '../core/routines/kinds.ts';
import { elementKinds } from '../core/screens/kinds.ts';
import { makeDemo } from '../demo/heatherfield.ts';
import { format, line } from './measure.ts';

const kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };
const DAY = 86_400_000;

/** A number of a record that anybody may write: the first that is no formula. */
function aNumber(
  app: App,
  records: readonly { table: string; id: string }[],
): { table: string; field: string; record: string } {
  for (const table of app.tables) {
    const field = table.fields.find((f) => f.type === 'number' && !f.formula);
    const record = records.find((r) => r.table === table.id);
    if (field && record) return { table: table.id, field: field.id, record: record.id };
  }
  throw new Error('The app has no number.');
}

/** A page that takes what it is shown, and draws nothing. */
const blind: PhonePage = {
  where: () => undefined,
  draw: async () => undefined,
  leaving: () => undefined,
  asks: () => undefined,
  does: async () => undefined,
};

/**
 * A rehearsal of the demo with six phones: against making its records once for each, which is the least that so many
 * phones can take.
 */
export async function rehearsalBench(): Promise<void> {
  const { app, records } = makeDemo();
  const stamp = stampText(Date.now() - DAY, 0, 'maker');
  const states = records.map((r): RecordState => ({ ...r, stamp }));
  const people = peopleTable(app)!.id;
  const cast = records.filter((r) => r.table === people).slice(0, MOST_PHONES);

  let began = performance.now();
  for (let i = 0; i <= MOST_PHONES; i++) {
    const alone = new Records(phoneHalf(app));
    for (const r of records) alone.set(r.table, r.id, { ...r.cells });
  }
  const least = performance.now() - began;

  began = performance.now();
  const room = new Rehearsal({ app, states, kinds, file: async () => null, changed: () => undefined });
  for (const { id } of cast) {
    const phone = room.phones[await room.add({ is: 'person', record: id })]!;
    await phone.walk.begin(blind, { room: 'narrow' });
  }
  await room.settle();
  line(
    'six phones with the demo open',
    performance.now() - began,
    'its records made seven times',
    least,
    'under 2 s in all',
  );

  const [first, ...others] = Object.values(room.phones);
  const { table, field, record } = aNumber(app, records);
  const took: number[] = [];
  for (let i = 1; i <= 20; i++) {
    began = performance.now();
    await first!.api.saveForm(table, record, { [field]: i }, true);
    while (others.some((p) => p.there.cell(table, record, field) !== i)) await new Promise((r) => setTimeout(r, 1));
    took.push(performance.now() - began);
  }
  console.log(
    `  what one writes is on five others after ${format(took[0]!)} the first time, then ${format(took.slice(1).sort((a, b) => a - b)[9]!)} (median); aim: 100 ms`,
  );

  for (const id of Object.keys(room.phones).slice(3)) room.remove(id);
  began = performance.now();
  await room.pass(14 * DAY);
  console.log(`  two weeks with three phones: ${((performance.now() - began) / 1000).toFixed(1)} s; aim: 3 s`);
  await room.end();

  const scene = hundredActs(
    app,
    cast.slice(0, 3).map((r) => r.id),
  );
  began = performance.now();
  const { passed, failed } = await play({ app, scene, states: records, kinds });
  if (!passed) throw new Error(`The scene of a hundred acts: ${failed?.said}`);
  const seconds = (performance.now() - began) / 1000;
  console.log(`  a scene of 100 acts by three people in two weeks: ${seconds.toFixed(1)} s; aim: 3 s`);
}

/** A hundred acts in two weeks: people look around, are without a network for a while, and mails come. */
function hundredActs(app: App, people: readonly string[]): Scene {
  const cast = people.map((record, i) => ({
    id: `p_person000${i}`,
    persona: { is: 'person' as const, record },
  }));
  const act = (i: number): NewSceneStep => {
    const who = cast[i % cast.length]!.id;
    if (i % 10 === 9) return { do: 'wait', ms: (14 * DAY) / 10 };
    if (i % 10 === 4) return { do: 'network', who, network: i % 20 === 4 ? 'off' : 'on' };
    if (i % 10 === 7)
      return { do: 'mail', from: 'ida@outside.example', name: 'Ida', subject: `Bees ${i}`, words: 'A swarm at Mill Lane.' };
    return { do: 'tab', who, screen: app.tabs[i % app.tabs.length]!.screen };
  }; // prettier-ignore
  const steps = Array.from({ length: 100 }, (_, i) => ({ id: `c_act${String(i).padStart(5, '0')}`, ...act(i) }));
  return { id: 'n_hundred00', name: 'A hundred acts', at: Date.now(), cast, steps, made: [] };
}
