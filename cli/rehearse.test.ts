import { expect, it } from 'vitest';
import { SaxesParser } from 'saxes';
import { CLUB, clubApp, recorded } from '../core/scenes/clubs.fixture.ts';
import { F, T } from '../core/records/fixture.ts';
import { junitOf, rehearse } from './rehearse.ts';

it('plays the scenes of an app file, tells the first difference, and writes it as well-formed JUnit XML', async () => {
  const app = clubApp();
  const scene = await recorded(app, async (room, hands, pointing) => {
    const odile = await hands('odile');
    await odile.tap('Add');
    await odile.save(T.hives, null, { [F.name]: 'Heather & <9>', [F.weight]: 12 });
    await room.settle();
    const made = room.world.host.replica.records.rows(T.hives).find((r) => r.title().startsWith('Heather'))!;
    pointing.record(T.hives, made.id, F.weight);
  });
  const other = { ...structuredClone(scene), id: 'z_other00000', name: 'Another "weight"\u0007' };
  const last = other.steps.at(-1)!;
  if (last.do === 'expect record') last.words = '13 kg';
  app.scenes = [scene, other];
  const bundle = { app, records: CLUB as never, files: {}, ownerKey: null, address: null };
  const played = await rehearse(bundle, []);
  expect(played.map((p) => p.passed)).toEqual([true, false]);
  expect(played[1]!.failed).toMatchObject({ step: 3, expected: '13 kg', actual: '12 kg' });
  expect(await rehearse(bundle, ['Two keepers'])).toHaveLength(1);
  await expect(rehearse(bundle, ['None'])).rejects.toThrow('There is no scene “None”.');

  const cases: string[] = [];
  const parser = new SaxesParser();
  parser.on('opentag', (t) => t.name === 'testcase' && cases.push(String(t.attributes['name'])));
  parser.on('error', (e) => {
    throw e;
  });
  parser.write(junitOf(app.name, played)).close();
  expect(cases).toEqual(['Two keepers', 'Another "weight"']);
});
