import { singular } from '../core/document/names.ts';
import type { App } from '../core/app/schema.ts';
import type { Field, FieldType, Table } from '../core/tables/schema.ts';

/** Ids of the demo's tables and fields by their names: `names.field('Hives', 'Status')`. */
export interface Names {
  table(name: string): Table;
  field(table: string, field: string): string;
}

type Spec = string | [name: string, type: FieldType, more?: Partial<Field>];

const TABLES: Record<string, Spec[]> = {
  Hives: [
    'Name',
    ['Tag code', 'text', { unique: true }],
    ['Status', 'choice', choices('Active', 'Nucleus', 'Resting', 'Retired')],
    ['Weight', 'number', { unit: 'kg' }],
    ['Queen year', 'number'],
    ['Photo', 'picture'],
    ['Welcomed on', 'date'],
  ],
  Visits: [
    'Hive tag',
    ['When', 'datetime'],
    ['Temper', 'number', { least: 1, most: 5 }],
    ['Brood frames', 'number'],
    ['Fed', 'number', { unit: 'litres' }],
    ['Queen seen', 'yesno'],
    ['Notes', 'longtext'],
  ],
  Apiaries: ['Name', ['On the plan', 'plan'], ['Place', 'place'], ['Photo', 'picture'], ['Access', 'longtext']],
  Keepers: [
    'Name',
    ['Mail', 'mail'],
    ['Phone', 'phone'],
    ['Lives nearby', 'yesno'],
    ['Role', 'choice', { ...choices('Keeper', 'Coordinator', 'Honey room'), only: true }],
    ['Skills', 'choice', { ...choices('queens', 'swarms', 'wax', 'teaching', 'carpentry'), several: true }],
    ['Joined', 'date'],
  ],
  'Store places': ['Name', ['On the plan', 'plan']],
  Goods: [
    'Name',
    'Code',
    ['Unit', 'choice', choices('jar', 'piece', 'block', 'roll', 'sheet', 'can', 'bag', 'pair')],
    ['Low mark', 'number'],
    ['Price', 'money', { unit: '€' }],
  ],
  Moves: ['Goods code', ['When', 'datetime'], ['Direction', 'choice', choices('in', 'out')], ['Quantity', 'number']],
  Stock: ['Goods code', ['Quantity', 'number']],
  'Swarm reports': [
    ['What', 'longtext'],
    'Where',
    ['State', 'choice', choices('waiting', 'answered', 'on the board', 'collected')],
    ['Priority', 'choice', choices('high', 'low')],
    ['Reported by', 'choice', choices('mail', 'app')],
    ['Photo', 'picture'],
    ['Due by', 'datetime'],
  ],
  Messages: [
    'Thread',
    ['From', 'mail'],
    ['To', 'mail'],
    ['Words', 'longtext'],
    ['When', 'datetime'],
    'Mail',
    ['File', 'file'],
  ],
  Guides: [
    'Title',
    ['Kind', 'choice', choices('article', 'sheet', 'video')],
    ['Topic', 'choice', choices('inspection', 'feeding', 'queens', 'swarms', 'tools', 'health', 'honey', 'honey room')],
    ['File', 'web'],
    ['Video', 'web'],
  ],
  Notices: [
    'Title',
    ['Words', 'longtext'],
    ['Picture', 'picture'],
    'Button words',
    ['Button address', 'web'],
    ['Order', 'number'],
  ],
  Favourites: [['Since', 'date']],
  'App facts': [
    'Points are called',
    ['Season', 'number'],
    'Syrup ratio',
    ['Days between visits', 'number', { unit: 'days' }],
  ],
};

/** Links by table: name, target, what the other end calls them, and the fields that match (picked when there are none). */
const LINKS: [table: string, name: string, target: string, back: string, from?: string, to?: string][] = [
  ['Hives', 'Apiary', 'Apiaries', 'Hives'],
  ['Hives', 'Keeper', 'Keepers', 'Hives'],
  ['Visits', 'Hive', 'Hives', 'Visits', 'Hive tag', 'Tag code'],
  ['Visits', 'Keeper', 'Keepers', 'Visits'],
  ['Moves', 'Goods', 'Goods', 'Moves', 'Goods code', 'Code'],
  ['Moves', 'Place', 'Store places', 'Moves'],
  ['Moves', 'Keeper', 'Keepers', 'Moves'],
  ['Stock', 'Goods', 'Goods', 'Stock', 'Goods code', 'Code'],
  ['Stock', 'Place', 'Store places', 'Stock'],
  ['Swarm reports', 'Keeper', 'Keepers', 'Swarm reports'],
  ['Messages', 'Report', 'Swarm reports', 'Messages'],
  ['Favourites', 'Keeper', 'Keepers', 'Favourites'],
  ['Favourites', 'Guide', 'Guides', 'Favourites'],
];

function choices(...names: string[]): Partial<Field> {
  return { choices: names.map((name, colour) => ({ name, colour })) };
}

