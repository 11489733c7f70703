import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { stampText } from '../core/host/clock.ts';
import type { Receipt } from '../core/host/protocol.ts';
import type { RecordState } from '../core/records/change.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';

export const KEY = 'trial'.padEnd(43, 'k');

let made: Promise<string> | null = null;
/**
 * The server as one file, made of its sources once for all trials: it starts in a second, where reading each source anew
 * takes eight. It lies beside them, since the server finds its threads by where it is.
 */
const serverFile = (): Promise<string> => (made ??= bundle());

async function bundle(): Promise<string> {
  const outfile = join('server', `.trial-${process.pid}.mjs`);
  await build({
    entryPoints: ['server/main.ts'],
    bundle: true,
    outfile,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    logLevel: 'error',
  });
  process.once('exit', () => rmSync(outfile, { force: true }));
  return outfile;
}

/** A server in a process of its own, which is killed and started again. */
export class Victim {
  private child: ChildProcess | null = null;
  url = '';
  /** What it said on its error output. */
  said = '';
  ended = 0;

  constructor(
    readonly data: string,
    /** What else it is started with. */
    private readonly more: readonly string[] = [],
  ) {}

  async start(): Promise<void> {
    const child = spawn(
      process.execPath,
      [
        await serverFile(),
        '--port',
        '0',
        '--dist',
        'dist',
        '--data',
        this.data,
        '--memory',
        '512',
        '--proxy',
        '127.0.0.1',
        ...this.more,
      ],
      { stdio: ['ignore', 'pipe', 'pipe'] },
    );
    this.child = child;
    child.stderr!.on('data', (d: Buffer) => (this.said += String(d)));
    child.on('exit', () => this.ended++);
    this.url = await new Promise<string>((resolve, reject) => {
      child.stdout!.on('data', (d: Buffer) => {
        const m = /is at (http:\S+)/.exec(String(d));
        if (m) resolve(m[1]!);
      });
      child.once('exit', (code) => reject(new Error(`The server ended with ${code}: ${this.said.slice(-500)}`)));
    });
  }

  get isUp(): boolean {
    return this.child !== null && this.child.exitCode === null && this.child.signalCode === null;
  }

  async kill(signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
    const { child } = this;
    if (!child || !this.isUp) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await gone;
  }

  /** Resident memory in MB. */
  async memory(): Promise<number> {
    const status = await readFile(`/proc/${this.child!.pid}/status`, 'utf8').catch(() => '');
    return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024;
  }
}

export const tempFolder = async (name: string): Promise<{ path: string; remove(): Promise<void> }> => {
  const path = await mkdtemp(join(tmpdir(), `kite-trial-${name}-`));
  return { path, remove: () => rm(path, { recursive: true, force: true }) };
};

let asked = 0;

export interface Answer {
  status: number;
  text: string;
  body: Record<string, unknown>;
}

export async function call(
  url: string,
  path: string,
  init: RequestInit & { json?: unknown; key?: string } = {},
): Promise<Answer> {
  const { json, key, ...rest } = init;
  const res = await fetch(url + path, {
    ...rest,
    method: init.method ?? (json === undefined ? 'GET' : 'POST'),
    headers: {
      accept: 'application/json',
      ...(json !== undefined && { 'content-type': 'application/json' }),
      // Each request comes from an address of its own: the bound on requests a minute is not what is tried here.
      'x-forwarded-for': `10.${++asked % 250}.${(asked >> 8) % 250}.${(asked >> 16) % 250}`,
      ...(key && { 'x-owner-key': key }),
      ...(rest.headers as Record<string, string>),
    },
    ...(json !== undefined && { body: JSON.stringify(json) }),
  });
  const text = await res.text();
  let body: Record<string, unknown> = {};
  try {
    body = JSON.parse(text) as Record<string, unknown>;
  } catch {
    // Pages are no JSON.
  }
  return { status: res.status, text, body };
}

export const release = (
  url: string,
  name: string,
  app: unknown = { ...hiveApp(), id: `a_${name}`.padEnd(11, '0') },
  key = KEY,
) => call(url, `/api/apps/${name}`, { method: 'PUT', json: { app, icons: null }, key });

let n = 0;
export const change = (
  record: string,
  cells: Record<string, unknown> = { [F.name]: record },
  table: string = T.hives,
) => ({
  id: `t${(++n).toString(36)}`,
  stamp: stampText(Date.now(), n % 1_000_000, 'trial'),
  table,
  record,
  do: 'set' as const,
  cells,
});
export const push = (url: string, name: string, changes: unknown[]) =>
  call(url, `/api/apps/${name}/changes`, { json: { changes } });
export const accepted = (a: Answer): string[] => (a.body as unknown as Receipt).accepted ?? [];

/** All records of an app, page by page. */
export async function allRecords(url: string, name: string): Promise<Map<string, RecordState>> {
  const all = new Map<string, RecordState>();
  for (let from: number | undefined = 0; from !== undefined;) {
    const { body } = await call(url, `/api/apps/${name}/changes?since=0&from=${from}`);
    const page = body as unknown as { states: RecordState[]; next?: number };
    for (const s of page.states) all.set(s.id, s);
    from = page.next;
  }
  return all;
}

/** Numbers by chance, the same in every run of a seed (Mulberry32). */
export function chance(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** What a trial found: figures, and what must not have been. */
export interface Findings {
  figures: Record<string, number | string>;
  wrong: string[];
}

/** Does a trial to a fresh server, which goes with its folder however the trial ends. */
export async function onVictim(
  name: string,
  trial: (victim: Victim, wrong: string[]) => Promise<Findings['figures']>,
  more: readonly string[] = [],
): Promise<Findings> {
  const folder = await tempFolder(name);
  const victim = new Victim(folder.path, more);
  const wrong: string[] = [];
  try {
    await victim.start();
    return { figures: await trial(victim, wrong), wrong };
  } finally {
    await victim.kill('SIGTERM');
    await folder.remove();
  }
}
