import { mkdtemp, open, readFile, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { stampText } from '../core/host/clock.ts';
import type { Change, RecordState } from '../core/records/change.ts';
import { F, T } from '../core/records/fixture.ts';
import { linesOf } from './lines.ts';
import type { HostSnapshot } from '../core/host/host.ts';
import { RecordsLog, type LogFile, type OpenFile } from './records-log.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-log-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

let n = 0;
const change = (name = `Hive ${n}`): Change => ({
  id: `c${++n}`,
  stamp: stampText(1_700_000_000_000 + n, 0, 'test'),
  table: T.hives,
  record: `h${n}`,
  do: 'set',
  cells: { [F.name]: name },
});
const stateOf = (c: Change): RecordState => ({
  table: c.table,
  id: c.record,
  stamp: c.stamp,
  cells: c.do === 'set' ? c.cells : {},
});
const names = async (): Promise<string[]> => (await readdir(folder)).filter((n) => n !== 'past').sort();
const segment = (start: number): string => join(folder, `changes-${String(start).padStart(15, '0')}.jsonl`);
const reopened = async () => {
  const { log, kept } = await RecordsLog.open(folder);
  await log.close();
  return kept;
};

/** A disk that takes so many bytes more. Like a real one it may take the first half of what is written. */
function smallDisk() {
  const disk = { room: Infinity, truncates: true };
  const opens: OpenFile = async (path) => {
    const file = await open(path, 'r+').catch(() => open(path, 'w+'));
    const full = (): never => {
      throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
    };
    return {
      write: (async (bytes: Buffer, from: number, length: number, at: number) => {
        if (disk.room <= 0) full();
        const part = Math.min(length, disk.room);
        disk.room -= part;
        return file.write(bytes, from, part, at);
      }) as LogFile['write'],
      truncate: async (size?: number) => (disk.truncates ? file.truncate(size) : full()),
      datasync: () => file.datasync(),
      close: () => file.close(),
    };
  };
  return { disk, opens };
}

describe('a log', () => {
  it('gives back what was appended, in its order, and goes on', async () => {
    const made = [change(), change('with\nlines “and” marks'), change()];
    const { log } = await RecordsLog.open(folder);
    await log.append(made.slice(0, 2));
    await log.append(made.slice(2));
    await log.close();
    expect(await reopened()).toEqual({
      at: 3,
      states: [],
      changes: made,
      known: [],
      forgotten: '',
      runChanges: [],
      damage: [],
    });
    const again = await RecordsLog.open(folder);
    const more = change();
    await again.log.append([more]);
    await again.log.close();
    expect((await reopened()).changes).toEqual([...made, more]);
  });
  it('takes changes that are larger than what is written at once', async () => {
    const large = [change('a'.repeat(900_000)), change('b'.repeat(900_000)), change('c'.repeat(900_000)), change('ü')];
    const { log } = await RecordsLog.open(folder);
    await log.append(large);
    await log.close();
    expect((await reopened()).changes).toEqual(large);
  });
});

describe('a full disk', () => {
  it('leaves the log as it was; what comes when there is room again stands behind it', async () => {
    const { disk, opens } = smallDisk();
    const { log } = await RecordsLog.open(folder, opens);
    const [first, refused, after] = [change(), change('x'.repeat(500)), change()];
    await log.append([first]);
    disk.room = 120;
    await expect(log.append([refused])).rejects.toThrow('no space');
    disk.room = Infinity;
    await log.append([after]);
    await log.close();
    expect(await reopened()).toMatchObject({ at: 2, changes: [first, after], damage: [] });
  });
  it('leaves no whole line of what was refused, even when the server goes out at once', async () => {
    const { disk, opens } = smallDisk();
    const { log } = await RecordsLog.open(folder, opens);
    const [first, a, b] = [change(), change('a'), change('x'.repeat(2000))];
    await log.append([first]);
    // The first of two fits, the second does not.
    disk.room = 400;
    await expect(log.append([a, b])).rejects.toThrow('no space');
    expect((await reopened()).changes).toEqual([first]);
    await log.close();
  });
  it('that cannot even be cut back takes nothing more until it can', async () => {
    const { disk, opens } = smallDisk();
    const { log } = await RecordsLog.open(folder, opens);
    const [first, refused, after] = [change(), change('x'.repeat(500)), change('short')];
    await log.append([first]);
    disk.room = 120;
    disk.truncates = false;
    await expect(log.append([refused])).rejects.toThrow('no space');
    disk.room = Infinity;
    await expect(log.append([after])).rejects.toThrow('no space');
    disk.truncates = true;
    await log.append([after]);
    await log.close();
    expect((await reopened()).changes).toEqual([first, after]);
  });
  it('keeps what was acknowledged and nothing else, whenever it fills up (property)', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ size: fc.nat(300), room: fc.option(fc.nat(400)) }), { maxLength: 12 }),
        async (steps) => {
          await rm(folder, { recursive: true, force: true });
          folder = await mkdtemp(join(tmpdir(), 'kite-log-'));
          const { disk, opens } = smallDisk();
          const { log } = await RecordsLog.open(folder, opens);
          const acknowledged: Change[] = [];
          for (const { size, room } of steps) {
            const c = change('x'.repeat(size));
            disk.room = room ?? Infinity;
            await log.append([c]).then(
              () => acknowledged.push(c),
              () => undefined,
            );
          }
          await log.close();
          expect(await reopened()).toMatchObject({ changes: acknowledged, damage: [] });
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('damage', () => {
  it('at the end, where a crash cut a line off, goes', async () => {
    const [a, b] = [change(), change()];
    // Shorter than what is written next, and longer: nothing of it stays behind that.
    for (const half of ['{"id":"half","sta', `{"id":"half","cells":{"f_name000":"${'x'.repeat(3000)}`]) {
      await writeFile(segment(0), `${JSON.stringify(a)}\n${half}`);
      const { log, kept } = await RecordsLog.open(folder);
      expect(kept).toMatchObject({ changes: [a], damage: [] });
      await log.append([b]);
      await log.close();
      expect(await reopened()).toMatchObject({ changes: [a, b], damage: [] });
    }
  });
  it('elsewhere is set aside with its bytes, once, and said; the rest opens', async () => {
    const [a, b] = [change(), change()];
    const rubbish = Buffer.from([0x7b, 0xff, 0x00, 0x22, 0x41]);
    await writeFile(
      segment(0),
      Buffer.concat([
        Buffer.from(`${JSON.stringify(a)}\n`),
        rubbish,
        Buffer.from(`\n\n{"id":1}\n${JSON.stringify(b)}\n`),
      ]),
    );
    for (let i = 0; i < 2; i++) {
      const kept = await reopened();
      expect(kept.changes).toEqual([a, b]);
      expect(kept.damage).toHaveLength(2);
      expect(kept.damage[0]).toMatch(/^changes-0{15}\.jsonl, byte \d+: 5 bytes are no line of records/);
    }
    expect(await readFile(join(folder, 'damaged-lines.txt'))).toEqual(
      Buffer.concat([rubbish, Buffer.from('\n{"id":1}\n')]),
    );
  });
  it('in front of a whole change on the same line loses the half, not the whole', async () => {
    const [a, b, half] = [change(), change(), JSON.stringify(change('half of it'))];
    await writeFile(segment(0), `${JSON.stringify(a)}\n${half.slice(0, 90)}${JSON.stringify(b)}\n`);
    expect((await reopened()).changes).toEqual([a, b]);
  });
  it('of a snapshot costs the damaged records alone', async () => {
    const [a, b] = [change(), change()];
    await writeFile(
      join(folder, 'records.jsonl'),
      `${JSON.stringify({ at: 9 })}\n${JSON.stringify(stateOf(a))}\n{"table":\n${JSON.stringify(stateOf(b))}\n`,
    );
    const kept = await reopened();
    expect([kept.at, kept.states, kept.damage.length]).toEqual([9, [stateOf(a), stateOf(b)], 1]);
  });
});

const whole = (states: RecordState[]): HostSnapshot => ({ states, known: [], forgotten: '', runChanges: [] });

describe('a snapshot', () => {
  it('lets go of the changes before it, and keeps those that came meanwhile', async () => {
    const { log } = await RecordsLog.open(folder);
    const [a, b, c] = [change(), change(), change()];
    await log.append([a, b]);
    await log.turn(2);
    const folding = log.fold(whole([stateOf(a), stateOf(b)]));
    await log.append([c]);
    await folding;
    await log.close();
    expect(await names()).toEqual(['changes-000000000000002.jsonl', 'records.jsonl']);
    expect(await reopened()).toEqual({
      at: 3,
      states: [stateOf(a), stateOf(b)],
      changes: [c],
      known: [],
      forgotten: '',
      runChanges: [],
      damage: [],
    });
  });
  it('remembers which changes were corrected', async () => {
    const { log } = await RecordsLog.open(folder);
    await log.append([change()]);
    await log.turn(1);
    await log.fold({
      states: [],
      known: [
        ['c1', 's1'],
        ['c2', 's2'],
      ],
      forgotten: 's0',
      runChanges: [],
    });
    await log.close();
    const { known, forgotten } = await reopened();
    expect([known, forgotten]).toEqual([
      [
        ['c1', 's1'],
        ['c2', 's2'],
      ],
      's0',
    ]);
  });
  it('of before, with the ids of corrected changes alone, still opens', async () => {
    await writeFile(join(folder, 'records.jsonl'), '{"at":3,"late":["c1"]}\n');
    expect((await reopened()).known).toEqual([['c1', '']]);
  });
  it('that was not finished is not missed', async () => {
    const { log } = await RecordsLog.open(folder);
    const [a, b] = [change(), change()];
    await log.append([a]);
    await log.turn(1);
    await log.append([b]);
    await log.close();
    await writeFile(join(folder, 'records.jsonl.part'), '{"at":1}\n{"tab');
    expect(await reopened()).toMatchObject({ at: 2, states: [], changes: [a, b] });
  });
  it('whose old segments a crash left behind does not read them again', async () => {
    const [a, b] = [change(), change()];
    await writeFile(join(folder, 'records.jsonl'), `${JSON.stringify({ at: 1 })}\n${JSON.stringify(stateOf(a))}\n`);
    await writeFile(segment(0), `${JSON.stringify(a)}\n`);
    await writeFile(segment(1), `${JSON.stringify(b)}\n`);
    expect(await reopened()).toEqual({
      at: 2,
      states: [stateOf(a)],
      changes: [b],
      known: [],
      forgotten: '',
      runChanges: [],
      damage: [],
    });
    expect(await names()).toEqual(['changes-000000000000001.jsonl', 'records.jsonl']);
  });
  it('is due when the log has grown as long as the last one', async () => {
    const { log } = await RecordsLog.open(folder);
    await log.append([change('x'.repeat(100))]);
    expect(log.isLong).toBe(false);
    const large = Array.from({ length: 6 }, () => change('x'.repeat(800_000)));
    await log.append(large);
    expect(log.isLong).toBe(true);
    await log.turn(7);
    const folding = log.fold(whole(large.map(stateOf)));
    expect(log.isLong).toBe(false);
    await folding;
    await log.append(large.slice(0, 5));
    expect(log.isLong).toBe(false);
    await log.append(large.slice(0, 2));
    expect(log.isLong).toBe(true);
    await log.close();
  });
  it('that cannot be written leaves what there is', async () => {
    const { log } = await RecordsLog.open(folder);
    const a = change();
    await log.append([a]);
    await log.turn(1);
    const bad = {
      ...stateOf(a),
      toJSON: () => {
        throw new Error('cannot be written');
      },
    };
    await expect(log.fold(whole([bad]))).rejects.toThrow('cannot be written');
    await log.close();
    expect(await names()).not.toContain('records.jsonl.part');
    expect((await reopened()).changes).toEqual([a]);
  });
});

it('records kept as before come in, and are written anew with the next snapshot', async () => {
  const [a, b] = [change(), change()];
  await writeFile(join(folder, 'records.json'), JSON.stringify({ at: 5, states: [stateOf(a)] }));
  await writeFile(join(folder, 'changes.jsonl'), `${JSON.stringify(b)}\n`);
  const { log, kept } = await RecordsLog.open(folder);
  expect(kept).toEqual({
    at: 6,
    states: [stateOf(a)],
    changes: [b],
    known: [],
    forgotten: '',
    runChanges: [],
    damage: [],
  });
  const c = change();
  await log.append([c]);
  await log.close();
  const again = await RecordsLog.open(folder);
  expect(again.kept).toEqual({
    at: 7,
    states: [stateOf(a)],
    changes: [b, c],
    known: [],
    forgotten: '',
    runChanges: [],
    damage: [],
  });
  await again.log.turn(7);
  await again.log.fold(whole([a, b, c].map(stateOf)));
  await again.log.close();
  expect(await names()).toEqual(['changes-000000000000007.jsonl', 'records.jsonl']);
  expect(await reopened()).toEqual({
    at: 7,
    states: [a, b, c].map(stateOf),
    changes: [],
    known: [],
    forgotten: '',
    runChanges: [],
    damage: [],
  });
});

describe('lines of a file', () => {
  it('are what splitting gives, wherever the parts of the file end (property)', async () => {
    const path = join(folder, 'lines.txt');
    await fc.assert(
      fc.asyncProperty(fc.array(fc.string({ unit: 'grapheme', maxLength: 20 })), fc.boolean(), async (texts, ended) => {
        const lines = texts.map((t) => t.replace(/\n/g, ' '));
        const text = lines.join('\n') + (ended && lines.length ? '\n' : '');
        await writeFile(path, text);
        const read: string[] = [];
        let at = 0;
        for await (const l of linesOf(path)) {
          expect(l.from).toBe(at);
          at += l.bytes.length + (l.ended ? 1 : 0);
          read.push(l.bytes.toString('utf8') + (l.ended ? '\n' : ''));
        }
        expect(read.join('')).toBe(text);
        expect(at).toBe((await stat(path)).size);
      }),
      { numRuns: 50 },
    );
    for await (const l of linesOf(join(folder, 'nothing'))) throw new Error(`There is no ${l.from}`);
  });
});

describe('the changes of one record', () => {
  /** So many changes of three records, one after the other. */
  const several = (count: number): Change[] =>
    Array.from({ length: count }, (_, i) => ({ ...change(), record: ['heath', 'heath2', 'moor'][i % 3]! }));
  const folded = async (log: RecordsLog, at: number, states: RecordState[] = []): Promise<void> => {
    await log.turn(at);
    await log.fold({ states, known: [], forgotten: '', runChanges: [] });
  };

  it('are all that were ever kept, whatever was folded since, and after the log is opened again', async () => {
    const made = several(30);
    const own = made.filter((c) => c.record === 'heath');
    const { log } = await RecordsLog.open(folder);
    await log.append(made.slice(0, 10));
    await folded(log, 10);
    await log.append(made.slice(10, 20));
    await folded(log, 20);
    await log.append(made.slice(20));
    expect(await log.changesOf('heath')).toEqual(own);
    expect(await log.changesOf('nobody')).toEqual([]);
    await log.close();
    const again = await RecordsLog.open(folder);
    expect(again.kept.changes).toEqual(made.slice(20));
    expect(await again.log.changesOf('heath')).toEqual(own);
    await again.log.close();
  });
  it('are found while the log is folded', async () => {
    const made = several(3000);
    const { log } = await RecordsLog.open(folder);
    const looks: Promise<Change[]>[] = [];
    for (let i = 0; i < 3000; i += 300) {
      await log.append(made.slice(i, i + 300));
      looks.push(log.changesOf('heath'));
      await log.turn(i + 300);
      const folding = log.fold({ states: [], known: [], forgotten: '', runChanges: [] });
      looks.push(log.changesOf('heath'));
      await folding;
    }
    const own = made.filter((c) => c.record === 'heath');
    for (const [i, found] of (await Promise.all(looks)).entries()) {
      // Others may have come meanwhile; none is missing, and none is there twice.
      const least = (Math.floor(i / 2) + 1) * 100;
      expect(found).toEqual(own.slice(0, found.length));
      expect(found.length).toBeGreaterThanOrEqual(least);
    }
    await log.close();
  });
  it('leave out what never was acknowledged', async () => {
    const { disk, opens } = smallDisk();
    const { log } = await RecordsLog.open(folder, opens);
    const [first, second] = [
      { ...change(), record: 'heath' },
      { ...change(), record: 'heath' },
    ];
    await log.append([first]);
    disk.room = JSON.stringify(second).length + 20;
    disk.truncates = false;
    await expect(log.append([second, { ...change('x'.repeat(500)), record: 'heath' }])).rejects.toThrow('no space');
    expect(await log.changesOf('heath')).toEqual([first]);
    await log.close();
  });
  it('of an app from before begin with what its records were then', async () => {
    const [first, second] = [
      { ...change('Heath'), record: 'heath' },
      { ...change('Heather'), record: 'heath' },
    ];
    await writeFile(
      join(folder, 'records.jsonl'),
      `${JSON.stringify({ at: 1, known: [], forgotten: '' })}\n${JSON.stringify(stateOf(first))}\n`,
    );
    const { log } = await RecordsLog.open(folder);
    await log.append([second]);
    const found = await log.changesOf('heath');
    expect(found).toMatchObject([{ do: 'set', stamp: first.stamp, cells: { [F.name]: 'Heath' } }, second]);
    await folded(log, 2, [stateOf(second)]);
    expect(await log.changesOf('heath')).toEqual(found);
    await log.close();
  });
});
