import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { stampText } from '../core/host/clock.ts';
import { hiveApp, T } from '../core/records/fixture.ts';
import { startServer, type ServerOptions, type Started } from './server.ts';

export const KEY = 'k'.repeat(43);
export const OTHER = 'o'.repeat(43);

/** A build to serve: what the real one has, in small. */
export async function fakeBuild(to: string): Promise<void> {
  await mkdir(join(to, '.vite'), { recursive: true });
  await mkdir(join(to, 'assets'));
  await writeFile(join(to, 'index.html'), '<!doctype html><title>Studio</title>');
  await writeFile(
    join(to, 'player.html'),
    '<!doctype html><title>App</title><script type="module" src="/assets/p.js"></script>',
  );
  const kinds = ['kind.elements.box.view-1.js', 'kind.elements.form.view-1.js'];
  await writeFile(
    join(to, 'assets/p.js'),
    `new Worker("/assets/worker-abc.js"); const views = ${JSON.stringify(kinds)}`,
  );
  for (const f of ['worker-abc.js', 'of-the-studio.js', ...kinds]) await writeFile(join(to, 'assets', f), '');
  await writeFile(
    join(to, '.vite/manifest.json'),
    JSON.stringify({ 'player.html': { file: 'assets/p.js', imports: [] } }),
  );
  await writeFile(join(to, 'sw.js'), 'const SHELL=`__SHELL__`,C="shell-__VERSION__";');
}

/** A server in a folder of its own, for one file of tests. */
export class TestServer {
  private constructor(
    readonly folder: string,
    public server: Started,
    private readonly more: Partial<ServerOptions>,
  ) {}

  static async start(more: Partial<ServerOptions> = {}): Promise<TestServer> {
    const folder = await mkdtemp(join(tmpdir(), 'kite-server-'));
    await fakeBuild(join(folder, 'dist'));
    return new TestServer(folder, await startServer({ ...optionsIn(folder), ...more }), more);
  }

  get url(): string {
    return this.server.url;
  }
  get dist(): string {
    return join(this.folder, 'dist');
  }

  /** Stops it, does something meanwhile, and starts it again. */
  async restart(meanwhile: () => Promise<void> = async () => undefined): Promise<void> {
    await this.server.close();
    await meanwhile();
    this.server = await startServer({ ...optionsIn(this.folder), ...this.more });
  }

  async stop(): Promise<void> {
    await this.server.close();
    await rm(this.folder, { recursive: true, force: true });
  }

  call(path: string, init: Call = {}) {
    return call(this.url, path, init);
  }
  release(name: string, key = KEY, app: unknown = hiveApp()) {
    return this.call(`/api/apps/${name}`, { method: 'PUT', json: { app, icons: null }, key });
  }
  push(name: string, ...changes: unknown[]) {
    return this.call(`/api/apps/${name}/changes`, { json: { changes } });
  }
}

const optionsIn = (folder: string): ServerOptions => ({
  port: 0,
  dist: join(folder, 'dist'),
  data: join(folder, 'data'),
});

export interface Call {
  method?: string;
  json?: unknown;
  key?: string;
  accept?: string;
  headers?: Record<string, string>;
}

/** One request, and its answer as text and as JSON where it is that. */
export async function call(base: string, path: string, init: Call = {}) {
  const res = await fetch(base + path, {
    method: init.method ?? (init.json === undefined ? 'GET' : 'POST'),
    headers: {
      accept: init.accept ?? 'application/json',
      ...(init.json !== undefined && { 'content-type': 'application/json' }),
      ...(init.key && { 'x-owner-key': init.key }),
      ...init.headers,
    },
    ...(init.json !== undefined && { body: JSON.stringify(init.json) }),
  });
  const text = await res.text();
  let body: Record<string, unknown> = {};
  try {
    body = JSON.parse(text) as Record<string, unknown>;
  } catch {
    // Not every answer is JSON.
  }
  return { status: res.status, headers: res.headers, text, body };
}

let n = 0;
/** A change of a hive, each later than the one before. */
export const change = (cells: Record<string, unknown>, record = `h${++n}`) => ({
  id: `c${++n}`,
  stamp: stampText(Date.now(), n % 1000, 'test'),
  table: T.hives,
  record,
  do: 'set',
  cells,
});
