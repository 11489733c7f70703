import type { ElementMaker } from '../core/app/make.ts';
import type { App, Step } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
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
  );
}
