import { describe, expect, it } from 'vitest';
import { walkElements } from '../document/walk.ts';
import type { App, Element } from '../app/schema.ts';
import { preflight } from '../preflight/preflight.ts';
import { bring } from './bring.ts';
import { makeApp } from './make-app.ts';

/** The app that is made of these sheets. */
async function made(sheets: Record<string, (string | number)[][]>): Promise<App> {
  const files = Object.entries(sheets).map(([name, rows]) => ({
    name: `${name}.csv`,
    bytes: new TextEncoder().encode(rows.map((r) => r.join(',')).join('\n')),
  }));
  const { drafts, data, links } = await bring(files);
  return makeApp('First', drafts, data, links).app;
}
const elementsOf = (app: App, screen: string): Element[] => {
  const found: Element[] = [];
  walkElements<Element>([app.screens.find((s) => s.name === screen)!.root], (e) => void found.push(e));
  return found;
};

const CODES = ['OSL', 'CDG', 'MAD', 'ROM', 'VIE'];
const airports = [['airport_code', 'airport_name', 'country'], ...CODES.map((c, i) => [c, `Field ${i}`, 'NL'])];
const flights = [
  ['flight_no', 'flight_date', 'departure_airport', 'arrival_airport', 'passengers', 'fare'],
  ...Array.from({ length: 40 }, (_, i) => [
    `KT${100 + i}`,
    `2026-0${1 + (i % 9)}-1${i % 10}`,
    CODES[i % 5]!,
    CODES[(i + 2) % 5]!,
    80 + (i % 17),
    `€${100 + i}.50`,
  ]),
];

