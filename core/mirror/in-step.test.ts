import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { appInStep, NAME, PRICE, reply, Trial } from './supplier.fixture.ts';

async function trial(
  goods: [string, number][] = [
    ['Smoker', 30],
    ['Veil', 12.5],
    ['Wax', 8],
    ['Frame', 2],
  ],
): Promise<Trial> {
  const t = new Trial();
  for (const [name, price] of goods) t.supplier.add(name, price);
  await t.start();
  return t;
}

describe('a table that is kept in step with a service', () => {
  it('has all that the service lists, page after page, under its keys', async () => {
    const t = await trial();
    expect(t.here()).toEqual(t.there());
    expect(t.status).toMatchObject({ state: 'in step', from: 'service', sheet: 'Supplier', rows: 4, waiting: 0 });
    // By its key it is found by links.
    expect(t.recordOf('Veil')).toBe('2');
  });

  it('is fetched again after its time, with what was changed, added and removed there', async () => {
    const t = await trial();
    t.supplier.goods.get(1)!.price.amount = 31;
    t.supplier.goods.delete(2);
    t.supplier.add('Hive tool', 9);
    await t.clock.pass(14 * 60_000);
    expect(t.here()).not.toEqual(t.there());
    await t.clock.pass(2 * 60_000);
    expect(t.here()).toEqual(t.there());
  });

  it('tells the service what was changed, added and removed here, soon, and asks for no more than these', async () => {
    const t = await trial();
    t.supplier.asked.length = 0;
    await t.change({ record: '1', cells: { [PRICE]: 29 } });
    await t.change({ record: '2', do: 'remove' });
    await t.change({ record: 'new-one', cells: { [NAME]: 'Brush', [PRICE]: 5 } });
    await t.told();
    expect(t.supplier.asked).toEqual([
      'GET /v1/goods/1',
      'GET /v1/goods/2',
      'DELETE /v1/goods/2',
      'POST /v1/goods',
      'PATCH /v1/goods/1',
    ]);
    expect(t.here()).toEqual(t.there());
    expect(t.there()).toContainEqual([5, 'Brush', 5]);
    // The new one stays the record it was.
    expect(t.recordOf('Brush')).toBe('new-one');
    // What it has written itself is no news.
    t.supplier.asked.length = 0;
    await t.told();
    expect(t.supplier.asked).toEqual([]);
    await t.change({ record: '3', cells: { [PRICE]: 9 } });
    await t.told();
    expect(t.supplier.asked).toEqual(['GET /v1/goods/3', 'PATCH /v1/goods/3']);
    t.supplier.asked.length = 0;
    await t.settled();
    // Nothing more is to be told.
    expect(t.supplier.asked.every((a) => a.startsWith('GET /v1/goods?page='))).toBe(true);
  });

  it('tells records apart by their keys alone, however much they are alike', async () => {
    const t = await trial();
    t.supplier.goods.delete(4);
    t.supplier.add('Frame', 2);
    await t.settled();
    expect(t.recordOf('Frame')).toBe('5');
    expect(t.here()).toEqual(t.there());
  });

  it('keeps what an answer for one does not say, and takes a removal for done that was done there already', async () => {
    const t = await trial();
    t.supplier.fault = (method, path) => {
      if (!path.endsWith('/1')) return null;
      return method === 'GET' ? reply(200, { id: 1, name: 'Smoker' }) : reply(422, { detail: 'Not now.' });
    };
    await t.change({ record: '1', cells: { [NAME]: 'Big smoker' } });
    await t.told();
    expect(t.here()[0]).toEqual([1, 'Big smoker', 30]);
    expect(t.status).toMatchObject({ state: 'open', waiting: 1 });
    t.supplier.fault = (method) => (method === 'DELETE' ? reply(404, {}) : null);
    await t.change({ record: '2', do: 'remove' });
    await t.settled();
    expect(t.status).toMatchObject({ state: 'in step', waiting: 0 });
  });

  it('asks a service without pages no more often than it must, and one that is asked too often later', async () => {
    const t = new Trial();
    t.supplier.pageless = true;
    for (let i = 0; i < 5; i++) t.supplier.add(`Good ${i}`, i);
    await t.start();
    t.supplier.asked.length = 0;
    await t.settled();
    expect(t.supplier.asked).toHaveLength(2);
    expect(t.here()).toEqual(t.there());
    let busy = 2;
    t.supplier.fault = () => (busy-- > 0 ? reply(429, {}) : null);
    t.supplier.goods.delete(1);
    const looked = t.mirror.look();
    await t.clock.pass(60_000);
    await looked;
    expect(t.here()).toEqual(t.there());
  });

  it('asks a service that gave nothing again soon', async () => {
    const t = new Trial(appInStep({ every: 60 }));
    t.supplier.add('Smoker', 30);
    t.supplier.fault = () => reply(500, {});
    await t.start();
    expect(t.status.state).toBe('broken');
    t.supplier.fault = () => null;
    await t.clock.pass(6 * 60_000);
    expect(t.here()).toEqual(t.there());
  });

  it('changes nothing that nobody changed: other fields go their own way', async () => {
    const t = await trial();
    t.supplier.goods.get(1)!.name = 'Large smoker';
    await t.change({ record: '1', cells: { [PRICE]: 29 } });
    await t.told();
    expect(t.there()[0]).toEqual([1, 'Large smoker', 29]);
    expect(t.here()).toEqual(t.there());
    expect(t.status.conflicts).toEqual([]);
  });

  it('lets the value of the service stand where both were changed, and says so; ours can be taken', async () => {
    const t = await trial();
    t.supplier.goods.get(1)!.price.amount = 40;
    await t.change({ record: '1', cells: { [PRICE]: 20 } });
    await t.told();
    expect(t.here()[0]).toEqual([1, 'Smoker', 40]);
    const [conflict] = t.status.conflicts;
    expect(conflict).toMatchObject({
      fieldName: 'Price',
      fileShown: '40',
      appShown: '20',
      kept: 'file',
      title: 'Smoker',
    });
    await t.mirror.settle(conflict!.id, 'other');
    expect(t.there()[0]).toEqual([1, 'Smoker', 20]);
    expect(t.here()).toEqual(t.there());
    expect(t.status.conflicts).toEqual([]);
  });

  it('keeps waiting what the service refuses, says why, and sends it when it is mended', async () => {
    const t = await trial();
    await t.change({ record: 'new-one', cells: { [NAME]: 'refused', [PRICE]: 5 } });
    await t.told();
    expect(t.status).toMatchObject({ state: 'open', waiting: 1 });
    expect(t.status.words).toContain('“refused”');
    expect(t.status.words).toContain('refuse');
    await t.change({ record: 'new-one', cells: { [NAME]: 'taken' } });
    await t.told();
    expect(t.there().at(-1)).toEqual([5, 'taken', 5]);
    expect(t.status).toMatchObject({ state: 'in step', waiting: 0, words: '' });
  });

  it('does not send twice what may have been taken; it is found by itself, or sent when somebody says so', async () => {
    const t = await trial();
    const lost = { failed: { sort: 'cut off' as const, words: 'The answer was cut off.' } };
    // It was taken, and the answer was lost.
    t.supplier.fault = (method) => {
      if (method === 'POST') t.supplier.add('Brush', 5);
      return method === 'POST' ? lost : null;
    };
    await t.change({ record: 'new-one', cells: { [NAME]: 'Brush', [PRICE]: 5 } });
    await t.told();
    expect(t.status.unsure).toEqual([{ record: 'new-one', title: 'Brush' }]);
    await t.settled();
    expect(t.status.unsure).toEqual([]);
    expect(t.here()).toEqual(t.there());
    expect(t.recordOf('Brush')).toBe('new-one');

    // It was not taken.
    t.supplier.fault = (method) => (method === 'POST' ? lost : null);
    await t.change({ record: 'other-one', cells: { [NAME]: 'Knife', [PRICE]: 7 } });
    await t.told();
    t.supplier.fault = () => null;
    await t.settled();
    expect(t.there()).toHaveLength(5);
    expect(t.status.unsure).toHaveLength(1);
    await t.mirror.sendAgain('other-one');
    expect(t.again).toEqual(['add-other-one']);
    expect(t.here()).toEqual(t.there());
    expect(t.status).toMatchObject({ unsure: [], state: 'in step' });
  });

  it('keeps what it has when the service is away, and when much of it vanishes', async () => {
    const t = await trial(Array.from({ length: 20 }, (_, i): [string, number] => [`Good ${i}`, i]));
    t.supplier.fault = () => ({ failed: { sort: 'too slow', words: 'It took too long.' } });
    await t.settled();
    expect(t.status.state).toBe('broken');
    expect(t.here()).toHaveLength(20);
    t.supplier.fault = () => null;
    for (let i = 1; i <= 15; i++) t.supplier.goods.delete(i);
    await t.settled();
    expect(t.status.state).toBe('held');
    expect(t.here()).toHaveLength(20);
    await t.mirror.settleHeld('write again');
    expect(t.there()).toHaveLength(20);
    expect(t.here()).toEqual(t.there());
    for (const id of [...t.supplier.goods.keys()].slice(0, 15)) t.supplier.goods.delete(id);
    await t.settled();
    await t.mirror.settleHeld('remove');
    expect(t.here()).toHaveLength(5);
    expect(t.here()).toEqual(t.there());
  });

  it('takes an empty list for a fault until somebody says so, unless there was next to nothing', async () => {
    const t = await trial();
    const all = [...t.supplier.goods];
    t.supplier.goods.clear();
    await t.settled();
    expect(t.status.state).toBe('held');
    expect(t.here()).toHaveLength(4);
    for (const [id, good] of all) t.supplier.goods.set(id, good);
    await t.settled();
    expect(t.status.state).toBe('in step');
    t.supplier.goods.delete(1);
    t.supplier.goods.delete(2);
    await t.settled();
    expect(t.here()).toEqual(t.there());
    expect(t.here()).toHaveLength(2);
    t.supplier.goods.clear();
    await t.settled();
    expect(t.here()).toEqual([]);
  });

  it('takes back what the service does not take: a locked value, a removal', async () => {
    const t = new Trial(appInStep({ changes: undefined, removes: undefined, adds: undefined }));
    t.supplier.add('Smoker', 30);
    await t.start();
    await t.change({ record: '1', cells: { [PRICE]: 1 } });
    await t.settled();
    expect(t.here()).toEqual([[1, 'Smoker', 30]]);
    expect(t.status.conflicts).toHaveLength(1);
    await t.change({ record: '1', do: 'remove' });
    await t.settled();
    expect(t.here()).toEqual([[1, 'Smoker', 30]]);
    await t.change({ record: 'mine', cells: { [NAME]: 'Mine' } });
    await t.settled();
    expect(t.status.misfits).toEqual(['One record is here alone: the service is given no new ones.']);
    expect(t.here()).toHaveLength(2);
    expect(t.there()).toHaveLength(1);
  });

  it('goes on after the host was started anew, and tells what was changed while nobody listened', async () => {
    const t = await trial();
    await t.inStep.close();
    await t.change({ record: '1', cells: { [PRICE]: 29 } });
    await t.change({ record: '3', do: 'remove' });
    t.supplier.goods.get(4)!.name = 'Deep frame';
    await t.start();
    expect(t.here()).toEqual(t.there());
    expect(t.there().map(([id]) => id)).toEqual([1, 2, 4]);
    expect(t.there()[0]![2]).toBe(29);
  });

  it('keeps no table in step that a newer release does not', async () => {
    const t = await trial();
    t.app = { ...t.app, tables: t.app.tables.map(({ inStep: _inStep, ...table }) => table) };
    t.inStep.fit();
    expect(t.inStep.any).toBe(false);
    t.supplier.goods.delete(1);
    await t.clock.pass(60 * 60_000);
    expect(t.here()).toHaveLength(4);
  });

  it('whatever is changed on either side, in whatever order, both say the same in the end, and nothing that only one side changed is lost', async () => {
    const act = fc.record({
      side: fc.constantFrom('here', 'there'),
      what: fc.constantFrom('name', 'price', 'empty', 'add', 'remove', 'look', 'tell'),
      at: fc.nat(5),
      value: fc.integer({ min: 1, max: 99 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 14 }), async (acts) => {
        const t = await trial();
        let n = 0;
        for (const { side, what, at, value } of acts) {
          if (what === 'look') await t.settled();
          else if (what === 'tell') await t.told();
          else if (side === 'there') {
            const good = [...t.supplier.goods.values()][at];
            if (what === 'add') t.supplier.add(`There ${value} ${n++}`, value);
            else if (!good) continue;
            else if (what === 'remove') t.supplier.goods.delete(good.id);
            else if (what === 'name') good.name = `Named ${value}`;
            else good.price.amount = what === 'empty' ? null : value;
          } else {
            const row = t.host.replica.records.rows('t_goods00000')[at];
            if (what === 'add')
              await t.change({ record: `r${n++}-new`, cells: { [NAME]: `Here ${value}`, [PRICE]: value } });
            else if (!row) continue;
            else if (what === 'remove') await t.change({ record: row.id, do: 'remove' });
            else if (what === 'name') await t.change({ record: row.id, cells: { [NAME]: `Called ${value}` } });
            else await t.change({ record: row.id, cells: { [PRICE]: what === 'empty' ? null : value } });
          }
        }
        await t.settled();
        await t.settled();
        expect(t.here()).toEqual(t.there());
        expect(t.status).toMatchObject({ state: 'in step', waiting: 0, unsure: [] });
        expect(t.here().every(([key]) => typeof key === 'number')).toBe(true);
        await t.inStep.close();
      }),
      { numRuns: 60 },
    );
  });

  it('a value that only one side changed reaches the other', async () => {
    const value = fc.record({
      at: fc.nat(3),
      name: fc.constantFrom('A', 'B', 'C'),
      price: fc.integer({ min: 100, max: 200 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(value, { maxLength: 6 }), fc.array(value, { maxLength: 6 }), async (here, there) => {
        const t = await trial();
        const names = new Map<number, string>();
        const prices = new Map<number, number>();
        // Names are changed here, prices there: never the same value.
        for (const { at, name } of here) {
          await t.change({ record: String(at + 1), cells: { [NAME]: name } });
          names.set(at + 1, name);
        }
        for (const { at, price } of there) {
          t.supplier.goods.get(at + 1)!.price.amount = price;
          prices.set(at + 1, price);
        }
        await t.told();
        await t.settled();
        for (const rows of [t.here(), t.there()])
          for (const [key, name, price] of rows) {
            if (names.has(Number(key))) expect(name).toBe(names.get(Number(key)));
            if (prices.has(Number(key))) expect(price).toBe(prices.get(Number(key)));
          }
        expect(t.status.conflicts).toEqual([]);
        await t.inStep.close();
      }),
      { numRuns: 40 },
    );
  });
});

it('a value that was changed here while it was being sent is not put back', async () => {
  const t = await trial();
  const send = t.supplier.send;
  t.supplier.send = async (asked) => {
    const came = await send(asked);
    if (asked.filled.method === 'PATCH' && t.here()[0]![2] === 29)
      await t.change({ record: '1', cells: { [PRICE]: 28 } });
    return came;
  };
  await t.change({ record: '1', cells: { [PRICE]: 29 } });
  await t.told();
  expect(t.here()[0]).toEqual([1, 'Smoker', 28]);
  await t.told();
  expect(t.there()[0]).toEqual([1, 'Smoker', 28]);
});
