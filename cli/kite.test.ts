import { writeBundle } from '../core/formats/bundle.ts';
import { makeDemo } from '../demo/heatherfield.ts';
import { readSheets } from '../core/formats/read.ts';
import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

let folder: string;
const at = (name: string): string => join(folder, name);

/** Runs the command as a team would, and gives what it printed. */
function kite(...args: string[]): { out: string; err: string; code: number | null; json: any } {
  const done = spawnSync('node', ['scripts/kite.mjs', ...args], { encoding: 'utf8' });
  let json: unknown = null;
  try {
    json = JSON.parse(done.stdout);
  } catch {
    // Not every answer is one JSON value.
  }
  return { out: done.stdout, err: done.stderr.replace(/^npm warn.*\n/gm, ''), code: done.status, json };
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kite-cli-'));
  await writeFile(at('Boats.csv'), 'Boat;Sail no;Length\nTern;GBR 1;6,5\nOtter;GBR 2;7,25\nAuk;GBR 3;5\n');
  await writeFile(
    at('trips.csv'),
    'When,Sail no,Hours\n2026-04-13,GBR 1,2.5\n2026-04-14,GBR 1,1\n2026-04-15,GBR 2,3\n2026-04-16,GBR 9,3\n2026-04-17,GBR 2,3,extra\n',
  );
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('kite import', () => {
  it('prints tables, fields with types, counts, rejected rows and links, and writes the app', async () => {
    const { json, code } = kite('import', at('Boats.csv'), at('trips.csv'), '--out', at('app.json'));
    expect(code).toBe(0);
    expect(json.tables[0]).toMatchObject({
      name: 'Boats',
      records: 3,
      fields: [
        { name: 'Boat', type: 'text' },
        { name: 'Sail no', type: 'text' },
        { name: 'Length', type: 'number' },
      ],
    });
    expect(json.tables[1].rejected).toEqual([{ line: 6, reason: expect.stringContaining('4 cells') }]);
    expect(json.links).toEqual([
      { from: { table: 'Trips', field: 'Sail no' }, to: { table: 'Boats', field: 'Sail no' }, found: 3, of: 4 },
    ]);
    expect(JSON.parse(await readFile(at('app.json'), 'utf8')).format).toBe('mellow-kite-bundle');
  });
  it('says what is wrong with a file, with exit code 2', async () => {
    await writeFile(at('empty.csv'), '');
    expect(kite('import', at('empty.csv'))).toMatchObject({ code: 2, out: '' });
    expect(kite('import', at('empty.csv')).err).toContain('“empty.csv” is empty');
    expect(kite('import', at('nowhere.csv')).err).toContain('There is no file');
  });
});

describe('kite runs', () => {
  it('prints what the server runs and has run, from the folder of an app', async () => {
    const start = {
      id: 'h1',
      routine: 'q_one00000',
      given: null,
      values: {},
      said: 'A mail came',
      path: ['q_one00000'],
    };
    const lines = [
      { do: 'begins', at: 0, start },
      { do: 'ended', id: 'h1', at: 9, ms: 4, error: 'It has nowhere to go.', steps: [] },
      { do: 'begins', at: 5, start: { ...start, id: 'h2' } },
      { do: 'paused', routine: '', on: true },
    ];
    await writeFile(at('runs.jsonl'), `${lines.map((l) => JSON.stringify(l)).join('\n')}\n{"do":"odd"}\n`);
    const { json, code } = kite('runs', folder);
    expect(code).toBe(0);
    expect(json.counts).toEqual({ failed: 1, waits: 1 });
    expect(json.lately[0]).toMatchObject({ id: 'h1', ms: 4, error: 'It has nowhere to go.' });
    expect(json.heldUp).toEqual(['all']);
    expect(json.problems[0]).toContain('could not be read');
    expect(kite('runs', at('nowhere')).err).toContain('There is no folder');
  });
});

describe('kite formula', () => {
  it('works one out, with a context', async () => {
    await writeFile(at('context.json'), '{"items":[{"price":3},{"price":4.2}]}');
    expect(kite('formula', 'sum(items[price > 3].price)', '--with', at('context.json')).json).toEqual({
      value: 4.2,
      type: 'number',
      problems: [],
    });
  });
  it('gives dates in ISO 8601 and problems in words', () => {
    expect(kite('formula', 'date("2026-11-23") + duration("P1M")').json).toMatchObject({
      value: '2026-12-23',
      type: 'date',
    });
    expect(kite('formula', 'Wieght + 1').json.problems[0].message).toContain('There is nothing called “Wieght”');
  });
  it('answers a line for a line', async () => {
    await writeFile(
      at('cases.jsonl'),
      '{"formula":"1 + 1"}\n{"formula":"x * 2","with":{"x":2.1}}\n\n{"formula":"("}\n',
    );
    const lines = kite('formula', '--lines', at('cases.jsonl'))
      .out.trim()
      .split('\n')
      .map((l) => JSON.parse(l));
    expect(lines.map((l) => l.value)).toEqual([2, 4.2, null]);
    expect(lines[2].problems).toHaveLength(1);
  });
  it('refuses a line that is not JSON', async () => {
    await writeFile(at('bad.jsonl'), '{"formula":"1"}\nnonsense\n');
    expect(kite('formula', '--lines', at('bad.jsonl'))).toMatchObject({
      code: 2,
      err: expect.stringContaining('Line 2'),
    });
  });
});

describe('kite export and check', () => {
  it('gives a table as JSON with typed values, as CSV or as a workbook', async () => {
    expect(kite('export', at('app.json'), '--table', 'Trips', '--as', 'json', '--to', '-').json[0]).toEqual({
      When: '2026-04-13',
      'Sail no': 'GBR 1',
      Hours: 2.5,
      Boat: 'Tern',
    });
    expect(kite('export', at('app.json'), '--table', 'boats', '--as', 'csv').out).toBe(
      'Boat,Sail no,Length\r\nTern,GBR 1,6.5\r\nOtter,GBR 2,7.25\r\nAuk,GBR 3,5\r\n',
    );
    kite('export', at('app.json'), '--table', 'Boats', '--as', 'csv', '--to', at('boats.csv'));
    expect((await readFile(at('boats.csv'))).subarray(0, 7).toString()).toBe('\uFEFFBoat');
    kite('export', at('app.json'), '--table', 'Boats', '--as', 'xlsx', '--to', at('boats.xlsx'));
    expect((await readSheets('boats.xlsx', await readFile(at('boats.xlsx'))))[0]!.rows[1]).toEqual([
      'Tern',
      'GBR 1',
      '6.5',
    ]);
    expect(kite('export', at('app.json'), '--table', 'Boats', '--as', 'pdf').err).toContain(
      '--as takes xlsx, json, csv.',
    );
    expect(kite('export', at('app.json'), '--table', 'Cars', '--as', 'csv').err).toContain('Tables: Boats, Trips.');
  });
  it('checks an app: exit code 1 when a note stops its release', async () => {
    expect(kite('check', at('app.json'))).toMatchObject({ code: 0, json: [] });
    const bundle = JSON.parse(await readFile(at('app.json'), 'utf8'));
    bundle.app.tables[0].fields.push({ id: 'f_broken00', name: 'Broken', type: 'formula', formula: '1 +' });
    await writeFile(at('broken.json'), JSON.stringify(bundle));
    const { code, json } = kite('check', at('broken.json'));
    expect(code).toBe(1);
    expect(json[0]).toMatchObject({ severity: 'stops', workspace: 'data' });
    await writeFile(at('half.json'), JSON.stringify(bundle).slice(0, 300));
    expect(kite('check', at('half.json'))).toMatchObject({
      code: 2,
      err: expect.stringContaining('cut off or damaged'),
    });
  });
  it('says which commands there are', () => {
    expect(kite('--help').out).toContain('import FILE...');
    expect(kite('nonsense')).toMatchObject({ code: 2, out: '' });
  });
});

describe('kite run', () => {
  const app = makeDemo();
  const file = (): string => at('demo.json');
  const given = async (name: string, json: unknown): Promise<string> => {
    await writeFile(at(name), JSON.stringify(json));
    return at(name);
  };
  beforeAll(() =>
    writeFile(file(), writeBundle({ app: app.app, records: app.records, ownerKey: null, address: null, files: {} })),
  );
  const hive = app.records.find((r) => r.table === app.app.tables[0]!.id)!;

  it('prints the trace, the changes and the outbox of a run, with the answers that were given', async () => {
    const answers = await given('given.json', {
      record: hive.id,
      now: '2026-11-26T09:00:00Z',
      answers: ['120', true],
    });
    const { json, code } = kite('run', file(), 'Weigh the hive', '--given', answers);
    expect([code, json.error]).toEqual([0, null]);
    expect(json.changes).toEqual([{ table: 'Hives', record: hive.id, do: 'set', cells: { Weight: 120 } }]);
    expect(json.trace.map((t: { gave: string }) => t.gave)).toEqual(['120', 'yes', 'Keep it', '120']);
    expect(json.phone[0].question).toMatchObject({ wants: 'a value', as: 'number' });
  });
  it('puts mails into its outbox, and takes records by title where that is one', async () => {
    const keepers = app.app.tables.find((t) => t.name === 'Keepers')!;
    const of = (name: string): string => keepers.fields.find((f) => f.name === name)!.id;
    const all = app.records.filter((r) => r.table === keepers.id);
    const taker = all.find(
      (r) =>
        String(r.cells[of('Skills')]).includes('swarms') &&
        all.filter((x) => x.cells[of('Name')] === r.cells[of('Name')]).length === 1,
    )!;
    const answers = await given('swarm.json', {
      answers: ['in the hedge', 'by the chapel', taker.cells[of('Name')]],
      device: { picture: 'data:image/png;base64,iVBORw0KGgo=' },
    });
    const { json } = kite('run', file(), 'report a swarm with a photo', '--given', answers);
    expect(json.error).toBeNull();
    expect(json.outbox).toEqual([
      expect.objectContaining({ to: [taker.cells[of('Mail')]], subject: 'A swarm: in the hedge' }),
    ]);
    expect(json.phone.at(-1)).toEqual({ do: 'device', what: expect.objectContaining({ do: 'speak' }) });
  });
  it('ends with exit code 1 when the run stopped, and 2 when it could not begin', async () => {
    expect(kite('run', file(), 'Weigh the hive')).toMatchObject({ code: 1 });
    expect(kite('run', file(), 'Weigh the hive').json.error).toContain('needs a hive');
    expect(kite('run', file(), 'Nothing of the kind').err).toContain('There is no routine');
    const wrong = await given('wrong.json', { record: hive.id, moon: true });
    expect(kite('run', file(), 'Weigh the hive', '--given', wrong).err).toContain('does not fit');
  });
});
