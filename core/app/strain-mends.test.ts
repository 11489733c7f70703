import { describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { allOf } from '../document/queries.ts';
import { elementOf } from './edits.ts';
import { ElementMaker } from './make.ts';
import type { Element } from './schema.ts';
import { faultMend, type Fault } from './strain-mends.ts';

const make = new ElementMaker();

/** What an element is after its fault was mended, with what the mend is called. */
function mended(e: Element, fault: Fault, around: (e: Element) => Element = (x) => x) {
  const app = hiveApp();
  const outer = around(e);
  app.screens = [{ id: 's_home00000', name: 'Home', given: null, icon: 'list', root: make.box('down', [outer]) }];
  const mend = faultMend(app, e.id, fault);
  mend?.do(app);
  return { said: mend?.said ?? null, now: elementOf(app, e.id)!, outer: elementOf(app, outer.id)! };
}

describe('a fault under strain', () => {
  it('of a pale text is mended by writing it in ink', () => {
    const { said, now } = mended(make.text('pale', 'body', { colour: 'soft' }), 'low contrast');
    expect([said, (now as { colour?: string }).colour]).toEqual(['Write it in ink', 'ink']);
    expect(mended(make.text('plain'), 'low contrast').said).toBeNull();
  });
  it('of what is too small to press, by room for a finger', () => {
    const { now } = mended(make.button('x', { do: 'back' }, { height: 20 }), 'small target');
    expect([now.height, now.stands]).toEqual([undefined, { leastWidth: 44, leastHeight: 44 }]);
  });
  it('of what is too wide or cut off, by the room there is', () => {
    const wide = make.text('wide', 'body', { width: 600, stands: { leastWidth: 500, outer: 4 } });
    expect(mended(wide, 'too wide').now).toMatchObject({ width: 'fill', stands: { outer: 4 } });
    expect(mended(make.text('high', 'body', { height: 10 }), 'cut off').now.height).toBe('fit');
    const beside = mended(make.text('long'), 'cut off', (e) => make.box('across', [make.text('other'), e]));
    expect([beside.said, (beside.outer as { runs?: string }).runs]).toEqual(['Let its box run down', 'down']);
  });
  it('of what reaches out of its height or lies under something, by room for it', () => {
    const high = make.box('down', [make.text('a')], { height: 20, stands: { mostHeight: 40, outer: 4 } });
    expect(mended(high, 'too high').now).toMatchObject({ height: 'fit', stands: { outer: 4 } });
    expect(mended(make.text('free'), 'too high').said).toBeNull();
    const under = mended(make.text('under'), 'covered', (e) => make.box('layered', [make.box('down', [e])]));
    expect([under.said, (under.outer as { runs?: string }).runs]).toEqual(['Let its box run down', 'down']);
    expect(mended(make.text('free'), 'covered').said).toBeNull();
  });
  it('of a picture that grows when it comes, by its ratio; of a long list that is slow, by a limit', () => {
    const grows = make.make('picture', { ratio: 'own' });
    expect(mended(grows, 'jumps').now).toMatchObject({ ratio: '4/3' });
    expect(mended(make.text('rich'), 'jumps').said).toBeNull();
    const long = make.list(T.hives, [make.text('a')]);
    expect(mended(long, 'slow').now).toMatchObject({ query: { table: T.hives, limit: 200 } });
    expect(mended({ ...long, query: { ...long.query, limit: 9 } }, 'slow').said).toBeNull();
    expect(mended(make.make('chart', { query: allOf(T.hives) }), 'slow').said).toBeNull();
  });
  it('of a row that shows nothing, by what its first value says when it is missing', () => {
    const value = make.text(`Hive {this_${T.hives}.${F.name}} {this_${T.hives}.${F.tag}}`);
    const list = make.list(T.hives, [make.box('across', [make.text('·'), value])]);
    const { said, now } = mended(list, 'blank');
    expect(said).toBe('Let it say “Untitled hive”');
    const [row] = (now as typeof list).children as { children: { words: string }[] }[];
    expect(row!.children.map((t) => t.words)).toEqual([
      '·',
      `Hive {this_${T.hives}.${F.name} | "Untitled hive"} {this_${T.hives}.${F.tag}}`,
    ]);
    expect(mended(make.list(T.hives, [make.text('only words')]), 'blank').said).toBeNull();
  });
  it('of a title whose words are broken, by a smaller style; where nothing is known, nothing is offered', () => {
    expect(mended(make.text('Donaudampfschiff', 'title'), 'broken').now).toMatchObject({ style: 'heading' });
    expect(mended(make.text('words'), 'broken').said).toBeNull();
    expect(faultMend(hiveApp(), 'e_gone000000', 'broken')).toBeNull();
  });
});
