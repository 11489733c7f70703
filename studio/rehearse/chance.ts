import { peopleTable } from '../../core/app/people.ts';
import type { Persona } from '../../core/rehearsal/cast.ts';
import type { Covered } from '../../core/scenes/covered.ts';
import type { ShakeFound } from '../../core/scenes/shake.ts';
import type { Suggested } from '../../core/scenes/suggest.ts';
import { chanceWork } from './chance-work.ts';

/** What chance found in the open app. */
export const useChance = chanceWork<ShakeFound, []>(
  80,
  'Chance has stopped',
  (engine, { app, states, times, seed, heard }) => {
    const people = peopleTable(app)?.id;
    const two = states.filter((s) => s.table === people).slice(0, 2);
    const cast: Persona[] = two.map((s) => ({ is: 'person', record: s.id }));
    if (cast.length === 0) cast.push({ is: 'nobody' }, { is: 'nobody' });
    return engine.shake({ app, states, cast, at: Date.now(), times, acts: 60, seed }, heard);
  },
);

/** The scenes that are proposed for the open app, for what none comes to. Each try leads to one scene at most. */
export const useSuggesting = chanceWork<Suggested, [missing: readonly Covered[]]>(
  120,
  'No more scenes are suggested',
  (engine, { app, states, times, seed, heard }, missing) =>
    engine.suggest({ app, states, at: Date.now(), missing, times, acts: 50, seed }, heard),
);
