import { describe, expect, it } from 'vitest';
import { play } from './play.ts';
import { allKinds } from '../session/fixture.ts';
import { CLUB, recorded, ruledClub } from './clubs.fixture.ts';
import { covered, type Covered } from './covered.ts';

const NONE = { screens: [], routines: [], forms: [], rules: [], roles: [] };
const of = (all: readonly Covered[], sort: Covered['sort']): Covered | undefined => all.find((c) => c.sort === sort);

describe('what scenes have come to', () => {
  const app = ruledClub();

  it('is nothing before any is played, and names all that is missing', () => {
    const all = covered(app, []);
    expect(of(all, 'screens')).toMatchObject({ all: app.screens.length });
    expect(of(all, 'screens')!.missing).toHaveLength(app.screens.length);
    expect(of(all, 'rules')!.missing[0]!.name).toBe('Whoever has signed in can see, add Hives');
    expect(of(all, 'forms')!.missing.map((m) => m.name)).toContain('Form for hive on Hive form');
    // The app has none.
    expect(of(all, 'roles')).toBeUndefined();
  });

  it('is counted over all of them, each once', () => {
    const [a, b] = app.screens.map((s) => s.id) as [string, string];
    const all = covered(app, [
      { ...NONE, screens: [a] },
      { ...NONE, screens: [a, b, 's_gone000000'] },
    ]);
    expect(of(all, 'screens')!.missing.map((m) => m.id)).toEqual(app.screens.slice(2).map((s) => s.id));
  });

  it('is what a scene that was played went through', async () => {
    const scene = await recorded(app, async (room, hands) => {
      await hands('odile');
      await room.pass(60_000);
    });
    const { touched } = await play({ app, scene, states: CLUB, kinds: allKinds });
    const screens = of(covered(app, [touched]), 'screens')!;
    expect(screens.missing).toHaveLength(app.screens.length - 1);
    expect(screens.missing.map((m) => m.name)).not.toContain('Hives');
  });
});
