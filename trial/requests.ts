import { request } from 'node:http';
import { change, chance, KEY, release, onVictim, type Findings } from './server.ts';
import { hiveApp } from '../core/records/fixture.ts';

const COUNT = 2500;

/** Requests with parts changed by chance: every answer is in words, the server stays up and shows nothing of its inside. */
export const requests = (): Promise<Findings> =>
  onVictim('requests', async (victim, wrong) => {
    await release(victim.url, 'bees');
    const random = chance(7);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    const rubbish = [
      '',
      '\u0000',
      '%00',
      '../../etc/passwd',
      '__proto__',
      '9'.repeat(400),
      '-1',
      '1e999',
      'ü⚘',
      '{"a":',
      '[[[[',
      '"',
      '%E0%A4%A',
      'NaN',
      'null',
      '<script>',
    ];
    /** A thing of JSON with some part of it replaced. */
    const bent = (x: unknown): unknown => {
      if (random() < 0.15) return pick([null, -1, 1e308, [], {}, true, pick(rubbish), Array(500).fill('x')]);
      if (Array.isArray(x)) return x.map(bent);
      if (typeof x === 'object' && x !== null)
        return Object.fromEntries(Object.entries(x).map(([k, v]) => [random() < 0.05 ? pick(rubbish) : k, bent(v)]));
      if (typeof x === 'string' && random() < 0.2) return x.slice(0, Math.floor(random() * x.length)) + pick(rubbish);
      return x;
    };
    const statuses = new Map<number, number>();
    for (let i = 0; i < COUNT && victim.isUp; i++) {
      const [method, path, body] = pick<[string, string, unknown]>([
        ['POST', '/api/apps/bees/changes', { changes: [change('h1'), change('h2')] }],
        ['PUT', '/api/apps/bees', { app: hiveApp(), icons: null }],
        ['PUT', `/api/apps/n${i}`, { app: hiveApp(), icons: null }],
        ['POST', '/api/apps/bees/mail', { id: 'mail-12345', to: ['a@b.example'], subject: 's', body: 'b' }],
        ['GET', '/api/apps/bees/changes?since=0', null],
        ['GET', '/api/apps/bees/app', null],
        ['GET', '/a/bees/', null],
        ['GET', '/a/bees/icon-192.png', null],
        ['PUT', '/api/apps/bees/mirrors/t_hives00', { file: 'x.csv', sheet: null, first: 'file', create: true }],
        ['DELETE', '/api/apps/nobody', null],
      ]);
      let text = body === null ? '' : JSON.stringify(bent(body));
      if (random() < 0.1) text = text.slice(0, Math.floor(random() * text.length));
      const where = random() < 0.25 ? path.replace(/[a-z0-9]+/, () => encodeURI(pick(rubbish))) : path;
      const headers: Record<string, string> = {
        accept: pick(['application/json', 'text/html', '*/*']),
        'content-type': random() < 0.9 ? 'application/json' : pick(['text/plain', 'application/json; charset=x', 'a']),
        'x-owner-key': random() < 0.8 ? KEY : 'k'.repeat(Math.floor(random() * 200)),
        // The bound on requests a minute is not what is tried here.
        'x-forwarded-for': `10.${i % 250}.${(i >> 8) % 250}.1`,
        ...(random() < 0.05 && { 'content-encoding': pick(['gzip', 'br', 'none']) }),
        ...(random() < 0.05 && { range: pick(['bytes=5-', 'bytes=9999999-', 'x']) }),
      };
      const answer = await send(victim.url, method, where, headers, text);
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
      if (answer.status >= 500)
        wrong.push(`${method} ${where} is answered with ${answer.status}: ${text.slice(0, 200)}`);
      if (/node_modules|\bat .*\.ts:\d/.test(answer.text))
        wrong.push(`${method} ${where} shows the inside of the server`);
    }
    if (!victim.isUp) wrong.push(`the server ended: ${victim.said.slice(-500)}`);
    const figures = Object.fromEntries(
      [...statuses].sort(([a], [b]) => a - b).map(([s, c]) => [s ? `answered ${s}` : 'cut off', c]),
    );
    return { requests: COUNT, ...figures };
  });

function send(url: string, method: string, path: string, headers: Record<string, string>, body: string) {
  const { hostname, port } = new URL(url);
  return new Promise<{ status: number; text: string }>((resolve) => {
    try {
      const req = request({ hostname, port, method, path: path.replace(/[^\x21-\x7e]/g, 'x'), headers }, (res) => {
        let text = '';
        res.on('data', (d: Buffer) => (text += String(d)));
        res.on('end', () => resolve({ status: res.statusCode!, text }));
      });
      req.on('error', () => resolve({ status: 0, text: '' }));
      req.end(body);
    } catch {
      resolve({ status: 0, text: '' });
    }
  });
}
