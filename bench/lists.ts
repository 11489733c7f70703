import { elementKinds } from '../core/screens/kinds.ts';
import '../kinds/elements/list/arranged.ts';
import { ElementMaker } from '../core/app/make.ts';
import type { App } from '../core/app/schema.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import { ScreenCompiler } from '../core/screens/compile.ts';
import { LiveScreen } from '../core/screens/live-screen.ts';
import { fastest, line } from './measure.ts';

const N = 50_000;
const STATES = ['Active', 'Retired', 'Resting', 'Nucleus'];

/** A list put together and filtered, against the same by hand over plain objects. */
export async function listsBench(): Promise<void> {
  const make = new ElementMaker();
  const app: App = hiveApp();
  const list = make.list(T.hives, [make.text('row')], { by: F.status, sum: F.weight, filters: [F.status, F.weight] });
  app.screens = [{ id: 's_bench0000', name: 'Bench', given: null, icon: 'list', root: make.box('down', [list]) }];
  const records = new Records(app);
  const plain = Array.from({ length: N }, (_, i) => ({
    id: `h${i}`,
    cells: { [F.name]: `Hive ${i}`, [F.status]: STATES[i % 4]!, [F.weight]: (i * 7919) % 400 },
  }));
  records.load(T.hives, plain);
  const live = new LiveScreen(new ScreenCompiler(elementKinds, records, app), app.screens[0]!, null);
  const { key } = live.take()!.set.find((n) => n.kind === 'list')!;
  let least = 0;
  const ours = (): void => {
    live.look(key, { filters: { [F.weight]: { from: String(least++ % 50) } } });
    live.take();
  };
  const byHand = (): number => {
    const from = least++ % 50;
    const groups = new Map<string, { sum: number; rows: unknown[] }>();
    const counts = new Map<string, number>();
    for (const r of plain) {
      const [state, weight] = [r.cells[F.status] as string, r.cells[F.weight] as number];
      if (weight < from) continue;
      counts.set(state, (counts.get(state) ?? 0) + 1);
      const g = groups.get(state) ?? { sum: 0, rows: [] };
      g.sum += weight;
      g.rows.push(r);
      groups.set(state, g);
    }
    return groups.size + counts.size;
  };
  line(
    `a filter set on a list of ${N.toLocaleString('en-GB')} under heads with sums, and drawn`,
    fastest(ours),
    'a loop over plain objects with maps',
    fastest(byHand),
    '100 ms to the first rows',
  );
}