describe('the first app of sheets', () => {
  it('has names as people write them', async () => {
    const app = await made({ Flights: flights });
    expect(app.tables[0]!.fields.map((f) => f.name)).toEqual([
      'flight no',
      'flight date',
      'departure airport',
      'arrival airport',
      'passengers',
      'fare',
    ]);
    const odd = await made({
      Odd: [
        ['bootName', 'LEN_M', 'ID', 'already Here', '_x'],
        ['a', 1, 2, 'b', 'c'],
        ['d', 3, 4, 'e', 'f'],
      ],
    });
    expect(odd.tables[0]!.fields.map((f) => f.name)).toEqual(['boot name', 'len m', 'ID', 'already Here', '_x']);
  });
  it('calls two links between the same tables by their roles, at both ends', async () => {
    const app = await made({ Airports: airports, Flights: flights });
    const links = app.tables.flatMap((t) => t.fields.flatMap((f) => (f.link ? [[f.name, f.link.backName]] : [])));
    expect(links.sort()).toEqual([
      ['Arrival airport', 'Arrival flights'],
      ['Departure airport', 'Departure flights'],
    ]);
  });
  it('makes one place and a map of latitude and longitude, and counts neither among the figures', async () => {
    const app = await made({
      Huts: [
        ['Hut', 'Latitude', 'Longitude', 'Beds'],
        ['North', 65.44, -22.2, 12],
        ['South', 64.1, -20.5, 3],
        ['East', 64.9, -14.2, 7],
      ],
    });
    const fields = app.tables[0]!.fields;
    const place = fields.find((f) => f.type === 'place')!;
    const overview = elementsOf(app, 'Overview');
    expect(overview.filter((e) => e.kind === 'chart').map((c) => c.title)).toEqual(['huts', 'average beds']);
    const [map] = overview.filter((e) => e.kind === 'plan');
    const hut = app.screens.find((s) => s.name === 'Hut')!;
    expect(map).toMatchObject({ at: place.id, tap: { do: 'open', screen: hut.id } });
    // Also where there is nothing to count.
    const bare = await made({
      Huts: [
        ['Hut', 'lat', 'lon'],
        ['North', 65.44, -22.2],
        ['South', 64.1, -20.5],
      ],
    });
    expect(elementsOf(bare, 'Overview').filter((e) => e.kind === 'plan')).toHaveLength(1);
    const row = elementsOf(bare, 'Huts').flatMap((e) => (e.kind === 'text' ? [e.words] : []));
    for (const f of bare.tables[0]!.fields.filter((x) => x.type === 'number')) expect(row.join()).not.toContain(f.id);
  });
  it('puts what happens in time latest first, also where it is linked to nothing', async () => {
    const rows = [
      ['Honey day', '2026-11-20', 'Come and taste what the summer left in the combs of the lower meadow.'],
      ['Frost', '2026-11-24', 'Close the lower doors, and bring the feeders in before the night.'],
    ];
    const orderOf = async (name: string): Promise<unknown> => {
      const app = await made({ [name]: [['Title', 'On', 'Said'], ...rows] });
      const list = elementsOf(app, name).find((e) => e.kind === 'list')!;
      return list.query.order.map((o) => [
        app.tables[0]!.fields.find((f) => f.id === o.by)!.name,
        o.descending ? 'down' : 'up',
      ]);
    };
    expect(await orderOf('News')).toEqual([['On', 'down']]);
    expect(await orderOf('Plants')).toEqual([['Title', 'up']]);
  });
  it('opens an overview with tiles and a chart where there are figures, and has nothing unfinished', async () => {
    const app = await made({ Airports: airports, Flights: flights });
    expect(app.tabs.map((t) => t.name)).toEqual(['Airports', 'Flights', 'Overview']);
    const charts = elementsOf(app, 'Overview').filter((e) => e.kind === 'chart');
    expect(charts.map((c) => [c.title, c.look, c.figure])).toEqual([
      ['airports', 'number', 'count'],
      ['flights', 'number', 'count'],
      ['average passengers', 'number', 'average'],
      ['fare in all', 'number', 'sum'],
      ['Fare over time', 'area', 'sum'],
    ]);
    expect(preflight(app)).toEqual([]);
  });
  it('shows in its rows what tells records apart: a column with one value tells nothing', async () => {
    const sheet = [
      ['Name', 'Club', 'Level', 'Shoe size', 'Points'],
      ...Array.from({ length: 30 }, (_, i) => [`Runner ${i}`, 'Hares', ['novice', 'fast', 'elite'][i % 3]!, 42, i]),
    ];
    const app = await made({ Runners: sheet });
    const words = elementsOf(app, 'Runners').flatMap((e) => (e.kind === 'text' ? [e.words] : []));
    const id = (name: string): string => app.tables[0]!.fields.find((f) => f.name === name)!.id;
    expect(words.some((w) => w.includes(id('Level')))).toBe(true);
    expect(words.some((w) => w.includes(id('Points')))).toBe(true);
    expect(words.some((w) => w.includes(id('Club')) || w.includes(id('Shoe size')))).toBe(false);
  });
  it('prefers in its rows what is filled in; a record without a name has words for that', async () => {
    const sheet = [
      ['Plot', 'Holder', 'Let on', 'Note'],
      ...Array.from({ length: 60 }, (_, i) => [
        `A${i}`,
        `Holder ${i}`,
        `2025-0${1 + (i % 9)}-14`,
        i % 4 ? '' : ['dry', 'hedge'][(i / 4) % 2]!,
      ]),
    ];
    const app = await made({ Plots: sheet });
    const fields = app.tables[0]!.fields;
    expect(fields.map((f) => f.type)).toEqual(['text', 'text', 'date', 'choice']);
    const id = (name: string): string => fields.find((f) => f.name === name)!.id;
    const me = `this_${app.tables[0]!.id}`;
    const title = `{${me}.${id('Plot')} | "Untitled plot"}`;
    const words = elementsOf(app, 'Plots').flatMap((e) => (e.kind === 'text' ? [e.words] : []));
    expect(words).toEqual(['Plots', title, `{${me}.${id('Holder')}} · {${me}.${id('Let on')}}`]);
    expect(elementsOf(app, 'Plot').map((e) => (e as { words?: string }).words)).toContain(title);
  });
  it('has no overview without figures, and never more than five tabs', async () => {
    const list = [
      ['Name', 'Note'],
      ['a', 'x'],
      ['b', 'y'],
    ];
    const plain = await made({ One: list });
    expect(plain.tabs.map((t) => t.name)).toEqual(['One']);
    const many = await made(
      Object.fromEntries(
        ['A', 'B', 'C', 'D', 'E', 'F'].map((n) => [
          `Table ${n}`,
          [
            ['Name', 'Amount'],
            [`${n} one`, 1],
            [`${n} two`, 2],
          ],
        ]),
      ),
    );
    expect(many.tabs).toHaveLength(5);
    expect(many.tabs.map((t) => t.name).slice(-2)).toEqual(['More', 'Overview']);
    expect(preflight(many).filter((n) => n.severity === 'stops')).toEqual([]);
  });
});
