import { thisId } from '../document/ids.ts';
import { allOf } from '../document/queries.ts';
import type { SearchWords } from '../document/search-words.ts';
import { aOrAn, freeName } from '../document/names.ts';
import { canRaise } from '../records/raise.ts';
import type { Field, Table } from '../tables/schema.ts';
import { asWords } from '../records/words.ts';
import type { ElementMaker } from './make.ts';
import { holdersOf, putStep, type Holder } from './holders.ts';
import { isKept, keepings, keepingStep, type Keeping } from './keeps.ts';
import { ownRecord, valueForLink } from './people.ts';
import type { App, Element, Routine, Step } from './schema.ts';

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** What a section puts into an app: an element, and the routines that it runs. */
export interface Made {
  element: Element;
  routines: Routine[];
}

/** A button for one record that does the expected thing, with its routine. */
export interface RowSection {
  id: string;
  said: { name: string; hint: string };
  words: SearchWords;
  /** What it would be about in this table; null where it makes no sense. */
  about(app: App, table: Table): string | null;
  make(make: ElementMaker, app: App, table: Table): Made;
}

const writable = (f: Field): boolean => !f.formula;
const doneField = (t: Table): Field | undefined => t.fields.find((f) => f.type === 'yesno' && writable(f));
const countField = (t: Table): Field | undefined => t.fields.find((f) => canRaise(f) && f.id !== t.ownOrder);

/** A routine for one record of a table, with a name that is free. */
export const routineFor = (make: ElementMaker, app: App, table: Table, name: string, steps: Step[]): Routine => ({
  id: make.id('q'),
  name: freeName(
    name,
    app.routines.map((r) => r.name),
  ),
  given: table.id,
  steps,
});
/** A button that runs a routine, no wider than its words. */
const buttonOf = (make: ElementMaker, name: string, words: string, routine: Routine): Element =>
  make.button(words, { do: 'routine', routine: routine.id }, { name, look: 'plain', width: 'fit' });

/** Where a favourite is kept: nothing but who, what and when at most, since what has more to fill in is no favourite. */
const favouritesOf = (app: App, table: Table): Keeping | undefined =>
  keepings(app, table).find((k) => {
    if ('field' in k) return true;
    const keys = new Set([k.link, k.owner].flatMap((f) => [f.id, f.link?.from]));
    return k.between.fields.filter((f) => writable(f) && !keys.has(f.id)).length <= 2;
  });

