import { makeDemo } from '../demo/heatherfield.ts';
import type { Person } from './browser.ts';
import { cableTo } from './cable.ts';
import { releaseApp } from './first-screen.ts';
import { phoneAt } from './phone.ts';
import type { Test } from './stage.ts';

/** Presses “Put in” or “Take out”, types an amount, and waits until it is said what is there now. */
async function move(p: Person, way: 'Put in' | 'Take out', amount: string, now: string): Promise<void> {
  await p.press(way, 'button');
  await p.page.waitForSelector('.k-ask input');
  await p.page.type('.k-ask input', amount);
  await p.press('OK', 'button');
  await p.sees(`There are now ${now} in`, '.k-app');
  await p.page.waitForFunction(() => !document.querySelector('.k-ask'));
}

/** The quantity that a phone shows of the record that is open. */
const sees = (p: Person, quantity: string): Promise<void> => p.sees(`Quantity ${quantity}`, '.k-app');

/** Everything that is at the host of one table, by record. */
export async function atHost(url: string, table: string): Promise<Map<string, Record<string, unknown>>> {
  const found = new Map<string, Record<string, unknown>>();
  let from: number | undefined = 0;
  while (from !== undefined) {
    const answer = await fetch(`${url}/api/apps/stores/changes?since=0&from=${from}`);
    const page = (await answer.json()) as {
      states: { table: string; id: string; cells: Record<string, unknown> }[];
      next?: number;
    };
    for (const s of page.states) if (s.table === table) found.set(s.id, s.cells);
    from = page.next;
  }
  return found;
}

const twoKeepers: Test = {
  name: 'two keepers put in and take out of one stock, one of them without a network: the totals are exact',
  async run(stage) {
    const { app, records } = makeDemo();
    delete app.starts;
    const table = (name: string) => app.tables.find((t) => t.name === name)!;
    const [stock, moves] = [table('Stock'), table('Moves')];
    const field = (t: typeof stock, name: string): string => t.fields.find((f) => f.name === name)!.id;
    const line = records.find((r) => r.table === stock.id)!;
    const there = line.cells[field(stock, 'Quantity')] as number;
    const now = (more: number): string => String(Number((there + more).toFixed(2)));
    const detail = app.screens.find((s) => s.given === stock.id)!;
    await releaseApp(stage.server.url, 'stores', { app, records });

    const cable = await cableTo(stage.server.url);
    const path = `/a/stores/#/${detail.id}/${line.id}`;
    const ann = await phoneAt(stage, cable.url + path, 'Put in');
    const bo = await phoneAt(stage, stage.server.url + path, 'Put in');
    await sees(ann, now(0));
    // What the phone needs for a tap has come before the network goes.
    await move(ann, 'Put in', '1', now(1));
    await sees(bo, now(1));
    await new Promise((r) => setTimeout(r, 1500));

    cable.cut();
    await move(ann, 'Put in', '5.25', now(6.25));
    await ann.sees('Offline');
    await move(ann, 'Take out', '0.1', now(6.15));
    await move(ann, 'Take out', '0.2', now(5.95));
    // Meanwhile the other sees and writes only what has reached the host.
    await move(bo, 'Put in', '2', now(3));
    await move(bo, 'Take out', '0.3', now(2.7));
    await sees(ann, now(5.95));

    cable.mend();
    for (const p of [ann, bo]) await sees(p, now(7.65));
    // One more after that adds to the total of both.
    await move(ann, 'Take out', '0.65', now(7));
    await sees(bo, now(7));
    await cable.close();
    // A phone that opens anew shows the same, and so does the host; the moves explain the total.
    await bo.page.reload();
    await sees(bo, now(7));
    const kept = (await atHost(stage.server.url, stock.id)).get(line.id)!;
    if (kept[field(stock, 'Quantity')] !== there + 7) throw new Error(`The host has ${JSON.stringify(kept)}.`);
    const known = new Set(records.map((r) => r.id));
    const fresh = [...(await atHost(stage.server.url, moves.id))].filter(([id]) => !known.has(id)).map(([, c]) => c);
    const amounts = fresh.map((c) => `${String(c[field(moves, 'Direction')])} ${String(c[field(moves, 'Quantity')])}`);
    if (amounts.sort().join(', ') !== 'in 1, in 2, in 5.25, out 0.1, out 0.2, out 0.3, out 0.65')
      throw new Error(`The moves are ${amounts.join(', ')}.`);
  },
};

export const tests: Test[] = [twoKeepers];
