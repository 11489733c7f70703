import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../../../core/app/make.ts';
import { Model } from '../../../core/records/model.ts';
import { corpus, type Sentence } from './corpus.fixture.ts';
import { understood, type Understood } from './understood.ts';
import { WORLDS, type World } from './worlds.fixture.ts';

const make = new ElementMaker();

/** What a sentence was taken as: right, wrong without a word, or marked as not understood. */
type Result = 'right' | 'misread' | 'not read';
interface Read extends Sentence {
  got: string;
  result: Result;
}

const models = new Map(Object.values(WORLDS).map((w) => [w, new Model(w.app)]));
const offerOf = (typed: string, world: World): Understood | undefined =>
  understood(typed, world.app, models.get(world)!, world.routine, make)[0];

const all = corpus.map((s): Read => {
  const offer = offerOf(s.typed, s.world);
  const whole = offer && !offer.left;
  const right = whole ? offer.said === s.meant : s.meant === '?';
  const got = offer ? `${offer.said}${offer.left && ` [left: ${offer.left}]`}` : 'nothing';
  return { ...s, got, result: right ? 'right' : whole ? 'misread' : 'not read' };
});
const of = (half: Sentence['half']): Read[] => all.filter((r) => r.half === half);
const share = (some: readonly Read[]): number => some.filter((r) => r.result === 'right').length / some.length;

describe('sentences that people type', () => {
  const show = process.env['CORPUS'];
  if (show)
    for (const half of ['built with', 'held back', 'afterwards'] as const) {
      console.log(`${half}: ${(share(of(half)) * 100).toFixed(1)} % of ${of(half).length}`);
      for (const r of of(half))
        if (r.result !== 'right' && show.includes(half))
          console.log(`${r.result}: ${r.typed}\n   meant ${r.meant}\n   got   ${r.got}`);
    }
  it('there are 400 of them', () => expect(all.length).toBeGreaterThanOrEqual(400));
  it('none is misread in silence', () =>
    expect(all.filter((r) => r.result === 'misread').map((r) => `${r.typed} => ${r.got}`)).toEqual([]));
  it('those the grammar was built with are understood', () =>
    expect(
      of('built with')
        .filter((r) => r.result !== 'right')
        .map((r) => r.typed),
    ).toEqual([]));
  it('so are nine in ten of those held back', () => expect(share(of('held back'))).toBeGreaterThan(0.9));
});

describe('each word of a sentence is accounted for', () => {
  it('a word that means nothing is left over, or stands in words that the steps say', () => {
    const silent: string[] = [];
    for (const { typed, world } of all) {
      const words = typed.split(' ');
      for (let at = 0; at <= words.length; at++) {
        const with_ = [...words.slice(0, at), 'blorp', ...words.slice(at)].join(' ');
        const offer = offerOf(with_, world);
        if (offer && !`${offer.left} ${offer.said} ${JSON.stringify(offer.steps)}`.toLowerCase().includes('blorp'))
          silent.push(`${with_} => ${offer.said}`);
      }
    }
    expect(silent).toEqual([]);
  });
  it('every step has an id of its own, also what is said twice', () => {
    for (const { typed, world } of all)
      for (const twice of [typed, `${typed} and ${typed}`, `go back and go back, ${typed}`]) {
        const ids = [...JSON.stringify(offerOf(twice, world)?.steps ?? []).matchAll(/"id":"(p_[^"]+)"/g)].map(
          (m) => m[1],
        );
        expect(new Set(ids).size, twice).toBe(ids.length);
      }
  });
  it('nothing that writes is offered while words are left over', () => {
    for (const { typed, world } of all)
      for (const more of ['blorp', 'from blorp', 'and blorp it', 'except blorp']) {
        const offer = offerOf(`${typed} ${more}`, world);
        const kinds = JSON.stringify(offer?.steps ?? []).matchAll(/"do":"([^"]+)"/g);
        const writes = [...kinds].some(([, kind]) => ['set', 'raise', 'add', 'remove', 'variable'].includes(kind!));
        expect(Boolean(offer?.left) && writes, `${typed} ${more}`).toBe(false);
      }
  });
});
