import { allOf } from '../document/queries.ts';
import { aOrAn } from '../document/names.ts';
import { MOST_CHILDREN } from '../document/limits.ts';
import { backId, thisId } from '../document/ids.ts';
import { fieldKind } from '../fields/kinds.ts';
import { titleWords, type ElementMaker } from './make.ts';
import { figuresOf, filledShare, nearlyNames, overviewScreen, tells, type Known, type OneRecord } from './overview.ts';
import { requestIn } from '../services/answer-type.ts';
import type { FieldValue, Query, Tap } from '../document/pieces.ts';
import type { App, BoxElement, Element, Screen } from './schema.ts';
import type { Field, Table } from '../tables/schema.ts';
import { asWords } from '../records/words.ts';

/** The screens of each table, as far as there are such. */
export type ScreenIds = Map<
  string,
  { list?: string | undefined; detail?: string | undefined; form?: string | undefined }
>;

interface Tab {
  screen: string;
  name: string;
  icon: string;
}

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** Icons by what a table's name says; the rest take turns. */
const ICONS: [RegExp, string][] = [
  [/person|people|member|keeper|customer|contact|team|volunteer|user|student|guest/i, 'users'],
  [/visit|log|entr|inspection|reading|measure|check/i, 'clipboard-list'],
  [/flight|plane|air/i, 'plane'],
  [/plant|garden|tree|crop|harvest/i, 'sprout'],
  [/pet|dog|animal/i, 'dog'],
  [/car|vehicle|drive/i, 'car'],
  [/recipe|meal|dish|menu|food/i, 'utensils'],
  [/pay|invoice|price|cost|budget|expense/i, 'card'],
  [/goal|score|match|game|team/i, 'trophy'],
  [/place|site|location|room|apiar|spot|garden|plot/i, 'map-pin'],
  [/order|sale|loan|booking|move|ticket/i, 'arrow-left-right'],
  [/good|item|product|stock|store|tool|equipment|material|seed/i, 'package'],
  [/event|date|class|course|trip|session|swim/i, 'calendar'],
  [/message|mail|report|note|notice/i, 'message-square'],
  [/guide|document|book|file|article/i, 'book-open'],
];
const REST = ['layers', 'list', 'circle-dot', 'bookmark', 'tag'];
const iconFor = (name: string, at: number): string =>
  ICONS.find(([re]) => re.test(name))?.[1] ?? REST[at % REST.length]!;

/** The ids for the screens of a table; what is fetched and added by no request has no form. */
export const newScreenIds = (t: Table, make: ElementMaker) => ({
  list: make.id('s'),
  detail: make.id('s'),
  form: t.fetched && !t.fetched.adds ? undefined : make.id('s'),
});

/** The list, the detail and the form of a table. `ids` says theirs, and those of the other tables as far as they have any. */
export function screensOf(app: App, t: Table, ids: ScreenIds, make: ElementMaker, known?: Known): Screen[] {
  const icon = iconFor(t.name, app.tables.indexOf(t));
  const s = ids.get(t.id) as { list: string; detail: string; form?: string };
  return [
    { id: s.list, name: t.name, given: null, icon, root: listScreen(app, t, s, make, known) },
    {
      id: s.detail,
      name: capital(t.one) === t.name ? `${t.name} record` : capital(t.one),
      given: t.id,
      icon,
      root: detailScreen(app, t, ids, make, known),
    },
    ...(s.form
      ? [
          {
            id: s.form,
            name: `${capital(t.one)} form`,
            given: t.id,
            optional: true,
            icon: 'pencil',
            root: formScreen(t, make),
          },
        ]
      : []),
  ];
}

/**
 * Screens over all tables: a list, a detail and a form for each, and tabs for the main ones. Where the records are
 * known, an overview of their figures, and rows that show what tells records apart.
 */
