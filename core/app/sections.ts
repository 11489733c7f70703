import { fieldKind } from '../fields/kinds.ts';
import { thisId } from '../document/ids.ts';
import type { Table } from '../tables/schema.ts';
import { rowFor } from './generate-screens.ts';
import { allOf } from '../document/queries.ts';
import { titleWords, type At, type ElementMaker } from './make.ts';
import { figuresOf } from './overview.ts';
import type { Element } from './schema.ts';
import type { SearchWords } from '../document/search-words.ts';
import { asWords } from '../records/words.ts';

/** Several elements that often stand together, ready to be filled in. */
export interface Section {
  id: string;
  said: { name: string; hint: string };
  /** What people look for it by. */
  words: SearchWords;
  /** Offered only where this is at hand. */
  needs?: 'table';
  make(make: ElementMaker, at: At): Element;
}

const ownTable = (at: At): Table => at.table!;
const card = (make: ElementMaker, name: string, children: Element[]): Element =>
  make.box('down', children, { name, surface: 'card', inside: 16, gap: 10 });
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** The sections that Add offers, in their order. */
export const SECTIONS: readonly Section[] = [
  {
    id: 'header',
    said: { name: 'Header with a picture', hint: 'picture, title, a line' },
    words: ['hero, banner, cover, title picture, top, page header, masthead'],
    make: (make) =>
      make.box(
        'down',
        [
          make.picture('', 'wide'),
          make.text('A title people remember', 'title'),
          make.text('One line that says what this is about.', 'body', { colour: 'soft' }),
        ],
        { name: 'Header', gap: 10 },
      ),
  },
  {
    id: 'search',
    said: { name: 'List with search', hint: 'a title, a search box, records' },
    words: ['searchable list, directory, catalogue, filter list, browse, search'],
    needs: 'table',
    make(make, at) {
      const t = ownTable(at);
      return make.box(
        'down',
        [
          make.text(asWords(t.name), 'heading'),
          make.list(t.id, [rowFor(t, make)], { query: allOf(t.id), search: true }),
        ],
        { name: `Search in ${t.name}`, gap: 10 },
      );
    },
  },
  {
    id: 'form',
    said: { name: 'Form', hint: 'for a new record' },
    words: ['add record, new entry, registration, sign up, contact form, create'],
    needs: 'table',
    make(make, at) {
      const t = ownTable(at);
      const keys = new Set(t.fields.flatMap((f) => (f.link?.from ? [f.link.from] : [])));
      const inputs = t.fields
        .filter((f) => !fieldKind(f.type).keptByApp && f.id !== t.ownOrder && !keys.has(f.id))
        .slice(0, 12)
        .map((f) => make.input(f.id));
      return card(make, `Form for ${t.name}`, [
        make.text(asWords(`New ${t.one}`), 'heading'),
        make.form(t.id, '', [...inputs, make.button('Save', { do: 'save' })]),
      ]);
    },
  },
  {
    id: 'figures',
    said: { name: 'Tiles of figures', hint: 'how many, and what they come to' },
    words: ['kpi, dashboard, statistics, stats, metrics, totals, numbers, counters, tiles, scorecard'],
    needs: 'table',
    make(make, at) {
      const t = ownTable(at);
      const [field] = figuresOf(t);
      return make.box(
        'across',
        [
          make.tile(t.id, asWords(t.name.toLowerCase())),
          ...(field
            ? [make.tile(t.id, asWords(`${field.name.toLowerCase()} in all`), { figure: 'sum', of: field.id })]
            : []),
        ],
        { name: 'Figures', gap: 10 },
      );
    },
  },
  {
    id: 'profile',
    said: { name: 'Profile', hint: 'one record with its fields' },
    words: ['detail, details, user profile, account, about me, record page, my profile, bio'],
    needs: 'table',
    make(make, at) {
      const t = ownTable(at);
      const me = thisId(t.id);
      const shown = t.fields.filter((f) => f.id !== t.titleField && f.id !== t.pictureField).slice(0, 6);
      // Of the first record, until the screen is given one.
      return make.list(
        t.id,
        [
          make.box(
            'down',
            [
              ...(t.pictureField ? [make.picture(`${me}.${t.pictureField}`, 'round', { width: 96, height: 96 })] : []),
              make.text(titleWords(t), 'title'),
              ...shown.map((f) => make.reading(asWords(f.name), `${me}.${f.id}`)),
            ],
            { gap: 10, inside: 16 },
          ),
        ],
        { name: `Profile from ${t.name}`, query: { ...allOf(t.id), limit: 1 } },
      );
    },
  },
  {
    id: 'welcome',
    said: { name: 'Welcome', hint: 'a picture, a greeting, a button' },
    words: ['onboarding, landing, intro, greeting, splash, start page, home'],
    make: (make) =>
      card(make, 'Welcome', [
        make.make('icon', { icon: 'sparkles', size: 32, ground: 'tint' }),
        make.text('Good to see you', 'title'),
        make.text('Say in a sentence what people can do here.', 'body', { colour: 'soft' }),
        make.button('Begin', { do: 'nothing' }, { icon: 'arrow-right' }),
      ]),
  },
  {
    id: 'contact',
    said: { name: 'Contact', hint: 'phone, mail, address' },
    words: ['address, phone, mail, about us, find us, contact us, imprint, footer'],
    make: (make) =>
      card(make, 'Contact', [
        make.text('Contact', 'heading'),
        ...(
          [
            ['phone', '+44 0000 000000'],
            ['mail', 'hello@example.org'],
            ['map-pin', 'Street, town'],
          ] as const
        ).map(([icon, words]) =>
          make.box('across', [make.make('icon', { icon, size: 20 }), make.text(words, 'body', { width: 'fill' })], {
            gap: 10,
            across: 'middle',
          }),
        ),
      ]),
  },
  {
    id: 'hours',
    said: { name: 'Opening hours', hint: 'one line a day' },
    words: ['business hours, timetable, open times, schedule, when open'],
    make: (make) =>
      card(make, 'Opening hours', [
        make.text('Opening hours', 'heading'),
        ...DAYS.map((day, i) =>
          make.box('across', [
            make.text(day, 'body', { width: 'fill' }),
            make.text(i < 5 ? '9:00 – 17:00' : 'closed', 'body', { colour: i < 5 ? 'ink' : 'soft' }),
          ]),
        ),
      ]),
  },
];
