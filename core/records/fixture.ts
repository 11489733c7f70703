import type { App } from '../app/schema.ts';
import type { Field } from '../tables/schema.ts';
import { emptyApp } from '../app/document.ts';
import { Records, type Cells } from './store.ts';

/** A small app for tests: hives with visits (matched by tag) and keepers (picked). Ids read like what they name. */
export const T = { hives: 't_hives00', visits: 't_visits0', keepers: 't_keepers' } as const;
export const F = {
  name: 'f_name000',
  tag: 'f_tag0000',
  weight: 'f_weight0',
  keeper: 'f_keeper0',
  status: 'f_status0',
  visited: 'f_visited',
  fed: 'f_fed0000',
  hiveTag: 'f_hivetag',
  hive: 'f_hive000',
  when: 'f_when000',
  keeperName: 'f_kname00',
  mail: 'f_mail000',
  nearby: 'f_nearby0',
  total: 'f_total00',
  label: 'f_label00',
  perVisit: 'f_pervis0',
} as const;

/** Names that begin a value, a text or a sign in a formula, if they are taken as anything but a name. */
export const HOSTILE = ['{b}', '{', '}', '"c"', '\\', '{if', '<b>', "o'"];

/** The same app with hostile letters behind the names of its tables, fields and links. */
export function withHostileNames(app: App, tail = ` ${HOSTILE.join(' ')}`): App {
  for (const t of app.tables) {
    t.name += tail;
    t.one += tail;
    for (const f of t.fields) {
      f.name += tail;
      if (f.link?.backName) f.link.backName += tail;
    }
  }
  return app;
}

export function hiveApp(extra: Partial<Record<keyof typeof T, Field[]>> = {}): App {
  const app = emptyApp('Hives', 'a_test00000');
  app.tables = [
    {
      id: T.hives,
      name: 'Hives',
      one: 'hive',
      titleField: F.name,
      pictureField: null,
      fields: [
        { id: F.name, name: 'Name', type: 'text' },
        { id: F.tag, name: 'Tag code', type: 'text' },
        { id: F.weight, name: 'Weight', type: 'number', unit: 'kg' },
        {
          id: F.status,
          name: 'Status',
          type: 'choice',
          choices: [
            { name: 'Active', colour: 0 },
            { name: 'Retired', colour: 1 },
          ],
        },
        { id: F.keeper, name: 'Keeper', type: 'link', link: { kind: 'picked', table: T.keepers, backName: 'Hives' } },
        { id: F.total, name: 'Fed in all', type: 'formula', formula: `sum(${F.hive}_back.${F.fed})` },
        { id: F.perVisit, name: 'Per visit', type: 'formula', formula: `${F.total} / count(${F.hive}_back)` },
        ...(extra.hives ?? []),
      ],
    },
    {
      id: T.visits,
      name: 'Visits',
      one: 'visit',
      titleField: F.when,
      pictureField: null,
      fields: [
        { id: F.hiveTag, name: 'Hive tag', type: 'text' },
        { id: F.when, name: 'When', type: 'date' },
        { id: F.fed, name: 'Fed', type: 'number', unit: 'litres' },
        {
          id: F.hive,
          name: 'Hive',
          type: 'link',
          link: { kind: 'matched', table: T.hives, from: F.hiveTag, to: F.tag, backName: 'Visits' },
        },
        {
          id: F.label,
          name: 'Label',
          type: 'formula',
          formula: `${F.hive}.${F.name} + " " + ${F.hive}.${F.keeper}.${F.keeperName}`,
        },
        ...(extra.visits ?? []),
      ],
    },
    {
      id: T.keepers,
      name: 'Keepers',
      one: 'keeper',
      titleField: F.keeperName,
      pictureField: null,
      fields: [
        { id: F.keeperName, name: 'Name', type: 'text' },
        { id: F.mail, name: 'Mail', type: 'mail' },
        { id: F.nearby, name: 'Lives nearby', type: 'yesno' },
        ...(extra.keepers ?? []),
      ],
    },
  ];
  return app;
}

export const ODILE: Cells = { [F.keeperName]: 'Odile', [F.mail]: 'odile@heatherfield.example', [F.nearby]: true };

/** Two hives, three visits and a keeper. */
export function someRecords(records: Records): void {
  records.load(T.keepers, [{ id: 'odile', cells: { ...ODILE } }]);
  records.load(T.hives, [
    {
      id: 'bramble',
      cells: { [F.name]: 'Bramble', [F.tag]: 'HB-1', [F.weight]: 14.2, [F.keeper]: 'odile', [F.status]: 'Active' },
    },
    { id: 'clover', cells: { [F.name]: 'Clover', [F.tag]: 'HB-2', [F.weight]: 21, [F.status]: 'Retired' } },
  ]);
  records.load(T.visits, [
    { id: 'v1', cells: { [F.hiveTag]: 'HB-1', [F.when]: '2026-11-01', [F.fed]: 1.1 } },
    { id: 'v2', cells: { [F.hiveTag]: 'hb-1 ', [F.when]: '2026-11-08', [F.fed]: 2.2 } },
    { id: 'v3', cells: { [F.hiveTag]: 'HB-2', [F.when]: '2026-11-09' } },
  ]);
}