export function generateScreens(given: App, make: ElementMaker, known?: Known): { screens: Screen[]; tabs: Tab[] } {
  // The app facts are words for other screens, not a list of their own.
  const app: App = { ...given, tables: given.tables.filter((t) => !t.facts) };
  const ids = new Map(app.tables.map((t) => [t.id, newScreenIds(t, make)]));
  const screens = app.tables.flatMap((t) => screensOf(app, t, ids, make, known));
  // The sheet that was brought first comes first, then the tables that others link to; five tabs fit a phone.
  const weight = (t: Table): number => app.tables.flatMap((x) => x.fields).filter((f) => f.link?.table === t.id).length;
  const one: OneRecord = {
    shows: (t) => rowFor(t, make, undefined, known),
    opens: (t) => ({ do: 'open', screen: ids.get(t.id)!.detail, give: thisId(t.id) }),
  };
  const overview = known ? overviewScreen(app, known, make, one) : null;
  const most = overview ? 4 : 5;
  const main = app.tables
    .map((t, i) => ({ t, i }))
    .sort((a, b) => Number(b.i === 0) - Number(a.i === 0) || weight(b.t) - weight(a.t) || a.i - b.i)
    .slice(0, app.tables.length > most ? most - 1 : most);
  const tabs: Tab[] = main.map(({ t, i }) => ({ screen: ids.get(t.id)!.list, name: t.name, icon: iconFor(t.name, i) }));
  if (app.tables.length > most) {
    const more = moreScreen(
      app,
      app.tables.filter((t) => !main.some((m) => m.t === t)),
      ids,
      make,
    );
    screens.push(more);
    tabs.push({ screen: more.id, name: 'More', icon: 'menu' });
  }
  if (overview) {
    screens.push(overview);
    tabs.push({ screen: overview.id, name: overview.name, icon: overview.icon! });
  }
  return { screens, tabs };
}

function moreScreen(app: App, tables: Table[], ids: Map<string, { list: string }>, make: ElementMaker): Screen {
  const rows = tables.map((t) =>
    make.box('across', [make.text(asWords(t.name), 'strong', { width: 'fill' })], {
      surface: 'card',
      inside: 14,
      tap: { do: 'open', screen: ids.get(t.id)!.list, give: '' },
    }),
  );
  void app;
  return {
    id: make.id('s'),
    name: 'More',
    given: null,
    icon: 'menu',
    root: make.box('down', [make.text('More', 'title'), ...rows], { inside: 16, gap: 10 }),
  };
}

/** As many elements as a box holds without crowding out what stands beside them. */
const PART = MOST_CHILDREN / 2;

/** Many elements in boxes of a bounded number each; few as they are. */
function inParts(elements: Element[], box: (part: Element[]) => Element): Element[] {
  if (elements.length <= PART) return elements;
  const parts: Element[] = [];
  for (let i = 0; i < elements.length; i += PART) parts.push(box(elements.slice(i, i + PART)));
  return parts;
}

/** A text that nearly names each record says more of it than a choice or a date, though less than what it belongs to. */
const NAMING = 2.5;

/** Fields worth a place in a row's second line, best first. */
function secondLine(t: Table, known?: Known): Field[] {
  const rank = (f: Field): number =>
    // What is seldom filled in seldom tells anything.
    filledShare(f, t, known) *
    ((fieldKind(f.type).serves?.second ?? 0) + (f.type === 'text' && nearlyNames(f, t, known) ? NAMING : 0));
  const keys = new Set(t.fields.flatMap((f) => (f.link?.from ? [f.link.from] : [])));
  return (
    t.fields
      // A link that is matched by the title says the same once more.
      .filter(
        (f) =>
          f.id !== t.titleField && f.link?.from !== t.titleField && rank(f) > 0 && !keys.has(f.id) && tells(f, known),
      )
      .sort((a, b) => rank(b) - rank(a))
      .slice(0, 2)
  );
}

/** The figure that a row ends with: an amount of money before others, and a year last. */
const leadingFigure = (figures: readonly Field[]): Field | undefined =>
  figures.find((f) => f.type === 'money') ?? figures.find((f) => !/\byears?\b/i.test(f.name)) ?? figures[0];

