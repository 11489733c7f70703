import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { App } from '../app/schema.ts';
import { SceneSchema, type Scene } from '../app/scene-schema.ts';
import { walkElements } from '../document/walk.ts';
import type { AnyElement } from '../document/meaning.ts';
import { F, T } from '../records/fixture.ts';
import { HOUR } from '../runs/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { CLUB, clubApp, recorded, ruledClub, screenOf } from './clubs.fixture.ts';
import { withTexts } from './made.ts';
import { play } from './play.ts';
import type { SceneResult } from './result.ts';
import { plainSentence } from './sentence.ts';

const playIn = (app: App, scene: Scene, states = CLUB): Promise<SceneResult> =>
  play({ app, scene, states, kinds: allKinds });
const said = (app: App, scene: Scene): string[] => scene.steps.map((s) => plainSentence(app, scene, s));

/** Odile adds a hive; Tom, who has no network for an hour, finds it, changes its weight, and looks. */
const twoKeepers = (app: App): Promise<Scene> =>
  recorded(app, async (room, hands, pointing) => {
    const odile = await hands('odile');
    const tom = await hands('tom');
    tom.phone.network = 'off';
    await odile.tap('Add');
    await odile.save(T.hives, null, { [F.name]: 'Heather 9', [F.weight]: 12 });
    await room.pass(HOUR);
    tom.phone.network = 'on';
    await room.settle();
    await tom.tap('Heather 9');
    const made = room.world.host.replica.records.rows(T.hives).find((r) => r.title() === 'Heather 9')!.id;
    pointing.record(T.hives, made, F.weight);
    const { key, view } = tom.at('Change this hive');
    await tom.phone.api.tapped(view, key);
    await room.settle();
    await tom.save(T.hives, made, { [F.weight]: 13 });
    const reading = [...tom.phone.seen.open[0]!.shown.nodes.values()].find(
      (n) => n.kind === 'reading' && n['value'] === '13 kg',
    )!;
    pointing.seen(tom.phone.id, reading.id, null);
    await odile.tab(screenOf(app, 'Hives'));
  });

