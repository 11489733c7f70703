import { addScreensFor } from '../core/app/screens-for.ts';
import { ElementMaker } from '../core/app/make.ts';
import type { App, Screen } from '../core/app/schema.ts';
import { thisId } from '../core/document/ids.ts';
import { Records } from '../core/records/store.ts';
import { ScreenCompiler } from '../core/screens/compile.ts';
import { LiveScreen } from '../core/screens/live-screen.ts';
import { elementKinds } from '../core/screens/kinds.ts';
import { fastest, format, line } from './measure.ts';
import { fill, stockApp } from './records.ts';

const MANY = 50_000;

/** What a screen costs after a change: engine time alone, against drawing the whole screen again. */
export async function drawingBench(): Promise<void> {
  const app = stockApp();
  app.tables.push({
    id: 't_notes000',
    name: 'Notes',
    one: 'note',
    titleField: null,
    pictureField: null,
    fields: [{ id: 'f_note0000', name: 'Words', type: 'text' }],
  });
  addScreensFor(app, 't_moves000');
  const records = new Records(app);
  fill(records, MANY);
  oneOfManyElements(app, records);
  await longLists(app, records);
}

function open(app: App, records: Records, screen: Screen, record: string | null = null) {
  const compiler = new ScreenCompiler(elementKinds, records, app);
  const live = new LiveScreen(compiler, screen, record);
  live.take();
  const stop = records.subscribe((_, changes) => live.changed(changes));
  return { compiler, live, close: () => (stop(), live.close()) };
}

/** Milliseconds of work and the patch that comes of it. */
const timed = (live: LiveScreen, work: () => void, runs = 30): number =>
  fastest(() => {
    work();
    live.take();
  }, runs);

function oneOfManyElements(app: App, records: Records): void {
  const make = new ElementMaker();
  const me = thisId('t_items000');
  const texts = Array.from({ length: 299 }, (_, i) =>
    make.text(i === 150 ? `{${me}.f_iprice0} each` : `${i}: {${me}.f_icode00} {${me}.f_imoved0}`),
  );
  const screen: Screen = {
    id: 's_bench0000',
    name: 'Bench',
    given: 't_items000',
    icon: 'list',
    root: make.box('down', texts),
  };
  const { live, compiler, close } = open(app, records, screen, 'i1');
  let price = 0;
  const changed = timed(live, () => records.set('t_items000', 'i1', { f_iprice0: ++price }));
  const whole = fastest(() => new LiveScreen(compiler, screen, 'i1').take(), 30);
  line('a screen of 300 elements after one changed record', changed, 'drawing all of it', whole, 'under 2 ms');
  let edited = screen;
  const edit = timed(live, () => {
    const children = [...edited.root.children];
    children[7] = { ...children[7]!, words: `edit ${++price}` } as (typeof children)[number];
    edited = { ...edited, root: { ...edited.root, children } };
    live.adopt(compiler, edited);
  });
  line('the same after an edit of one property', edit, 'drawing all of it', whole, 'under 20 ms');
  close();
}

async function longLists(app: App, records: Records): Promise<void> {
  const make = new ElementMaker();
  const me = thisId('t_moves000');
  const list = (by: string) =>
    make.list('t_moves000', [make.text(`{${me}.f_mcode00} {${me}.f_mworth0}`)], {
      query: {
        table: 't_moves000',
        where: { match: 'all', conditions: [{ left: 'f_mqty000', op: 'over', right: '1' }] },
        order: [{ by, descending: true }],
        limit: null,
      },
      search: true,
    });
  const screen: Screen = {
    id: 's_lists0000',
    name: 'Lists',
    given: null,
    icon: 'list',
    root: make.box('down', [list('f_mqty000'), list('f_mcode00'), list('f_mworth0')]),
  };
  const { live, close } = open(app, records, screen);
  const prepared = performance.now();
  let slices = 0;
  let longest = 0;
  for (let done = false; !done; slices++) {
    const started = performance.now();
    done = live.prepare(started + 4);
    longest = Math.max(longest, performance.now() - started);
  }
  console.log(
    `  three lists over 50,000 records made ready in ${format(performance.now() - prepared)}, in ${slices} slices of idle time, the longest ${format(longest)}`,
  );
  const keys = screen.root.children.map((c) => c.id);
  const sorted = fastest(() => {
    const rows = records.rows('t_moves000').map((r) => [Number(r.cells['f_mqty000']), r] as const);
    rows.sort((a, b) => b[0] - a[0]);
  }, 3);
  let n = 0;
  const other = timed(live, () => records.set('t_notes000', 'one', { f_note0000: `c${++n}` }));
  line('after a change in an unrelated table', other, 'sorting 50,000 records once', sorted, 'under 1 ms');
  const id = records.rows('t_moves000')[25_000]!.id;
  const one = timed(live, () => records.set('t_moves000', id, { f_mqty000: 1 + (++n % 90) }));
  line('after one changed record', one, 'sorting 50,000 records once', sorted, 'under 10 ms');
  let from = 10_000;
  const deep = timed(live, () => {
    from = from === 10_000 ? 40_000 : 10_000;
    live.look(keys[0]!, { from, count: 40 });
  });
  line('a deep place', deep, 'sorting 50,000 records once', sorted, 'under 10 ms');
  const words = ['12', '7', '123', '45', '9'];
  const search = fastest(() => {
    live.look(keys[1]!, { search: words[++n % words.length], from: 0, count: 40 });
    live.take();
  }, 20);
  const texts = records.rows('t_moves000').map((r) => Object.values(r.cells).join(' ').toLowerCase());
  const plain = fastest(() => texts.filter((t) => t.includes('45')), 20);
  line('a search term over 50,000', search, 'filtering as many texts', plain, 'under 60 ms');
  close();
  await Promise.resolve();
}