/** One record as a row: picture, title, second line, a figure. `leave` is a link that the place around it tells already. */
export function rowFor(t: Table, make: ElementMaker, leave?: string, known?: Known): Element {
  const me = thisId(t.id);
  const title = titleWords(t);
  const second = secondLine(t, known).filter((f) => f.id !== leave);
  const figure = leadingFigure(figuresOf(t, known));
  const words = make.box(
    'down',
    [
      make.text(title, 'strong'),
      ...(second.length
        ? [make.text(second.map((f) => `{${me}.${f.id}}`).join(' · '), 'small', { colour: 'soft' })]
        : []),
    ],
    { gap: 2, width: 'fill' },
  );
  return make.box(
    'across',
    [
      ...(t.pictureField ? [make.picture(`${me}.${t.pictureField}`, 'square', { width: 44, height: 44 })] : []),
      words,
      ...(figure ? [make.text(`{${me}.${figure.id}}`, 'strong', { colour: 'accent', align: 'end' })] : []),
    ],
    { gap: 12, inside: 12, across: 'middle' },
  );
}

/** Tables of what happens in time, also where it is linked to nothing. */
const HAPPENS =
  /\b(?:news|notices?|messages?|posts?|events?|reports?|entries|visits?|diary|journal|meetings?|updates?)\b/i;

function defaultOrder(t: Table): { by: string; descending: boolean }[] {
  const when = t.fields.find((f) => fieldKind(f.type).serves?.moment);
  const events = when && (t.fields.some((f) => f.link) || HAPPENS.test(t.name));
  if (events) return [{ by: when.id, descending: true }];
  return t.titleField ? [{ by: t.titleField, descending: false }] : [];
}

/** Inputs of requests by which one looks for words. */
const SEARCHES = /^(?:search|q|query|words?|find|term|text|keywords?|filter)\b/i;

/** Which records a list of a table shows: all, in the table's own order; what is fetched comes in that of its service. */
function listQuery(app: App, t: Table): Query {
  if (!t.fetched) return { ...allOf(t.id), order: defaultOrder(t) };
  const search = requestIn(app, t.fetched.request)?.inputs.find((i) => i.type === 'text' && SEARCHES.test(i.name));
  return { ...allOf(t.id), ...(search && { asks: { values: [], search: search.id } }) };
}

function listScreen(
  app: App,
  t: Table,
  s: { detail: string; form?: string },
  make: ElementMaker,
  known?: Known,
): BoxElement {
  return make.box(
    'down',
    [
      make.box(
        'across',
        [
          make.text(asWords(t.name), 'title', { width: 'fill' }),
          ...(s.form
            ? [make.button('Add', { do: 'open', screen: s.form, give: '' }, { look: 'quiet', icon: 'plus' })]
            : []),
        ],
        { across: 'middle' },
      ),
      make.list(t.id, [rowFor(t, make, undefined, known)], {
        name: `List of ${t.name}`,
        query: listQuery(app, t),
        search: true,
        empty: asWords(
          s.form
            ? `No ${t.name.toLowerCase()} yet. Press Add to write down the first one.`
            : `There are no ${t.name.toLowerCase()}.`,
        ),
        tap: { do: 'open', screen: s.detail, give: thisId(t.id) },
      }),
    ],
    { inside: 16, gap: 12 },
  );
}

/** The heading of a list of records that link to the one that is seen, with a button that adds one to it. */
function linkedHead(
  name: string,
  of: Table,
  form: string | undefined,
  begins: FieldValue,
  make: ElementMaker,
): Element {
  if (!form) return make.text(asWords(name), 'heading');
  return make.box(
    'across',
    [
      make.text(asWords(name), 'heading', { width: 'fill' }),
      make.button(
        asWords(`Add ${of.one}`),
        { do: 'open', screen: form, give: '', values: [begins] },
        { look: 'quiet', icon: 'plus' },
      ),
    ],
    { across: 'middle', gap: 8 },
  );
}

