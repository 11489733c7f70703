import { FACTS_RECORD } from '../core/document/ids.ts';
import type { App } from '../core/app/schema.ts';
import type { MadeApp } from '../core/formats/make-app.ts';
import type { Cell } from '../core/fields/lists.ts';
import type { Names } from './tables.ts';
import { APIARIES, FIRST, GOODS, GUIDES, HIVE_NAMES, LAST, PLACES, SWARMS, VISIT_NOTES } from './words.ts';

type Rec = MadeApp['records'][number];
const DAY = 86_400_000;

/** Believable records: about 200 hives, 1,500 visits, four years of moves in and out. */
const SKILLS = ['queens', 'swarms', 'wax', 'teaching', 'carpentry'];

export function makeRecords(
  app: App,
  n: Names,
  random: () => number,
  id: (letter: string) => string,
  today: Date,
): Rec[] {
  const out: Rec[] = [];
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const between = (a: number, b: number): number => a + Math.floor(random() * (b - a + 1));
  const add = (table: string, cells: Record<string, Cell>): Rec => {
    const byId: Record<string, Cell> = {};
    for (const [name, cell] of Object.entries(cells))
      if (cell !== null && cell !== '') byId[n.field(table, name)] = cell;
    const record = { table: n.table(table).id, id: id('r'), cells: byId };
    out.push(record);
    return record;
  };
  const end = Date.UTC(today.getFullYear(), today.getMonth(), today.getDate(), 8);
  const date = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
  const stamp = (ms: number): string => new Date(Math.floor(ms / 300_000) * 300_000).toISOString().slice(0, 19);
  const files = (name: string): string[] => app.files.filter((f) => f.name.startsWith(name)).map((f) => `file:${f.id}`);
  const [hivePhotos, apiaryPhotos, noticePhotos, [swarmPhoto]] = [
    files('Hive '),
    files('Apiary '),
    files('Notice '),
    files('Swarm'),
  ];

  const apiaries = APIARIES.map(([name, access], i) =>
    add('Apiaries', {
      Name: name,
      Access: access,
      'On the plan': `${between(6, 94) / 100},${between(8, 90) / 100}`,
      Place: `${(54.1 + between(0, 900) / 10000).toFixed(4)},${(-2.3 + between(0, 900) / 10000).toFixed(4)}`,
      Photo: apiaryPhotos[i % 3]!,
    }),
  );
  const keepers = Array.from({ length: 60 }, (_, i) => {
    const [first, last] =
      i < 4
        ? (
            [
              ['Odile', 'Marsh'],
              ['Ines', 'Calder'],
              ['Tam', 'Reyes'],
              ['Bo', 'Lindqvist'],
            ] as const
          )[i]!
        : [FIRST[i % FIRST.length]!, LAST[(i * 7 + 3) % LAST.length]!];
    return add('Keepers', {
      Name: `${first} ${last}`,
      Mail: `${first}.${last}${i >= 34 ? i : ''}@heatherfield.example`.toLowerCase(),
      Phone: `+44 7700 9${String(between(10000, 99999))}`,
      'Lives nearby': random() < 0.6,
      Role: i === 2 ? 'Coordinator' : i === 3 ? 'Honey room' : 'Keeper',
      Joined: date(end - between(60, 3600) * DAY),
      Skills: i % 4 === 3 ? null : JSON.stringify(SKILLS.filter((_, k) => (i * 7 + k * 3) % 5 < 2)),
    });
  });
  const hives = Array.from({ length: 204 }, (_, i) => {
    const apiary = Math.floor(i / 23);
    const keeper = i % 31 === 30 ? null : keepers[(apiary * 6 + (i % 5)) % keepers.length]!.id;
    return add('Hives', {
      Name: `${HIVE_NAMES[i % HIVE_NAMES.length]} ${Math.floor(i / HIVE_NAMES.length) + 1}`,
      'Tag code': `HB-${String(101 + i).padStart(4, '0')}`,
      Status: i % 17 === 16 ? 'Retired' : i % 11 === 10 ? 'Resting' : i % 13 === 12 ? 'Nucleus' : 'Active',
      Weight: between(81, 264) / 10,
      'Queen year': today.getFullYear() - between(0, 3),
      Photo: hivePhotos[i % hivePhotos.length]!,
      Apiary: apiaries[Math.min(apiary, 8)]!.id,
      Keeper: keeper,
    });
  });
  const tag = n.field('Hives', 'Tag code');
  const keeperOf = n.field('Hives', 'Keeper');
  for (let i = 0; i < 1500; i++) {
    const hive = hives[i < 196 ? i : Math.floor(random() * 196)]!;
    // Fewer visits in winter: a day is drawn again when its month is cold.
    let ago = Math.floor(random() * random() * 700);
    if (i < 196) ago = between(0, 34);
    else if ([0, 1, 11].includes(new Date(end - ago * DAY).getUTCMonth())) ago = Math.floor(random() * 700);
    add('Visits', {
      'Hive tag': hive.cells[tag]!,
      When: stamp(end - (ago + 1) * DAY + between(0, 10 * 3600) * 1000),
      Temper: between(1, 5),
      'Brood frames': between(0, 9),
      Fed: random() < 0.35 ? between(1, 6) / 2 : null,
      'Queen seen': random() < 0.45,
      Notes: pick(VISIT_NOTES),
      Keeper: hive.cells[keeperOf] ?? null,
    });
  }
  const places = PLACES.map(([name, x, y]) =>
    add('Store places', { Name: name, 'On the plan': `${x / 100},${y / 100}` }),
  );
  const goods = GOODS.map(([code, name, unit, low, price]) =>
    add('Goods', { Code: code, Name: name, Unit: unit, 'Low mark': low, Price: price }),
  );
  const totals = new Map<string, number>();
  const code = n.field('Goods', 'Code');
  for (let i = 0; i < 4860; i++) {
    const good = Math.floor(random() * goods.length);
    const place = Math.floor(random() * places.length);
    const key = `${good}/${place}`;
    const have = totals.get(key) ?? 0;
    const out1 = have > 12 && random() < 0.56;
    const quantity = out1 ? between(1, Math.min(have, 24)) : between(4, 30);
    totals.set(key, have + (out1 ? -quantity : quantity));
    add('Moves', {
      'Goods code': goods[good]!.cells[code]!,
      When: stamp(end - (4 * 365 * DAY * (4860 - i)) / 4860),
      Direction: out1 ? 'out' : 'in',
      Quantity: quantity,
      Place: places[place]!.id,
      Keeper: keepers[i % 9 === 0 ? between(0, 59) : 3]!.id,
    });
  }
  for (const [key, quantity] of totals) {
    const [g, p] = key.split('/').map(Number) as [number, number];
    add('Stock', { 'Goods code': goods[g]!.cells[code]!, Quantity: quantity, Place: places[p]!.id });
  }
  const reports = Array.from({ length: 36 }, (_, i) => {
    const [what, where, state, priority] = SWARMS[i % SWARMS.length]!;
    const ago = i * 4 * DAY + between(0, 20) * 3_600_000;
    return add('Swarm reports', {
      What: what,
      Where: where,
      State: i < 6 ? state : pick(['collected', 'collected', 'on the board']),
      Priority: priority,
      'Reported by': random() < 0.5 ? 'mail' : 'app',
      Photo: i % 2 === 0 ? swarmPhoto! : null,
      'Due by': stamp(end - ago + (priority === 'high' ? 1 : 3) * DAY),
      Keeper: i < 3 ? null : pick(keepers).id,
    });
  });
  reports.slice(0, 20).forEach((r, i) =>
    add('Messages', {
      Thread: `swarm-${String(i + 1).padStart(3, '0')}`,
      From: `visitor${i + 1}@post.example`,
      To: 'swarms@heatherfield.example',
      Words: String(r.cells[n.field('Swarm reports', 'What')]),
      When: stamp(end - i * 4 * DAY),
      Report: r.id,
    }),
  );
  const guides = GUIDES.map(([title, kind, topic]) =>
    add('Guides', {
      Title: title,
      Kind: kind,
      Topic: topic,
      File:
        kind === 'video'
          ? null
          : `https://guides.heatherfield.example/${title.toLowerCase().replace(/[^a-z]+/g, '-')}.pdf`,
      Video:
        kind === 'video' ? `https://guides.heatherfield.example/${title.toLowerCase().replace(/[^a-z]+/g, '-')}` : null,
    }),
  );
  const notices: [string, string, string, string][] = [
    [
      'Heather honey is in',
      'The first 300 jars stand in the honey room. Members take theirs by the end of the month.',
      'Reserve jars',
      'https://heatherfield.example/jars',
    ],
    [
      'Open day on Saturday',
      'Come at ten. Veils are there. Children may look for the queen.',
      'Say you are coming',
      'https://heatherfield.example/open-day',
    ],
    ['Smoker course', 'Maren shows how a smoker stays lit for an hour. Workshop, six places.', '', ''],
  ];
  notices.forEach(([title, words, button, address], i) =>
    add('Notices', {
      Title: title,
      Words: words,
      Picture: noticePhotos[i]!,
      'Button words': button,
      'Button address': address,
      Order: i + 1,
    }),
  );
  for (let i = 0; i < 24; i++)
    add('Favourites', {
      Since: date(end - i * 3 * DAY),
      Keeper: keepers[i % 12]!.id,
      Guide: guides[(i * 5) % guides.length]!.id,
    });
  const facts = add('App facts', {
    'Points are called': 'sparks',
    Season: today.getFullYear(),
    'Syrup ratio': '1 : 1',
    'Days between visits': 21,
  });
  facts.id = FACTS_RECORD;
  return out;
}