export function makeTables(app: App, id: (letter: string) => string): Names {
  const fieldId = (table: string, name: string): string => {
    const f = app.tables.find((t) => t.name === table)?.fields.find((x) => x.name === name);
    if (!f) throw new Error(`The demo has no field ${table} › ${name}.`);
    return f.id;
  };
  for (const [name, specs] of Object.entries(TABLES)) {
    const fields = specs.map((s): Field => {
      const [label, type, more] = typeof s === 'string' ? [s, 'text' as const, {}] : s;
      return { id: id('f'), name: label, type, ...more };
    });
    app.tables.push({
      id: id('t'),
      name,
      one: name === 'Goods' ? 'article' : name === 'Stock' ? 'stock line' : singular(name),
      fields,
      titleField: fields[0]!.id,
      pictureField: fields.find((f) => f.type === 'picture')?.id ?? null,
      ...(name === 'App facts' && { one: 'app facts', facts: true }),
    });
  }
  for (const [table, name, target, backName, from, to] of LINKS) {
    const t = app.tables.find((x) => x.name === table)!;
    t.fields.push({
      id: id('f'),
      name,
      type: 'link',
      link: {
        kind: from ? 'matched' : 'picked',
        table: app.tables.find((x) => x.name === target)!.id,
        backName,
        ...(from && { from: fieldId(table, from), to: fieldId(target, to!) }),
      },
    });
  }
  const names: Names = { table: (n) => app.tables.find((t) => t.name === n)!, field: fieldId };
  addFormulas(app, names, id);
  const title = (table: string, field: string): void => {
    names.table(table).titleField = fieldId(table, field);
  };
  title('Visits', 'When');
  title('Moves', 'When');
  title('Favourites', 'Since');
  // A line of the stock is known by its code and its place.
  for (const table of ['Stock', 'Moves'])
    names.table(table).fields.find((f) => f.name === 'Goods code')!.required = true;
  names.table('Stock').key = [fieldId('Stock', 'Goods code'), fieldId('Stock', 'Place')];
  for (const [table, plan] of [
    ['Apiaries', 'Meadow plan'],
    ['Store places', 'Honey room plan'],
  ] as const) {
    const picture = app.files.find((f) => f.name === plan)!;
    names.table(table).fields.find((f) => f.type === 'plan')!.plan = `file:${picture.id}`;
  }
  const fed = names.table('Visits').fields.find((f) => f.name === 'Fed')!;
  fed.check = {
    formula: `${fed.id} = null or ${fed.id} <= 10`,
    words: 'More than ten litres at once floods a hive. Feed it in two visits.',
  };
  names.table('Visits').fields.find((f) => f.name === 'When')!.default = 'now()';
  return names;
}

/** Formula fields, written with ids in place of names as they are stored. */
function addFormulas(_app: App, n: Names, id: (letter: string) => string): void {
  const add = (table: string, name: string, formula: string, more: Partial<Field> = {}): void => {
    n.table(table).fields.push({ id: id('f'), name, type: 'formula', formula, ...more });
  };
  const back = (table: string, link: string): string => `${n.field(table, link)}_back`;
  const visits = back('Visits', 'Hive');
  add('Hives', 'Visits made', `count(${visits})`);
  add('Hives', 'Last visit', `max(${visits}.${n.field('Visits', 'When')})`);
  add('Hives', 'Days since visit', `(now() - ${n.field('Hives', 'Last visit')}).days`, { unit: 'days' });
  add('Hives', 'Fed in all', `sum(${visits}.${n.field('Visits', 'Fed')})`, { unit: 'litres' });
  add(
    'Hives',
    'Overdue',
    `${n.field('Hives', 'Status')} != "Retired" and ${n.field('Hives', 'Days since visit')} > all_${n.table('App facts').id}.${n.field('App facts', 'Days between visits')}`,
  );
  add('Apiaries', 'Hives here', `count(${back('Hives', 'Apiary')})`);
  add('Apiaries', 'Mean weight', `decimal(mean(${back('Hives', 'Apiary')}.${n.field('Hives', 'Weight')}), 1)`, {
    unit: 'kg',
  });
  add('Keepers', 'Hives kept', `count(${back('Hives', 'Keeper')})`);
  const move = (direction: string): string =>
    `sum(${back('Moves', 'Goods')}[${n.field('Moves', 'Direction')} = "${direction}"].${n.field('Moves', 'Quantity')})`;
  add('Goods', 'In all', `${move('in')} - ${move('out')}`);
  add(
    'Swarm reports',
    'Late',
    `${n.field('Swarm reports', 'State')} != "collected" and ${n.field('Swarm reports', 'Due by')} < now()`,
  );
  add(
    'Stock',
    'Low',
    `${n.field('Stock', 'Quantity')} < ${n.field('Stock', 'Goods')}.${n.field('Goods', 'Low mark')} / 4`,
  );
}
