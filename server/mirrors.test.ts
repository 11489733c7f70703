import { mkdir, mkdtemp, readFile, rename, rm, stat, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ExcelJS from 'exceljs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { OWNER } from '../core/access/access.ts';
import type { Change } from '../core/records/change.ts';
import { stampText } from '../core/host/clock.ts';
import { Host } from '../core/host/host.ts';
import type { MirrorStatus } from '../core/mirror/state.ts';
import { F, T, hiveApp } from '../core/records/fixture.ts';
import { Mirrors } from '../core/mirror/mirrors.ts';
import { isFileName } from '../core/mirror/sheets.ts';
import { deviceClock } from '../core/document/time.ts';
import { TextFile } from './text-file.ts';
import { OwnSheets, SheetOwners } from './sheet-owners.ts';
import { SheetsFolder } from './sheets-folder.ts';

const CSV = 'Tag code;Name;Weight;Colour\r\nHB-1;Bramble;14,5;red\r\nHB-2;Clover;9,0;blue\r\n';
let folder: string;
let sheets: string;
let host: Host;
let mirrors: Mirrors;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-mirror-'));
  sheets = join(folder, 'sheets');
  await mkdir(sheets);
  await writeFile(join(sheets, 'hives.csv'), CSV);
  host = new Host(hiveApp(), { append: async () => {} });
  mirrors = await open();
});
afterEach(async () => {
  await mirrors.close();
  await rm(folder, { recursive: true, force: true });
});

async function open(): Promise<Mirrors> {
  const app = hiveApp();
  const owners = new SheetOwners(join(folder, 'data', 'sheet-owners.json'), ['*']);
  await owners.load();
  const own = new OwnSheets(
    new SheetsFolder(sheets),
    owners.of(() => 'somebody'),
  );
  const m = new Mirrors(new TextFile(join(folder, 'data', 'mirrors.json')), () => app, host, own, deviceClock);
  await m.start();
  return m;
}
const begin = (more = {}): Promise<MirrorStatus> =>
  mirrors.add(T.hives, { file: 'hives.csv', sheet: null, first: 'file', create: false, ...more });
/** Two looks: a file is read when it stood still between them. */
const look = async (): Promise<MirrorStatus> => {
  const m = mirrors.get(T.hives);
  await m.look();
  await m.look();
  return m.now;
};
const onDisk = (name = 'hives.csv'): Promise<string> => readFile(join(sheets, name), 'utf8');
const put = (text: string, name = 'hives.csv'): Promise<void> => writeFile(join(sheets, name), text);
let n = 0;
const inApp = async (change: Partial<Change> & { record: string }, ms = Date.now()): Promise<void> => {
  const full = { do: 'set', table: T.hives, id: `t${n}`, stamp: stampText(ms, n++, 'test'), cells: {}, ...change };
  const receipt = await host.accept([full as Change], OWNER);
  expect(receipt.refused).toEqual([]);
};
const hives = (): [string, unknown][] => host.replica.records.rows(T.hives).map((r) => [r.title(), r.get('Weight')]);
const idOf = (name: string): string => host.replica.records.rows(T.hives).find((r) => r.title() === name)!.id;