/** The records of a table that link by a field to the one that is seen: a heading and a list. */
export function linkedList(
  t: Table,
  other: Table,
  f: Field,
  ids: ScreenIds,
  make: ElementMaker,
  known?: Known,
): [Element, Extract<Element, { kind: 'list' }>] {
  const me = thisId(t.id);
  const { backName } = f.link!;
  return [
    linkedHead(backName, other, ids.get(other.id)?.form, { field: f.id, value: me }, make),
    make.list(other.id, [rowFor(other, make, f.id, known)], {
      name: `List of ${backName}`,
      query: {
        ...allOf(other.id),
        via: `${me}.${backId(f.id)}`,
        order: defaultOrder(other),
        limit: 20,
      },
      empty: asWords(`No ${backName.toLowerCase()} for this ${t.one}.`),
      ...opensDetail(other.id, ids),
    }),
  ];
}

/** A tap on a row opens its record, where there is a screen for it. */
const opensDetail = (table: string, ids: ScreenIds): { tap?: Tap } => {
  const detail = ids.get(table)?.detail;
  return detail ? { tap: { do: 'open', screen: detail, give: thisId(table) } } : {};
};

function detailScreen(app: App, t: Table, ids: ScreenIds, make: ElementMaker, known?: Known): BoxElement {
  const me = thisId(t.id);
  const keys = new Set(t.fields.flatMap((f) => (f.link?.from ? [f.link.from] : [])));
  const shown = t.fields.filter((f) => f.id !== t.titleField && f.id !== t.pictureField && !keys.has(f.id));
  const readings = shown.map((f): Element => {
    const reading = make.reading(asWords(f.name), `${me}.${f.id}`);
    const target = f.link && ids.get(f.link.table)?.detail;
    return target
      ? make.box('across', [{ ...reading, width: 'fill' }], {
          tap: { do: 'open', screen: target, give: `${me}.${f.id}` },
        })
      : reading;
  });
  const lists = app.tables.flatMap((other) =>
    other.fields.flatMap((f): Element[] => {
      if (f.link?.table !== t.id) return [];
      return linkedList(t, other, f, ids, make, known);
    }),
  );
  const card = (part: Element[]): Element => make.box('down', part, { surface: 'card', inside: 14, gap: 10 });
  const parts = inParts(readings, card);
  const cards = parts === readings ? (readings.length ? [card(readings)] : []) : parts;
  return make.box(
    'down',
    [
      ...(t.pictureField ? [make.picture(`${me}.${t.pictureField}`, 'wide')] : []),
      make.text(titleWords(t), 'title'),
      ...cards,
      ...(ids.get(t.id)?.form && (!t.fetched || t.fetched.changes)
        ? [
            make.button(
              asWords(`Change this ${t.one}`),
              { do: 'open', screen: ids.get(t.id)!.form!, give: me },
              { look: 'quiet', icon: 'pencil' },
            ),
          ]
        : []),
      ...inParts(lists, (part) => make.box('down', part, { gap: 14 })),
    ],
    { inside: 16, gap: 14 },
  );
}

function formScreen(t: Table, make: ElementMaker): BoxElement {
  const keys = new Set(t.fields.flatMap((f) => (f.link?.from ? [f.link.from] : [])));
  const given = t.fetched?.adds?.values.map((v) => v.field);
  const inputs = t.fields.filter(
    (f) => !fieldKind(f.type).keptByApp && f.id !== t.ownOrder && !keys.has(f.id) && (!given || given.includes(f.id)),
  );
  return make.box(
    'down',
    [
      make.text(
        `{if ${thisId(t.id)} = null then ${JSON.stringify(`New ${t.one}`)} else ${JSON.stringify(`Change ${aOrAn(t.one)}`)}}`,
        'title',
      ),
      make.form(t.id, thisId(t.id), [
        ...inParts(
          // Where records are chosen, one that is not there yet can be added.
          inputs.map((f) => ({ ...make.input(f.id), ...(f.link?.kind === 'picked' && { adds: true }) })),
          (part) => make.box('down', part, { gap: 12 }),
        ),
        make.button('Save', { do: 'save' }),
      ]),
    ],
    { inside: 16, gap: 14 },
  );
}
