import { spawn, type ChildProcess } from 'node:child_process';
import { Agent, request } from 'node:http';
import { connect, type Socket } from 'node:net';
import { fileURLToPath } from 'node:url';
import { change, release, tempFolder, Victim } from '../trial/server.ts';

const PHONES = 40;
const SECONDS = 4;
const RUNS = 5;

/** Requests over kept connections; fetch takes more time than what is measured. */
class Phones {
  private readonly agent = new Agent({ keepAlive: true, maxSockets: PHONES });
  constructor(private readonly url: URL) {}

  push(path: string, body: string, from: number): Promise<void> {
    return new Promise((resolve, reject) => {
      const headers = {
        'content-type': 'application/json',
        'content-length': Buffer.byteLength(body),
        'x-forwarded-for': `10.0.${from >> 8}.${from & 255}`,
      };
      const { hostname, port } = this.url;
      const req = request({ hostname, port, path, method: 'POST', agent: this.agent, headers }, (res) => {
        res.resume();
        res.on('end', () => (res.statusCode === 200 ? resolve() : reject(new Error(`answered ${res.statusCode}`))));
      });
      req.on('error', reject);
      req.end(body);
    });
  }

  /** Each phone sends one change after the other; gives how many were acknowledged in a second. */
  async load(path: string, tag: string): Promise<number> {
    const end = performance.now() + SECONDS * 1000;
    let done = 0;
    let n = 0;
    await Promise.all(
      Array.from({ length: PHONES }, async (_, p) => {
        while (performance.now() < end) {
          // So many requests a minute from one address are refused; each comes from one of many.
          await this.push(path, JSON.stringify({ changes: [change(`${tag}-${p}-${n}`)] }), n++ % 60_000);
          done++;
        }
      }),
    );
    return done / SECONDS;
  }
  close(): void {
    this.agent.destroy();
  }
}

/** A plain HTTP server that appends what arrives, with one flush for each group that has arrived, and nothing else. */
async function plainServer(file: string): Promise<{ url: string; child: ChildProcess }> {
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', fileURLToPath(new URL('plain-log.ts', import.meta.url)), file],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  const url = await new Promise<string>((resolve) =>
    child.stdout!.on('data', (d: Buffer) => {
      const m = /http:\S+/.exec(String(d));
      if (m) resolve(m[0]);
    }),
  );
  return { url, child };
}

/** Phones that listen; each tells when a change has come to it. */
async function listeners(url: URL, count: number, heard: (record: string) => void): Promise<Socket[]> {
  const sockets: Socket[] = [];
  for (let i = 0; i < count; i++) {
    const socket = connect(Number(url.port), url.hostname);
    let first = true;
    await new Promise<void>((resolve, reject) => {
      socket.on('error', reject);
      socket.on('data', (d) => {
        if (first) resolve();
        first = false;
        if (i % 25 === 0) for (const m of String(d).matchAll(/"record":"([^"]+)"/g)) heard(m[1]!);
      });
      socket.write(
        `GET /api/apps/bees/live HTTP/1.1\r\nHost: ${url.host}\r\nX-Forwarded-For: 10.9.${i >> 8}.${i & 255}\r\n\r\n`,
      );
    });
    sockets.push(socket);
  }
  return sockets;
}

const median = (list: number[]): number => list.toSorted((a, b) => a - b)[list.length >> 1]!;
const share = (list: readonly number[], part: number): number =>
  list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))]!;

export async function hostBench(): Promise<void> {
  const folder = await tempFolder('bench');
  const victim = new Victim(folder.path);
  await victim.start();
  await release(victim.url, 'bees');
  const plain = await plainServer(`${folder.path}/plain.jsonl`);
  const path = '/api/apps/bees/changes';
  const [ours, reference] = [new Phones(new URL(victim.url)), new Phones(new URL(plain.url))];
  const rates: Record<'alone' | 'plain' | 'listening', number[]> = { alone: [], plain: [], listening: [] };
  const before = await victim.memory();
  let made = 0;
  for (let i = 0; i < RUNS; i++) {
    rates.alone.push(await ours.load(path, `a${i}`));
    rates.plain.push(await reference.load('/', `p${i}`));
    made += rates.alone.at(-1)! * SECONDS;
  }
  const after = await victim.memory();
  const sockets = await listeners(new URL(victim.url), 300, () => undefined);
  const perPhone = ((await victim.memory()) - after) / 300;
  for (let i = 0; i < RUNS; i++) rates.listening.push(await ours.load(path, `l${i}`));
  for (const s of sockets) s.destroy();
  const alone = median(rates.alone);
  const listening = median(rates.listening);
  const say = (n: number): string => Math.round(n).toLocaleString('en-GB');
  console.log(
    `  40 phones, one change each, with flush: ${say(alone)} acknowledged a second, ${(alone / median(rates.plain)).toFixed(2)} of a plain server that only appends (${say(median(rates.plain))}); aim: half`,
  );
  console.log(
    `    with 300 phones listening: ${say(listening)}, ${(100 * (1 - listening / alone)).toFixed(0)} % less; aim: at most a third less`,
  );
  console.log(
    `    memory: ${(((after - before) * 1024) / made).toFixed(1)} kB a record, ${(perPhone * 1024).toFixed(0)} kB a listening phone`,
  );

  // How long a change takes to another phone, while twenty a second are made and a thousand listen.
  const sent = new Map<string, number>();
  const delays: number[] = [];
  const many = await listeners(new URL(victim.url), 1000, (record) => {
    const at = sent.get(record);
    if (at !== undefined) delays.push(performance.now() - at);
  });
  for (let i = 0; i < 200; i++) {
    const c = change(`d${i}`);
    sent.set(c.record, performance.now());
    void ours.push(path, JSON.stringify({ changes: [c] }), i);
    await new Promise((r) => setTimeout(r, 50));
  }
  await new Promise((r) => setTimeout(r, 500));
  const open = many.filter((s) => !s.destroyed).length;
  console.log(
    `  a change to another phone, 20 a second, ${open} listening: p50 ${share(delays, 0.5).toFixed(1)} ms, p95 ${share(delays, 0.95).toFixed(1)} ms over ${delays.length} arrivals; aim: p95 under 100 ms`,
  );
  for (const s of many) s.destroy();
  ours.close();
  reference.close();
  plain.child.kill();
  await victim.kill('SIGTERM');
  await folder.remove();
}
