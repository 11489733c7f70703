import { allId, thisId } from '../document/ids.ts';
import type { SearchWords } from '../document/search-words.ts';
import { freeName } from '../document/names.ts';
import { canRaise } from '../records/raise.ts';
import type { Field, Table } from '../tables/schema.ts';
import type { ElementMaker } from './make.ts';
import { ownerField, ownRecord, peopleTable, valueForLink } from './people.ts';
import type { App, Element, Routine, Step } from './schema.ts';

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
const routineFor = (make: ElementMaker, app: App, table: Table, name: string, steps: Step[]): Routine => ({
  id: make.id('q'),
  name: freeName(
    name,
    app.routines.map((r) => r.name),
  ),
  given: table.id,
  steps,
});
const runs = (r: Routine) => ({ do: 'routine' as const, routine: r.id });

/** Where the records of a table that a person keeps are: several of a field of theirs, or records of a table between. */
type Kept = { field: Field; person: string } | { between: Table; link: Field; owner: Field; person: string };
function keptBy(app: App, table: Table): Kept | null {
  const people = peopleTable(app);
  const person = ownRecord(app);
  if (!people || !person || people.id === table.id) return null;
  const field = people.fields.find((f) => f.several && f.link?.kind === 'picked' && f.link.table === table.id);
  if (field) return { field, person };
  for (const between of app.tables) {
    const link = between.fields.find((f) => !f.several && f.link?.table === table.id);
    const owner = ownerField(app, between);
    // Nothing but who and what, and when at most: what has more to fill in is no mere favourite.
    const keys = new Set([link, owner].map((f) => f?.link?.from));
    const more = between.fields.filter((f) => f !== link && f !== owner && writable(f) && !keys.has(f.id));
    if (link && owner && owner.link && between.id !== table.id && more.length <= 2)
      return { between, link, owner, person };
  }
  return null;
}
const keptName = (k: Kept): string => ('field' in k ? k.field.name : k.between.name);

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
      const words = `{if ${path} then "${field.name} ✓" else "${field.name}"}`;
      return { element: make.button(words, runs(routine), { look: 'plain' }), routines: [routine] };
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
            make.button('−', runs(less), { look: 'plain' }),
            make.text(`{${thisId(t.id)}.${field.id}}`, 'strong'),
            make.button('+', runs(more), { look: 'plain' }),
          ],
          { name: field.name, gap: 10, across: 'middle' },
        ),
        routines: [less, more],
      };
    },
  },
  {
    id: 'favourite',
    said: { name: 'Favourite button', hint: 'keeps a record for the person, and takes it out again' },
    words: ['favourite, favorite, like, heart, bookmark, save for later, wishlist, star, watch list, follow, join'],
    about: (app, t) => {
      const kept = keptBy(app, t);
      return kept && keptName(kept);
    },
    make(make, app, t) {
      const kept = keptBy(app, t)!;
      const me = thisId(t.id);
      const name = keptName(kept);
      const isKept =
        'field' in kept
          ? `list contains(${kept.person}.${kept.field.id}, ${me})`
          : `count(${allId(kept.between.id)}[${kept.link.id} = ${me} and ${kept.owner.id} = person()]) > 0`;
      const [take, put] = 'field' in kept ? ofField(make, kept, me) : ofTable(make, kept, me);
      const routine = routineFor(make, app, t, `${name}: in or out`, [
        make.step('if', {
          when: { match: 'all', conditions: [{ left: isKept, op: 'holds', right: '' }] },
          then: [take],
          otherwise: [put],
        }),
      ]);
      const words = `{if ${isKept} then "♥ In ${name.toLowerCase()}" else "♡ Add to ${name.toLowerCase()}"}`;
      return { element: make.button(words, runs(routine), { look: 'plain' }), routines: [routine] };
    },
  },
];

function ofField(make: ElementMaker, { field, person }: Extract<Kept, { field: Field }>, me: string): [Step, Step] {
  const held = `${person}.${field.id}`;
  const set = (value: string): Step => make.step('set', { record: person, values: [{ field: field.id, value }] });
  return [set(`${held}[item != ${me}]`), set(`union(${held}, [${me}])`)];
}
function ofTable(make: ElementMaker, k: Extract<Kept, { between: Table }>, me: string): [Step, Step] {
  return [
    make.step('remove', { record: `${allId(k.between.id)}[${k.link.id} = ${me} and ${k.owner.id} = person()]` }),
    make.step('add', {
      table: k.between.id,
      resultName: `new ${k.between.one}`,
      values: [valueForLink(k.link, me), valueForLink(k.owner, k.person)],
    }),
  ];
}