export const ROW_SECTIONS: readonly RowSection[] = [
  {
    id: 'done',
    said: { name: 'Done button', hint: 'ticks a yes or no, and takes it back' },
    words: ['tick, check off, complete, mark done, toggle, checkbox in a row, finish, to do'],
    about: (_app, t) => doneField(t)?.name ?? null,
    make(make, app, t) {
      const field = doneField(t)!;
      const path = `${thisId(t.id)}.${field.id}`;
      const routine = routineFor(make, app, t, `${field.name} or not`, [
        make.step('set', { record: thisId(t.id), values: [{ field: field.id, value: `not(${path})` }] }),
      ]);
      const words = `{if ${path} then ${JSON.stringify(`✓ ${field.name}`)} else ${JSON.stringify(`○ ${field.name}`)}}`;
      return { element: buttonOf(make, field.name, words, routine), routines: [routine] };
    },
  },
  {
    id: 'counter',
    said: { name: 'One more, one less', hint: 'two buttons around a number' },
    words: ['counter, plus minus, stepper, increase, decrease, quantity buttons, add one, count'],
    about: (_app, t) => countField(t)?.name ?? null,
    make(make, app, t) {
      const field = countField(t)!;
      const by = (how: 'raise' | 'lower', name: string): Routine =>
        routineFor(make, app, t, name, [
          make.step('raise', { how, record: thisId(t.id), values: [{ field: field.id, value: '1' }] }),
        ]);
      const [less, more] = [by('lower', `One ${field.name} less`), by('raise', `One ${field.name} more`)];
      return {
        element: make.box(
          'across',
          [
            buttonOf(make, less.name, '−', less),
            make.text(`{${thisId(t.id)}.${field.id}}`, 'strong'),
            buttonOf(make, more.name, '+', more),
          ],
          { name: field.name, gap: 10, across: 'middle', width: 'fit' },
        ),
        routines: [less, more],
      };
    },
  },
  {
    id: 'favourite',
    said: { name: 'Favourite button', hint: 'keeps a record for the person, and takes it out again' },
    words: ['favourite, favorite, like, heart, bookmark, save for later, wishlist, star, watch list, follow, join'],
    about: (app, t) => favouritesOf(app, t)?.name ?? null,
    make(make, app, t) {
      const kept = favouritesOf(app, t)!;
      const me = thisId(t.id);
      const there = isKept(kept, me);
      const routine = routineFor(make, app, t, `${kept.name}: in or out`, [
        make.step('if', {
          when: { match: 'all', conditions: [{ left: there, op: 'holds', right: '' }] },
          then: [keepingStep(make, kept, me, false)],
          otherwise: [keepingStep(make, kept, me, true)],
        }),
      ]);
      // A sign alone: beside a title there is no room for words, and its name is read aloud.
      const words = `{if ${there} then "♥" else "♡"}`;
      return { element: buttonOf(make, kept.name, words, routine), routines: [routine] };
    },
  },
  {
    id: 'history',
    said: { name: 'History button', hint: 'shows what changed, when and by whom, and puts values back' },
    words: ['history, audit trail, versions, revisions, who changed, track changes, log of changes, restore, undo'],
    about: (_app, t) => (t.fetched ? null : t.one),
    make(make, app, t) {
      const routine = routineFor(make, app, t, `History of ${aOrAn(t.one)}`, [
        make.step('look back', { record: thisId(t.id) }),
      ]);
      return { element: buttonOf(make, 'History', 'History', routine), routines: [routine] };
    },
  },
  {
    id: 'list',
    said: { name: 'Add to a list', hint: 'to one of my lists, or to a new one that is made along' },
    words: [
      'playlist, collection, add to cart, basket, shopping list, add to plan, reading list, save to, board, folder',
    ],
    about: (app, t) => holdersOf(app, t)[0]?.lists.name ?? null,
    make(make, app, t) {
      const [holder] = holdersOf(app, t);
      return toListSection(make, app, t, holder!);
    },
  },
];

/** A menu of the lists of whoever uses the app, with a new one behind them; then the record is put in. */
function toListSection(make: ElementMaker, app: App, t: Table, holder: Holder): Made {
  const { lists, owner } = holder;
  const name = make.step('question', {
    words: asWords(`What is the new ${lists.one} called?`),
    resultName: 'its name',
  });
  const added = make.step('add', {
    table: lists.id,
    resultName: `new ${lists.one}`,
    values: [
      { field: lists.titleField!, value: name.result },
      ...(owner ? [owner.link ? valueForLink(owner, ownRecord(app)!) : { field: owner.id, value: 'person()' }] : []),
    ],
  });
  const which = make.step('menu', {
    words: asWords(`Add to which ${lists.one}?`),
    from: 'both',
    query: {
      ...allOf(lists.id),
      where: { match: 'all', conditions: owner ? [{ left: owner.id, op: 'is', right: 'person()' }] : [] },
    },
    resultName: `chosen ${lists.one}`,
    choices: [
      make.step('choice', {
        words: asWords(`A new ${lists.one}`),
        steps: [name, added, putStep(make, holder, t, added.result)],
      }),
    ],
  });
  const chosen = make.step('if', {
    when: { match: 'all', conditions: [{ left: which.result, op: 'is filled', right: '' }] },
    then: [putStep(make, holder, t, which.result)],
    otherwise: [],
  });
  const routine = routineFor(make, app, t, `Add to ${aOrAn(lists.one)}`, [which, chosen]);
  return { element: buttonOf(make, routine.name, asWords(`+ ${capital(lists.one)}`), routine), routines: [routine] };
}
