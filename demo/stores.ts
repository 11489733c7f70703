import type { ElementMaker } from '../core/app/make.ts';
import type { App, Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { allOf } from '../core/document/queries.ts';
import { makingOf } from './making.ts';
import type { Names } from './tables.ts';

/** What comes into the stores and goes out of them: a move is written down, and its amount is added to the stock. */
export function addStores(app: App, n: Names, make: ElementMaker): void {
  const { say, routine } = makingOf(app, make);
  const stock = n.table('Stock');
  const moves = n.table('Moves');
  const me = thisId(stock.id);
  const f = (name: string): string => n.field('Stock', name);
  const move = (name: string): string => n.field('Moves', name);

  const moved = (name: string, direction: 'in' | 'out', words: string): ReturnType<typeof routine> => {
    const many = make.id('v');
    const write: Step[] = [
      make.step('add', {
        table: moves.id,
        values: [
          { field: move('Goods code'), value: `${me}.${f('Goods code')}` },
          { field: move('Place'), value: `${me}.${f('Place')}` },
          { field: move('Direction'), value: `"${direction}"` },
          { field: move('Quantity'), value: many },
          { field: move('When'), value: 'now()' },
        ],
        result: make.id('v'),
        resultName: 'move',
      }),
      make.step('raise', {
        how: direction === 'in' ? 'raise' : 'lower',
        record: me,
        values: [{ field: f('Quantity'), value: many }],
      }),
    ];
    return routine(name, stock.id, [
      {
        ...make.step('question', { words, as: 'number', hint: '12', first: '', result: many, resultName: 'how many' }),
        ifFails: [make.step('stop')],
        reason: make.id('v'),
      },
      make.step('together', { steps: write }),
      say(`Written down. There are now {${me}.${f('Quantity')}} in {${me}.${f('Place')}}.`),
    ]);
  };
  const into = moved('Put into the store', 'in', `How many {${me}.${f('Goods')}} came in?`);
  const out = moved('Take out of the store', 'out', `How many {${me}.${f('Goods')}} went out?`);
  const [many, where] = [make.id('v'), make.id('v')];
  const places = n.table('Store places');
  const carried = (direction: 'in' | 'out', place: string): Step =>
    make.step('add', {
      table: moves.id,
      values: [
        { field: move('Goods code'), value: `${me}.${f('Goods code')}` },
        { field: move('Place'), value: place },
        { field: move('Direction'), value: `"${direction}"` },
        { field: move('Quantity'), value: many },
        { field: move('When'), value: 'now()' },
      ],
      result: make.id('v'),
      resultName: 'move',
    });
  const elsewhere = routine('Carry to another place', stock.id, [
    {
      ...make.step('menu', {
        words: `Where do you carry {${me}.${f('Goods')}} to?`,
        from: 'records',
        query: {
          ...allOf(places.id),
          where: { match: 'all', conditions: [{ left: thisId(places.id), op: 'is not', right: `${me}.${f('Place')}` }] },
        },
        choices: [],
        result: where,
        resultName: 'the other place',
      }),
      ifFails: [make.step('stop')],
      reason: make.id('v'),
    },
    {
      ...make.step('question', { words: 'How many?', as: 'number', hint: '12', first: '', result: many, resultName: 'how many' }),
      ifFails: [make.step('stop')],
      reason: make.id('v'),
    },
    make.step('together', {
      steps: [
        carried('out', `${me}.${f('Place')}`),
        carried('in', where),
        make.step('raise', { how: 'lower', record: me, values: [{ field: f('Quantity'), value: many }] }),
        // Where the goods never were there is no line of theirs yet.
        make.step('total', {
          how: 'raise',
          table: stock.id,
          keys: [
            { field: f('Goods code'), value: `${me}.${f('Goods code')}` },
            { field: f('Place'), value: where },
          ],
          values: [{ field: f('Quantity'), value: many }],
        }),
      ],
    }),
    say(`Carried. {${me}.${f('Quantity')}} are left in {${me}.${f('Place')}}.`),
  ]); // prettier-ignore
  const detail = app.screens.find((s) => s.given === stock.id);
  detail?.root.children.push(
    make.box(
      'across',
      [
        make.button('Put in', { do: 'routine', routine: into.id }, { width: 'fill' }),
        make.button('Take out', { do: 'routine', routine: out.id }, { width: 'fill', look: 'plain' }),
      ],
      { gap: 8 },
    ),
    make.button('Carry to another place', { do: 'routine', routine: elsewhere.id }, { width: 'fill', look: 'plain' }),
  );
}