describe('a scene', () => {
  it('is written down in sentences, fits the document, and passes when it is played again', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    expect(SceneSchema.parse(scene)).toEqual(scene);
    expect(said(app, scene)).toEqual([
      'Tom’s phone goes offline',
      'Odile taps Add',
      'Odile adds a hive: Name, Weight',
      '1 hour passes',
      'Tom’s phone has a network again',
      'Tom taps Heather 9',
      'Weight of Heather 9 is 12 kg',
      'Tom taps Change this hive',
      'Tom changes Heather 9: Weight',
      'Tom sees Weight, which reads 13 kg',
      'Odile goes to Hives',
    ]);
    // What it made is known by which of the new hives it was, and behind which step.
    expect(scene.made).toEqual([{ record: expect.any(String), table: T.hives, at: scene.steps[2]!.id, nth: 0 }]);
    const result = await playIn(app, scene);
    expect(result.failed).toBeNull();
    expect(result.passed).toBe(true);
    expect(result.ids[scene.made[0]!.record]).not.toBe(scene.made[0]!.record);
    expect(CLUB.find((s) => s.id === 'oak')!.cells[F.weight]).toBe(10);
  });

  it('goes on where a field, a screen and a button have other names and the screen is styled otherwise', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    const other = structuredClone(app);
    other.tables[0]!.fields.find((f) => f.id === F.weight)!.name = 'Heaviness';
    for (const s of other.screens) s.name += ' (new)';
    walkElements<AnyElement>([other.screens[0]!.root], (e) => {
      if (e.kind === 'button') (e as unknown as { words: string }).words = 'A new one';
    });
    expect((await playIn(other, scene)).failed).toBeNull();
    expect(said(other, scene)[1]).toBe('Odile taps A new one');
  });

  it('finds a button that was made anew by its words, and says so; one that is gone it names, with what is nearest', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    const anew = structuredClone(app);
    const buttons: AnyElement[] = [];
    walkElements<AnyElement>([anew.screens[0]!.root], (e) => {
      if (e.kind === 'button') buttons.push(e);
    });
    (buttons[0] as { id: string }).id = 'e_another0000';
    const found = await playIn(anew, scene);
    expect(found.failed).toBeNull();
    expect(found.steps.flatMap((s) => s.remarks)).toEqual(['Add was found by its words.']);
    (buttons[0] as unknown as { words: string }).words = 'Add one';
    const { failed } = await playIn(anew, scene);
    expect(failed).toMatchObject({
      step: scene.steps[1]!.id,
      did: 'failed',
      nearest: expect.arrayContaining(['Add one']),
    });
    expect(failed!.said).toBe('Add is not on Hives of Odile.');
  });

  it('fails at a value that is another, with both sides, and goes no further', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    const step = scene.steps.find((s) => s.do === 'expect record')!;
    if (step.do === 'expect record') step.words = '14 kg';
    const { passed, failed, steps } = await playIn(app, scene);
    expect(passed).toBe(false);
    expect(failed).toMatchObject({ step: step.id, expected: '14 kg', actual: '12 kg' });
    expect(steps.at(-1)!.did).toBe('not reached');
  });

  it('fails at the right place, with the reason, when a rule is gone', async () => {
    const app = ruledClub();
    const scene = await twoKeepers(app);
    expect((await playIn(app, scene)).failed).toBeNull();
    const without = structuredClone(app);
    without.access!.rules = without.access!.rules.filter((r) => r.id !== 'u_change0000');
    const { failed } = await playIn(without, scene);
    expect(failed!.step).toBe(scene.steps.find((s) => s.do === 'tap' && s.at.words === 'Change this hive')!.id);
    expect(failed!.why).toBe('No rule lets Tom change Heather 9 of Hives.');
    without.access!.rules = without.access!.rules.filter((r) => r.id !== 'u_hives00000');
    const unseen = await playIn(without, scene);
    expect(unseen.failed!.step).toBe(scene.steps[1]!.id);
  });

  it('expects again what was refused when it was recorded, and nothing else', async () => {
    const app = ruledClub();
    const scene = await recorded(app, async (room, hands) => {
      const tom = await hands('tom');
      await tom.phone.api.saveForm(T.visits, 'v1', { [F.fed]: 5 }, true);
      await room.settle();
    });
    expect(scene.steps[0]!.wrong).toEqual([expect.stringContaining('Tom could not save')]);
    // Nothing that is drawn leads there.
    expect((await playIn(app, scene)).failed!.said).toBe('There is no input for Fed on the phone of Tom.');
    const named = await recorded(app, async (room, hands) => {
      const tom = await hands('tom');
      await tom.tap('Add');
      await tom.save(T.hives, null, { [F.name]: 'Elm' });
      await room.settle();
    });
    expect(named.steps.every((s) => s.wrong === undefined)).toBe(true);
    const less = structuredClone(app);
    const fails = less.tables[0]!.fields.find((f) => f.id === F.weight)!;
    fails.required = true;
    const { failed } = await playIn(less, named);
    expect(failed!.said).toContain('Tom could not save a new hive');
  });

  it('lets time go to what the clock starts, and expects the mail that goes out', async () => {
    const app = clubApp();
    const scene = await recorded(app, async (room, hands, pointing) => {
      await hands('tom');
      await room.to(room.next!.at);
      pointing.sent('mail', 'keeper@example.org', 'At four');
    });
    expect(said(app, scene)).toEqual(['Time passes until 16:00', 'A mail goes out to keeper@example.org with At four']);
    expect((await playIn(app, scene)).failed).toBeNull();
    const silent = structuredClone(app);
    silent.routines = [];
    expect((await playIn(silent, scene)).failed).toMatchObject({
      said: 'No mail went out to keeper@example.org with “At four”.',
      actual: 'no mail at all',
    });
  });

  it('begins with its own records where it has some', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    scene.records = CLUB.filter((s) => s.table === T.keepers).map(({ table, id, cells }) => ({
      table,
      id,
      cells: { ...cells } as never,
    }));
    expect((await playIn(app, scene, [])).failed).toBeNull();
  });

  it('says what was touched: screens, routines and forms', async () => {
    const app = ruledClub();
    const scene = await twoKeepers(app);
    const { touched } = await playIn(app, scene);
    expect(touched.screens).toContain(screenOf(app, 'Hives'));
    expect(touched.screens).not.toContain(screenOf(app, 'Visits'));
    expect(touched.rules).toEqual(['u_hives00000', 'u_change0000']);
    expect(touched.forms).toHaveLength(1);
  });

  it('a step that is switched off is left out', async () => {
    const app = clubApp();
    const scene = await twoKeepers(app);
    const step = scene.steps.find((s) => s.do === 'expect record')!;
    if (step.do === 'expect record') step.words = 'something else';
    step.off = true;
    const { passed, steps } = await playIn(app, scene);
    expect(passed).toBe(true);
    expect(steps.find((s) => s.step === step.id)!.did).toBe('left out');
  });

  it('says that a record is named which no step makes any more, and takes no other in its place', async () => {
    const app = clubApp();
    const scene = await recorded(app, async (room, hands) => {
      const odile = await hands('odile');
      await odile.tab(screenOf(app, 'Keepers'));
      await odile.tap('Add');
      await odile.save(T.keepers, null, { [F.keeperName]: 'Ada' });
      const ada = room.world.host.replica.records.rows(T.keepers).find((r) => r.title() === 'Ada')!.id;
      await odile.tab(screenOf(app, 'Hives'));
      await odile.tap('Add');
      await odile.save(T.hives, null, { [F.name]: 'Elm', [F.keeper]: ada });
    });
    expect((await playIn(app, scene)).failed).toBeNull();
    scene.steps.find((s) => s.do === 'save')!.off = true;
    const { failed } = await playIn(app, scene);
    expect(failed).toMatchObject({
      step: scene.steps.at(-1)!.id,
      said: 'It names a record that a step made which is not here any more, or is switched off.',
    });
  });

  it('keeps a file with its content, also where it is kept at once', async () => {
    const app = clubApp();
    const content = new Blob(['a small picture'], { type: 'image/png' });
    const scene = await recorded(app, async (_, hands) => {
      void (await hands('tom')).phone.api.keepFile(content, 'bee.png');
      await new Promise((resolve) => setTimeout(resolve, 200));
    });
    expect(scene.steps).toMatchObject([{ do: 'file', name: 'bee.png', data: btoa('a small picture') }]);
    expect((await playIn(app, scene)).failed).toBeNull();
  });

  it('what comes while something is expected is the doing of the act before', async () => {
    const app = clubApp();
    const scene = await recorded(app, async (room, hands, pointing) => {
      const [odile, tom] = [await hands('odile'), await hands('tom')];
      await odile.tap('Add');
      odile.phone.network = 'off';
      await odile.save(T.hives, null, { [F.name]: 'Late', [F.weight]: 3 });
      pointing.record(T.hives, 'oak', F.weight);
      odile.phone.network = 'on';
      await room.settle();
      pointing.record(T.hives, 'oak', F.weight);
      await tom.tap('Late');
    });
    const saved = scene.steps.find((s) => s.do === 'save')!;
    expect(scene.made[0]!.at).toBe(saved.id);
    expect((await playIn(app, scene)).failed).toBeNull();
  });

  it('finds one of the people who is here by another id by name', async () => {
    const app = clubApp();
    const scene = await recorded(app, async (_, hands) => void (await hands('tom')));
    const moved = CLUB.map((s) => (s.id === 'tom' ? { ...s, id: 'another_tom' } : s));
    expect((await playIn(app, scene, moved)).passed).toBe(true);
    const without = CLUB.filter((s) => s.id !== 'tom');
    expect((await playIn(app, scene, without)).problem).toBe('Tom cannot come: This person is not there any more.');
  });

  it('puts other texts in place of some anywhere in a value, and never in what names its parts (property)', () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.string({ minLength: 1 }), fc.string(), (value, was, is) => {
        const now = withTexts(value, (text) => text.replaceAll(was, () => is));
        const texts = (v: unknown): string[] =>
          typeof v === 'string' ? [v] : v !== null && typeof v === 'object' ? Object.values(v).flatMap(texts) : [];
        expect(texts(now)).toEqual(texts(value).map((t) => t.replaceAll(was, () => is)));
        const names = (v: unknown): string[] =>
          v !== null && typeof v === 'object' ? Object.entries(v).flatMap(([n, x]) => [n, ...names(x)]) : [];
        expect(names(now)).toEqual(names(value));
      }),
    );
  });

  it('a made-up file of an app cannot put words in place of everything', () => {
    const scene = { id: 'z_scene00000', name: 'x', at: 0, cast: [], steps: [], made: [] };
    for (const record of ['', '"', 'who', 'a'.repeat(61)])
      expect(SceneSchema.safeParse({ ...scene, made: [{ record, table: T.hives, at: null, nth: 0 }] }).success).toBe(
        false,
      );
  });
});

it('calls a box that is pressed by what people read in it, and one of a row by its name', () => {
  const app = clubApp();
  const { id } = app.screens[0]!.root;
  const at = { screen: app.screens[0]!.id, element: id, words: 'Store places' };
  const tap = { id: 'c_tap0000000', do: 'tap' as const, who: 'k_one0000000', at };
  const cast = [{ id: 'k_one0000000', persona: { is: 'person' as const, record: 'odile', name: 'Odile' } }];
  expect(plainSentence(app, { cast }, tap)).toBe('Odile taps Store places');
  const of = { table: T.hives, record: 'oak', name: 'Oak' };
  expect(plainSentence(app, { cast }, { ...tap, at: { ...at, of } })).not.toContain('Store places');
});
