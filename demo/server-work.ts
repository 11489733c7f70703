import type { ElementMaker } from '../core/app/make.ts';
import type { App, Trigger } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import type { Condition, Where } from '../core/document/pieces.ts';
import { allOf, noConditions } from '../core/document/queries.ts';
import type { TriggerValue } from '../core/routines/trigger-values.ts';
import { triggerKinds } from '../core/routines/kinds.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** What the co-operative’s server does while phones sleep: reports get a day by which they are due, low stock is mailed. */
export function addServerWork(app: App, n: Names, make: ElementMaker): void {
  const { routine } = makingOf(app, make);
  app.zone = 'Europe/London';
  app.work = {
    days: [...Array.from({ length: 5 }, (): [number, number][] => [[540, 1020]]), [[540, 720]], []],
    free: ['2026-12-25', '2026-12-26', '2027-01-01'],
  };
  const whereAll = (...conditions: Condition[]): Where => ({ match: 'all', conditions });
  const starts = <On extends Trigger['on']>(on: On, more: object): { starts: Trigger[] } => ({
    starts: [{ on, ...triggerKinds.get(on)!.begin!(app), ...more } as Trigger],
  });
  const hasMail: Condition = { left: n.field('Keepers', 'Mail'), op: 'is filled', right: '' };
  const keeper = (role: string, result: string, resultName: string) =>
    make.step('get', {
      query: { ...allOf(n.table('Keepers').id), where: whereAll({ left: n.field('Keepers', 'Role'), op: 'is', right: `"${role}"` }, hasMail) },
      result,
      resultName,
    }); // prettier-ignore

  // Stock
  const stock = n.table('Stock');
  const isLow = whereAll({ left: n.field('Stock', 'Low'), op: 'is', right: 'true' });
  const [taker, row] = ['taker', 'row'].map(() => make.id('v')) as [string, string];
  routine(
    'What runs low, at four',
    null,
    [
      keeper('Honey room', taker, 'who keeps the stores'),
      make.step('mail', {
        to: `${taker}.${n.field('Keepers', 'Mail')}`,
        subject: 'What runs low in the honey room',
        body: `Dear {${taker}.${n.field('Keepers', 'Name')}}, this runs low:`,
        query: { ...allOf(stock.id), where: isLow },
        line: `- {${row}.${n.field('Stock', 'Goods')}}: {${row}.${n.field('Stock', 'Quantity')}} left in {${row}.${n.field('Stock', 'Place')}}`,
        result: row,
        resultName: 'stock line',
        onlyWithLines: true,
      }),
    ],
    starts('clock', { each: 'day', time: '16:00', missed: 'once' }),
  );
  const line = thisId(stock.id);
  const told = make.id('v');
  routine(
    'A stock line runs low',
    stock.id,
    [
      keeper('Honey room', told, 'who keeps the stores'),
      make.step('notify', {
        to: told,
        title: `{${line}.${n.field('Stock', 'Goods')}} runs low`,
        words: `{${line}.${n.field('Stock', 'Quantity')}} left in {${line}.${n.field('Stock', 'Place')}}.`,
      }),
    ],
    starts('record becomes', { table: stock.id, where: isLow }),
  );

  // Swarm reports
  const reports = n.table('Swarm reports');
  const report = thisId(reports.id);
  const of = (name: string): string => `${report}.${n.field('Swarm reports', name)}`;
  const [coordinator, onTheWay] = ['coordinator', 'on the way'].map(() => make.id('v')) as [string, string];
  const backOnTheBoard = () =>
    make.step('set', {
      record: report,
      values: [
        { field: n.field('Swarm reports', 'Keeper'), value: 'null' },
        { field: n.field('Swarm reports', 'State'), value: '"waiting"' },
      ],
    });
  routine(
    'A report has come',
    reports.id,
    [
      make.step('set', {
        record: report,
        // Somebody is to have been there after a day of work; what comes on a Sunday is due on Tuesday morning.
        values: [{ field: n.field('Swarm reports', 'Due by'), value: `after working time(now(), duration("PT8H"))` }],
      }),
      make.step('hold', {
        when: whereAll({ left: of('State'), op: 'is', right: '"collected"' }),
        time: 'duration("P2D")',
        late: [
          keeper('Coordinator', coordinator, 'a coordinator'),
          make.step('mail', {
            to: `${coordinator}.${n.field('Keepers', 'Mail')}`,
            subject: `A swarm is still out: {${of('Where')}}`,
            body: `{${of('What')}}\n\nIt was due by {${of('Due by')}}.`,
          }),
        ],
      }),
    ],
    starts('record changed', {
      table: reports.id,
      how: 'added',
      where: whereAll({ left: n.field('Swarm reports', 'Due by'), op: 'is empty', right: '' }),
    }),
  );
  routine(
    'A report is due soon',
    reports.id,
    [
      make.step('ask somebody', {
        to: of('Keeper'),
        words: `A swarm is waiting: {${of('Where')}}. Are you on your way?`,
        as: 'choice',
        choices: 'On my way, I cannot come',
        time: 'duration("PT2H")',
        result: onTheWay,
        resultName: 'what the keeper answers',
        late: [backOnTheBoard()],
      }),
      make.step('if', {
        when: whereAll({ left: onTheWay, op: 'is', right: '"I cannot come"' }),
        then: [backOnTheBoard()],
        otherwise: [],
      }),
    ],
    starts('date reached', {
      table: reports.id,
      field: n.field('Swarm reports', 'Due by'),
      way: 'before',
      many: 3,
      unit: 'hours',
      missed: 'skip',
      where: {
        ...noConditions(),
        conditions: [
          { left: n.field('Swarm reports', 'State'), op: 'is not', right: '"collected"' },
          { left: n.field('Swarm reports', 'Keeper'), op: 'is filled', right: '' },
        ],
      },
    }),
  ); // prettier-ignore

  // What the coordinator hears of by mail
  const [tellsOf, hears] = ['tells of', 'hears'].map(() => make.id('v')) as [string, string];
  const input = (name: string, from: TriggerValue) => ({ id: make.id('i'), name, type: 'text' as const, first: '', from });
  const [what, why, whose] = [input('What failed', 'what failed'), input('Why', 'why it failed'), input('Record', 'name of the record')];
  routine(
    'Something has failed',
    null,
    [
      keeper('Coordinator', tellsOf, 'a coordinator'),
      make.step('mail', {
        to: `${tellsOf}.${n.field('Keepers', 'Mail')}`,
        subject: `{${what.id}} has failed`,
        body: `{${why.id}}\n\nIt was about {${whose.id}}.`,
      }),
    ],
    { ...starts('run failed', {}), inputs: [what, why, whose] },
  );
  const who = input('Mail', 'mail of the person');
  routine(
    'A keeper has come',
    null,
    [
      keeper('Coordinator', hears, 'a coordinator'),
      make.step('notify', { to: hears, title: 'Somebody has signed in', words: `{${who.id}}` }),
    ],
    { ...starts('person came', { did: 'signed in' }), inputs: [who] },
  );
} // prettier-ignore
