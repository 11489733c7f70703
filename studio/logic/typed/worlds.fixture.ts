import { emptyApp } from '../../../core/app/document.ts';
import { ElementMaker } from '../../../core/app/make.ts';
import type { App, Routine } from '../../../core/app/schema.ts';
import { hiveApp, T } from '../../../core/records/fixture.ts';
import type { Field, FieldType, Table } from '../../../core/tables/schema.ts';

/** Four small apps in which the sentences of the corpus are read, each with a routine that is given one of its records. */
export interface World {
  app: App;
  routine: Routine;
}

const make = new ElementMaker();
const letters = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z]/g, '')
    .padEnd(8, '0')
    .slice(0, 20);
const tableId = (name: string): string => `t_${letters(name)}`;

/** `Title`, `Price money`, `Level choice Beginner Advanced`, `Teacher link People`, `Favourites links Tasks`. */
function field(table: string, spec: string): Field {
  const [name, type = 'text', ...more] = spec.split('|');
  const id = `f_${letters(table + name!)}`;
  if (type === 'link' || type === 'links')
    return {
      id,
      name: name!,
      type: 'link',
      link: { kind: 'picked', table: tableId(more[0]!), backName: more[1] ?? table },
      ...(type === 'links' && { several: true as const }),
    };
  return {
    id,
    name: name!,
    type: type as FieldType,
    ...(more.length && { choices: more.map((c, i) => ({ name: c, colour: i })) }),
  };
}
const table = (name: string, one: string, ...fields: string[]): Table => {
  const made = fields.map((f) => field(name, f));
  return { id: tableId(name), name, one, titleField: made[0]!.id, pictureField: null, fields: made };
};

function world(
  name: string,
  given: string,
  tables: Table[],
  screens: string[],
  routines: [string, string | null][],
  more: Partial<App> = {},
): World {
  const app: App = { ...emptyApp(name, 'a_world00000'), tables, ...more };
  app.screens = screens.map((s) => {
    const [screen, of] = s.split('|');
    return {
      id: `s_${letters(screen!)}`,
      name: screen!,
      given: of ? tableId(of) : null,
      icon: 'list',
      root: make.box('down', []),
    };
  });
  const routine: Routine = { id: 'q_here000000', name: 'Here', given: tableId(given), steps: [] };
  app.routines = [
    routine,
    ...routines.map(([n, of]): Routine => ({ id: `q_${letters(n)}`, name: n, given: of && tableId(of), steps: [] })),
  ];
  return { app, routine };
}

const PEOPLE = table('People', 'person', 'Name', 'Mail|mail', 'Phone|phone', 'Points|number');

function hives(): World {
  const app = hiveApp({ keepers: [{ id: 'f_phone000', name: 'Phone', type: 'phone' }] });
  app.screens = [
    { id: 's_allhives00', name: 'All hives', given: null, icon: 'list', root: make.box('down', []) },
    { id: 's_hive000000', name: 'Hive', given: T.hives, icon: 'list', root: make.box('down', []) },
    { id: 's_visit00000', name: 'Visit form', given: null, icon: 'list', root: make.box('down', []) },
    { id: 's_map0000000', name: 'Map of hives', given: null, icon: 'list', root: make.box('down', []) },
  ];
  app.variables = [{ id: 'v_score00000', name: 'Score', type: 'number', lasts: 'app', first: '0' }];
  const routine: Routine = { id: 'q_here000000', name: 'Here', given: T.hives, steps: [] };
  app.routines = [routine, { id: 'q_other00000', name: 'Tell everybody', given: T.hives, steps: [] }];
  return { app, routine };
}

const courses = (): World =>
  world(
    'Courses',
    'Courses',
    [
      table(
        'Courses',
        'course',
        'Title',
        'Price|money',
        'Level|choice|Beginner|Advanced',
        'Starts|date',
        'Seats|number',
        'Teacher|link|People|Courses',
      ),
      table('Favourites', 'favourite', 'Since|date', 'Course|link|Courses', 'Person|link|People'),
      PEOPLE,
    ],
    ['All courses', 'Course|Courses', 'My favourites'],
    [],
  );

const stock = (): World =>
  world(
    'Stock',
    'Goods',
    [
      table(
        'Goods',
        'good',
        'Name',
        'Quantity|number',
        'Minimum|number',
        'Price|money',
        'Status|choice|In use|Retired',
        'Supplier|link|Suppliers',
        'Place',
        'Checked|date',
      ),
      table('Moves', 'move', 'Note|longtext', 'Good|link|Goods', 'Amount|number', 'When|date', 'By|link|People'),
      table('Suppliers', 'supplier', 'Name', 'Mail|mail', 'Phone|phone', 'Website|web'),
      PEOPLE,
    ],
    ['Stock', 'Good|Goods', 'Low list', 'Dashboard'],
    [['Order again', 'Goods']],
  );

function tasks(): World {
  const people: Table = { ...PEOPLE, fields: [...PEOPLE.fields, field('People', 'Favourites|links|Tasks|Fans')] };
  const found = world(
    'Tasks',
    'Tasks',
    [
      table(
        'Tasks',
        'task',
        'Title',
        'Done|yesno',
        'Due|date',
        'Owner|link|People',
        'Priority|choice|Low|High',
        'Notes|longtext',
        'Points|number',
      ),
      people,
      table('Lists', 'list', 'Name', 'Tasks|links|Tasks'),
    ],
    ['Today', 'Task|Tasks', 'All tasks', 'New task'],
    [],
    {
      variables: [
        { id: 'v_search0000', name: 'Search', type: 'text', lasts: 'app', first: '' },
        { id: 'v_streak0000', name: 'Streak', type: 'number', lasts: 'device', first: '0' },
      ],
    },
  );
  found.app.screens[0]!.root = make.box('down', [
    { ...make.text('Search'), name: 'Search box' },
    { ...make.text('Tasks'), name: 'Task list' },
  ]);
  return found;
}

export const WORLDS: Readonly<Record<string, World>> = {
  hives: hives(),
  courses: courses(),
  stock: stock(),
  tasks: tasks(),
};
