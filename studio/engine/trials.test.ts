import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../core/app/make.ts';
import { allOf } from '../../core/document/queries.ts';
import { F, T, hiveApp, someRecords } from '../../core/records/fixture.ts';
import { Records } from '../../core/records/store.ts';
import { MANY, type Trial } from '../../core/screens/trials.ts';
import type { Patch } from '../../core/screens/live-screen.ts';
import '../../core/screens/parts.ts';
import { TrialsShown } from './trials.ts';

const make = new ElementMaker();
const HOME = 's_home00000';

function open(...children: Parameters<typeof make.box>[1]) {
  let app = hiveApp();
  app.screens = [{ id: HOME, name: 'Home', given: null, icon: 'list', root: make.box('down', children) }];
  const records = new Records(app);
  someRecords(records);
  const trials = new TrialsShown(records, () => app);
  const patches: Patch[] = [];
  const counts = (): unknown[] =>
    patches
      .at(-1)!
      .set.filter((n) => n.kind === 'list')
      .map((n) => n['total']);
  const show = (trial: Trial = 'many', screen = HOME): number | null =>
    trials.show('v', trial, screen, null, (p) => void patches.push(p));
  return {
    trials,
    records,
    patches,
    counts,
    show,
    change: (recipe: (a: typeof app) => void) => {
      app = structuredClone(app);
      recipe(app);
      trials.changed();
    },
  };
}
const hives = () => make.list(T.hives, [make.text(`{this_${T.hives}.${F.name}}`)]);

describe('a screen in a trial', () => {
  it('has them in what it shows, and the real ones stay as they are', () => {
    const o = open(hives());
    expect(o.show()).toBeGreaterThanOrEqual(0);
    expect(o.counts()).toEqual([MANY]);
    expect(o.records.rows(T.hives).length).toBeLessThan(10);
  });
  it('has them in its parts too', () => {
    const o = open();
    o.change((a) => {
      a.parts = [
        { id: 'p_part00000', name: 'Part', given: null, icon: 'box', inputs: [], root: make.box('down', [hives()]) },
      ];
      a.screens[0]!.root.children = [make.make('part', { part: 'p_part00000' })];
    });
    o.show();
    expect(o.counts()).toEqual([MANY]);
  });
  it('follows the document, until it is left', async () => {
    const o = open(hives());
    o.show();
    o.change((a) => {
      a.screens[0]!.root.children = [{ ...hives(), query: { ...allOf(T.hives), limit: 7 } }];
    });
    await expect.poll(() => o.counts()).toEqual([7]);
    o.trials.leave('v');
    const before = o.patches.length;
    o.change((a) => void a.screens[0]!.root.children.push(make.text('more')));
    expect(o.patches).toHaveLength(before);
  });
  it('has no records, in lists and in what formulas count, or records without values', () => {
    const name = `this_${T.hives}.${F.name}`;
    const o = open(
      make.list(T.hives, [make.text(`{${name} | "Nameless"}`)]),
      make.text(`{count(all_${T.hives})} hives, {count(all_${T.keepers})} keepers`),
    );
    const words = (): unknown[] => o.patches.at(-1)!.set.flatMap((n) => (n.kind === 'text' ? [n['words']] : []));
    o.show('none');
    expect([o.counts(), words()]).toEqual([[0], ['0 hives, 0 keepers']]);
    o.show('missing');
    const [count, keepers] = [T.hives, T.keepers].map((t) => o.records.rows(t).length);
    expect(words()).toEqual([...Array(count).fill('Nameless'), `${count} hives, ${keepers} keepers`]);
  });
  it('is none where the app has no such screen', () => expect(open().show('many', 's_none00000')).toBeNull());
});
