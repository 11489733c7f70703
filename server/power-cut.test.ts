import { createHash } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Change } from '../core/records/change.ts';
import { T } from '../core/records/fixture.ts';
import { makeFolder, writeWhole } from './disk.ts';
import type { ReleaseFacts } from './facts.ts';
import { FilesFolder } from './files-folder.ts';
import { MessagesFolder } from './messages-folder.ts';
import { RecordsLog } from './records-log.ts';
import { SheetOwners } from './sheet-owners.ts';
import { SheetsFolder } from './sheets-folder.ts';
import { FileStore } from './store.ts';
import { TextFile } from './text-file.ts';

const { watched } = vi.hoisted(() => ({ watched: { disk: null as import('./disk.fixture.ts').WatchedDisk | null } }));
vi.mock('node:fs/promises', async (original) => {
  const { WatchedDisk } = await import('./disk.fixture.ts');
  watched.disk = new WatchedDisk();
  return watched.disk.watch(await original());
});

const real = await vi.importActual<typeof import('node:fs/promises')>('node:fs/promises');
let folder = '';
beforeEach(async () => {
  folder = await real.mkdtemp(join(tmpdir(), 'kite-power-'));
});
afterEach(() => real.rm(folder, { recursive: true, force: true }));

const bytes = new TextEncoder().encode('Clover');
const change = (id: string): Change => ({
  id,
  stamp: `2026-11-30T08:00:00.000Z-0000-${id}`,
  table: T.hives,
  record: id,
  do: 'set',
  cells: {},
});
const losses = (): string[] => watched.disk!.losses();

describe('after a power cut', () => {
  it('a release is there, whole, with what it replaced gone', async () => {
    const store = new FileStore(join(folder, 'data'));
    const release = { facts: {} as ReleaseFacts, at: '', keyHash: '', icons: null };
    await store.write('hives', { ...release, number: 1 }, { phone: bytes, host: bytes });
    expect(losses()).toEqual([]);
    await store.write('hives', { ...release, number: 2 }, { phone: bytes, host: bytes });
    expect(losses()).toEqual([]);
    await store.folderOf('moss');
    expect(losses()).toEqual([]);
  });
  it('changes that were answered are there, also in the middle of a snapshot', async () => {
    const { log } = await RecordsLog.open(folder);
    await log.append([change('a')]);
    expect(losses()).toEqual([]);
    await log.turn(1);
    await log.append([change('b')]);
    expect(losses()).toEqual([]);
    await log.fold({ states: [], known: [], forgotten: '', runChanges: [] });
    expect(losses()).toEqual([]);
    await log.close();
  });
  it('lines that could not be read are kept beside the log', async () => {
    const { log } = await RecordsLog.open(folder);
    await log.append([change('a')]);
    await log.close();
    const [segment] = (await real.readdir(folder)).filter((n) => n.startsWith('changes-'));
    await real.appendFile(join(folder, segment!), 'no line of ours\n');
    const again = await RecordsLog.open(folder);
    expect(again.kept.damage).not.toEqual([]);
    expect(losses()).toEqual([]);
    await again.log.close();
  });
  it('a file is there when its last piece was taken', async () => {
    const files = new FilesFolder(join(folder, 'files'));
    const hash = createHash('sha256').update(bytes).digest('base64url');
    await files.write(hash, 0, bytes.subarray(0, 3), false);
    await files.write(hash, 3, bytes.subarray(3), true);
    await files.makeWhole(hash);
    expect(losses()).toEqual([]);
  });
  it('a mail is there that was said to be kept', async () => {
    await new MessagesFolder(join(folder, 'outbox')).keep('a.eml', 'Dear Odile');
    expect(losses()).toEqual([]);
  });
  it('what mirrored tables agreed on, and whose sheets are whose, is there', async () => {
    await new TextFile(join(folder, 'mirrors.json')).write('{}');
    await new SheetOwners(join(folder, 'sheets', 'owners.json'), ['*']).claim('key', 'hives.csv');
    expect(losses()).toEqual([]);
  });
  it('a sheet is the old one or the new one', async () => {
    const sheets = new SheetsFolder(join(folder, 'sheets'));
    await sheets.write('hives.csv', bytes);
    await sheets.write('hives.csv', bytes);
    expect(losses()).toEqual([]);
    await expect(real.readFile(join(folder, 'sheets', 'hives.csv'))).resolves.toEqual(Buffer.from(bytes));
  });
});

describe('the watch over the disk', () => {
  it('notices what is not on it', async () => {
    await makeFolder(join(folder, 'a'));
    await writeFile(join(folder, 'a', 'b'), 'x');
    expect(losses()).toEqual([`the content of ${folder}/a/b`, `the name of ${folder}/a/b`]);
    await rm(join(folder, 'a', 'b'));
    expect(losses()).toEqual([]);
    await writeWhole(join(folder, 'd'), 'x');
    expect(losses()).toEqual([]);
  });
});