describe('a mirrored table', () => {
  it('brings the rows of the file in, and follows both sides', async () => {
    expect(await begin()).toMatchObject({ state: 'in step', rows: 2 });
    expect(hives()).toEqual([
      ['Bramble', 14.5],
      ['Clover', 9],
    ]);
    await put(CSV.replace('9,0', '10,25'));
    expect((await look()).state).toBe('in step');
    expect(hives()[1]).toEqual(['Clover', 10.25]);
    await inApp({ record: idOf('Bramble'), cells: { [F.weight]: 15 } });
    await look();
    expect(await onDisk()).toBe(CSV.replace('9,0', '10,25').replace('14,5', '15'));
  });
  it('does all that by itself within two seconds', async () => {
    await begin();
    await put(CSV.replace('Clover', 'Fern'));
    const until = Date.now() + 2000;
    while (hives()[1]![0] !== 'Fern' && Date.now() < until) await new Promise((r) => setTimeout(r, 50));
    expect(hives()[1]![0]).toBe('Fern');
    await inApp({ record: idOf('Fern'), cells: { [F.name]: 'Sorrel' } });
    while (!(await onDisk()).includes('Sorrel') && Date.now() < until + 2000)
      await new Promise((r) => setTimeout(r, 50));
    expect(await onDisk()).toContain('HB-2;Sorrel;9,0;blue');
  });
  it('two edits of one cell: the later stands, and the other can be taken', async () => {
    await begin();
    const bramble = idOf('Bramble');
    await inApp({ record: bramble, cells: { [F.weight]: 20 } });
    await put(CSV.replace('14,5', '30'));
    await utimes(join(sheets, 'hives.csv'), new Date(), new Date(Date.now() + 5000));
    const status = await look();
    expect(status.conflicts).toMatchObject([
      { title: 'Bramble', fieldName: 'Weight', file: 30, app: 20, kept: 'file' },
    ]);
    expect(hives()[0]).toEqual(['Bramble', 30]);
    await mirrors.get(T.hives).settle(status.conflicts[0]!.id, 'other');
    await look();
    expect(hives()[0]).toEqual(['Bramble', 20]);
    expect(await onDisk()).toContain('HB-1;Bramble;20;red');
    expect(mirrors.get(T.hives).now.conflicts).toEqual([]);
  });
  it('the app wins when its edit is the later one', async () => {
    await begin();
    await put(CSV.replace('14,5', '30'));
    await utimes(join(sheets, 'hives.csv'), new Date(), new Date(Date.now() - 60_000));
    await inApp({ record: idOf('Bramble'), cells: { [F.weight]: 20 } });
    expect((await look()).conflicts[0]).toMatchObject({ kept: 'app' });
    expect(await onDisk()).toContain('HB-1;Bramble;20;red');
  });
  it('waits while another program holds the file, and writes when it lets go', async () => {
    await begin();
    await put('', '.~lock.hives.csv#').catch(() => undefined);
    await writeFile(join(sheets, '.~lock.hives.csv#'), 'someone');
    await inApp({ record: idOf('Bramble'), cells: { [F.weight]: 16 } });
    expect(await look()).toMatchObject({ state: 'open', waiting: 1 });
    expect(await onDisk()).toBe(CSV);
    await put(CSV.replace('Clover', 'Fern')); // what is saved there comes in all the same
    await look();
    expect(hives()).toEqual([
      ['Bramble', 16],
      ['Fern', 9],
    ]);
    await rm(join(sheets, '.~lock.hives.csv#'));
    expect(await look()).toMatchObject({ state: 'in step', waiting: 0 });
    expect(await onDisk()).toBe(CSV.replace('Clover', 'Fern').replace('14,5', '16'));
  });
  it.each([
    ['half written', 'Tag code;Na', /not in “hives.csv” any more/],
    ['emptied', '', /is empty/],
    ['without a column', CSV.replace('Weight', 'Kilos'), /column “Weight”/],
  ])('a file %s changes nothing in the app and says why', async (_what, text, why) => {
    await begin();
    await put(text);
    const status = await look();
    expect(status.state).toBe('broken');
    expect(status.words).toMatch(why);
    expect(hives()).toHaveLength(2);
    await inApp({ record: idOf('Bramble'), cells: { [F.weight]: 16 } });
    await put(CSV);
    expect((await look()).state).toBe('in step');
    expect(await onDisk()).toContain('HB-1;Bramble;16;red');
  });
  it('a file that is gone takes nothing along, and comes back with what people did meanwhile', async () => {
    await begin();
    await rm(join(sheets, 'hives.csv'));
    expect(await look()).toMatchObject({ state: 'gone' });
    await inApp({ record: idOf('Clover'), cells: { [F.weight]: 11 } });
    expect(hives()).toHaveLength(2);
    await put(CSV);
    expect(await look()).toMatchObject({ state: 'in step' });
    expect(await onDisk()).toContain('HB-2;Clover;11;blue');
  });
  it('a renamed file is found and followed when the maker says so', async () => {
    await begin();
    await rename(join(sheets, 'hives.csv'), join(sheets, 'hives 2026.csv'));
    expect(await look()).toMatchObject({ state: 'renamed', renamedTo: 'hives 2026.csv' });
    await mirrors.get(T.hives).follow();
    expect(mirrors.get(T.hives).now).toMatchObject({ state: 'in step', file: 'hives 2026.csv' });
  });
  it('many vanished rows wait for a person', async () => {
    const many = `Tag code;Name\n${Array.from({ length: 30 }, (_, i) => `HB-${i};Hive ${i}`).join('\n')}\n`;
    await put(many);
    await begin();
    await put(many.split('\n').slice(0, 6).join('\n'));
    expect(await look()).toMatchObject({ state: 'held' });
    expect(hives()).toHaveLength(30);
    await mirrors.get(T.hives).settleHeld('write again');
    expect((await look()).state).toBe('in step');
    expect((await onDisk()).split('\n').filter(Boolean)).toHaveLength(31);
    await put(many.split('\n').slice(0, 6).join('\n'));
    expect(await look()).toMatchObject({ state: 'held' });
    await mirrors.get(T.hives).settleHeld('remove');
    await look();
    expect(hives()).toHaveLength(5);
  });
  it('goes on after a restart where it was', async () => {
    await begin();
    const bramble = idOf('Bramble');
    await mirrors.close();
    await put(CSV.replace('Clover', 'Fern'));
    await inApp({ record: bramble, cells: { [F.weight]: 21 } });
    mirrors = await open();
    await look();
    expect(hives()).toEqual([
      ['Bramble', 21],
      ['Fern', 9],
    ]);
    expect(await onDisk()).toBe(CSV.replace('Clover', 'Fern').replace('14,5', '21'));
  });
  it('says which cells the app does not take', async () => {
    await begin();
    await put(CSV.replace('14,5', 'heavy'));
    expect((await look()).misfits).toEqual(['Line 2: “heavy” does not fit Weight.']);
    expect(hives()[0]).toEqual(['Bramble', 14.5]);
    expect(await onDisk()).toContain('heavy');
  });
  it('makes a new file of a table, as CSV or as a workbook', async () => {
    await inApp({ record: 'h1', cells: { [F.name]: 'Bramble', [F.weight]: 14.5 } });
    expect(await begin({ file: 'new.csv', create: true })).toMatchObject({ state: 'in step' });
    expect(await onDisk('new.csv')).toContain('Bramble');
    await mirrors.stop(T.hives);
    expect(await begin({ file: 'new.xlsx', create: true })).toMatchObject({ state: 'in step', rows: 1 });
    await inApp({ record: 'h1', cells: { [F.weight]: 20 } });
    await look();
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await readFile(join(sheets, 'new.xlsx'))) as never);
    const ws = book.worksheets[0]!;
    const weight = ws.getRow(1).values as string[];
    expect(ws.getRow(2).getCell(weight.indexOf('Weight')).value).toBe(20);
    await expect(begin({ file: 'new.csv', create: true })).rejects.toThrow(/already/);
  });
  it('keeps to plain files of its folder', async () => {
    for (const name of ['../apps.csv', '/etc/x.csv', '.hidden.csv', 'x.exe', 'a\0.csv', '~$x.xlsx'])
      expect(isFileName(name)).toBe(false);
    await expect(begin({ file: '../secret.csv' })).rejects.toThrow(/no name/);
    await expect(begin({ file: 'other.csv' })).rejects.toThrow(/not in the sheets folder/);
    await put('Alpha;Beta\n1;2\n', 'strange.csv');
    await expect(begin({ file: 'strange.csv' })).rejects.toThrow(/called like a field/);
  });
  it('leaves the file’s permissions as they were', async () => {
    await begin();
    const before = (await stat(join(sheets, 'hives.csv'))).mode;
    await inApp({ record: idOf('Bramble'), cells: { [F.weight]: 16 } });
    await look();
    expect((await stat(join(sheets, 'hives.csv'))).mode).toBe(before);
  });
});
