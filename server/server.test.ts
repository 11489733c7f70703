import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { appendFile, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import PostalMime from 'postal-mime';
import { ElementMaker } from '../core/app/make.ts';
import type { App } from '../core/app/schema.ts';
import { hiveApp, F } from '../core/records/fixture.ts';
import type { CatchUp, Receipt } from '../core/host/protocol.ts';
import { addressProblem } from './releases.ts';
import { call, change, KEY, OTHER, TestServer } from './fixture.ts';
import { startServer } from './server.ts';

let t: TestServer;
beforeAll(async () => {
  t = await TestServer.start();
});
afterAll(() => t.stop());
const release = (name: string, key?: string, app?: unknown) => t.release(name, key, app);

describe('addresses belong to who made them', () => {
  it('release, release again, and nobody else', async () => {
    expect((await release('bees')).body).toMatchObject({ number: 1 });
    expect((await release('bees')).body).toMatchObject({ number: 2 });
    expect(await release('bees', OTHER)).toMatchObject({
      status: 409,
      body: { error: '“bees” is taken by another app. Choose another address.' },
    });
    expect(await t.call('/api/apps/bees', { method: 'DELETE', key: OTHER })).toMatchObject({ status: 403 });
    expect(await t.call('/api/apps/bees/check', { key: OTHER })).toMatchObject({ body: { free: false } });
    expect(await t.call('/api/apps/bees/outbox', { key: OTHER })).toMatchObject({ status: 403 });
    expect((await release('bees', KEY, { ...hiveApp(), id: 'a_another00' })).status).toBe(409);
  });
  it('a key is needed', async () =>
    expect((await t.call('/api/apps/free1', { method: 'PUT', json: { app: hiveApp(), icons: null } })).status).toBe(
      401,
    ));
  it.each(['Bees', '-bees', 'be es', 'a'.repeat(41), 'api', '..', ''])('refuses the address %j', (name) =>
    expect(addressProblem(name)).not.toBeNull(),
  );
  it('the key itself is not kept', async () => {
    await release('secret');
    expect(await readFile(join(t.folder, 'data/secret/published.json'), 'utf8')).not.toContain(KEY);
  });
  it('a removed app is gone, and its address free', async () => {
    await release('gone');
    expect((await t.call('/api/apps/gone', { method: 'DELETE', key: KEY })).status).toBe(200);
    expect((await t.call('/api/apps/gone/app')).status).toBe(404);
    expect((await release('gone', OTHER)).status).toBe(200);
  });
});

describe('records', () => {
  it('travel, and come back after a restart', async () => {
    await release('travel');
    const receipt = (
      await t.call('/api/apps/travel/changes', {
        json: { changes: [change({ [F.name]: 'Bramble' }, 'h1'), change({ [F.weight]: 'x' }, 'h2')] },
      })
    ).body as unknown as Receipt;
    expect(receipt.accepted).toHaveLength(1);
    expect(receipt.refused[0]!.reason).toContain('is not a number');
    await t.restart();
    const states = (await t.call('/api/apps/travel/changes?since=0')).body as unknown as { states: { id: string }[] };
    expect(states.states.map((s) => s.id)).toEqual(['h1']);
  });
  it('a line that a crash cut off is dropped, and the log goes on', async () => {
    await release('torn');
    await t.call('/api/apps/torn/changes', { json: { changes: [change({ [F.name]: 'Kept' }, 'kept')] } });
    await t.restart(() => appendFile(join(t.folder, 'data/torn/changes-000000000000000.jsonl'), '{"id":"half","sta'));
    await t.call('/api/apps/torn/changes', { json: { changes: [change({ [F.name]: 'After' }, 'after')] } });
    await t.restart();
    expect(
      ((await t.call('/api/apps/torn/changes?since=0')).body as unknown as { states: { id: string }[] }).states.map(
        (s) => s.id,
      ),
    ).toEqual(['kept', 'after']);
  });
  it('reach other devices at once', async () => {
    await release('live');
    const stream = await fetch(`${t.url}/api/apps/live/live`);
    const reader = stream.body!.getReader();
    const read = async (): Promise<string> => new TextDecoder().decode((await reader.read()).value);
    expect(await read()).toContain('event: hello');
    await t.call('/api/apps/live/changes', { json: { changes: [change({ [F.name]: 'News' })] } });
    expect(await read()).toContain('News');
    await release('live');
    expect(await read()).toContain('event: release');
    await reader.cancel();
  });
});

describe('a server that is killed loses nothing it acknowledged', () => {
  it('SIGKILL under load', async () => {
    const data = join(t.folder, 'killed');
    const child: ChildProcess = spawn(
      join(process.cwd(), 'node_modules/.bin/tsx'),
      ['server/main.ts', '--port', '0', '--dist', t.dist, '--data', data],
      { stdio: ['ignore', 'pipe', 'inherit'], detached: true },
    );
    const url = await new Promise<string>((resolve) =>
      child.stdout!.on('data', (d: Buffer) => {
        const m = /http:\S+/.exec(String(d));
        if (m) resolve(m[0]);
      }),
    );
    await call(url, '/api/apps/load', { method: 'PUT', json: { app: hiveApp(), icons: null }, key: KEY });
    const acknowledged = new Set<string>();
    let down = false;
    const client = async (c: number): Promise<void> => {
      for (let i = 0; !down && i < 2000; i++) {
        const changes = Array.from({ length: 5 }, (_, k) =>
          change({ [F.name]: `Hive ${c}-${i}-${k}` }, `r${c}-${i}-${k}`),
        );
        try {
          const answer = await call(url, '/api/apps/load/changes', { json: { changes } });
          if (answer.status !== 200) continue;
          for (const ch of changes)
            if ((answer.body as unknown as Receipt).accepted.includes(ch.id)) acknowledged.add(ch.record);
        } catch {
          down = true;
        }
      }
    };
    const clients = [0, 1, 2, 3].map(client);
    // In the midst of it, however slow the machine is.
    await vi.waitFor(() => expect(acknowledged.size).toBeGreaterThan(200), { timeout: 90_000, interval: 5 });
    process.kill(-child.pid!, 'SIGKILL');
    down = true;
    await Promise.all(clients);
    expect(acknowledged.size).toBeGreaterThan(20);
    const again = await startServer({ port: 0, dist: t.dist, data });
    try {
      const there = new Set(
        (
          (await call(again.url, '/api/apps/load/changes?since=0')).body as unknown as { states: { id: string }[] }
        ).states.map((s) => s.id),
      );
      expect([...acknowledged].filter((id) => !there.has(id))).toEqual([]);
    } finally {
      await again.close();
    }
  }, 150_000);
});

describe('borders', () => {
  it('every page carries a strict content policy', async () => {
    await release('pages');
    for (const path of ['/', '/app/a_x/data', '/a/pages/', '/a/nobody/', '/nothing.txt']) {
      const policy = (await t.call(path, { accept: 'text/html' })).headers.get('content-security-policy')!;
      expect(policy, path).toContain("script-src 'self'");
      expect(policy, path).not.toContain('unsafe-eval');
    }
  });
  it('the page of an app asks pictures of its own hosts only, and shows no page from elsewhere unless it has one', async () => {
    const sources = async (app: App): Promise<string[]> => {
      await release('asking', KEY, app);
      const policy = (await t.call('/a/asking/', { accept: 'text/html' })).headers.get('content-security-policy')!;
      return ['img-src', 'media-src', 'frame-src'].map((d) => new RegExp(`${d} ([^;]*)`).exec(policy)![1]!);
    };
    const own = "'self' data: blob:";
    expect(await sources(hiveApp())).toEqual([own, own, "'none'"]);
    const app: App = { ...hiveApp(), elsewhere: ['pictures.example', 'b.example; script-src *'] };
    expect(await sources(app)).toEqual([`${own} pictures.example`, `${own} pictures.example`, "'none'"]);
    app.screens[0]!.root.children = [new ElementMaker().make('page', { address: '"https://page.example/"' })];
    expect((await sources(app))[2]).toBe('https:');
  });
  it('what is not as it should be gets a clear answer', async () => {
    await release('borders');
    expect(await t.call('/api/apps/borders/changes', { json: { changes: [{ do: 'set' }] } })).toMatchObject({
      status: 422,
    });
    expect(await t.call('/api/apps/borders/changes?since=-1')).toMatchObject({ status: 422 });
    expect((await release('borders', KEY, { format: 'x' })).body).toEqual({
      error: 'The app is not a Mellow Kite app.',
    });
    expect((await release('borders', KEY, { ...hiveApp(), version: 99 })).body['error']).toContain('newer Mellow Kite');
    const broken = await fetch(`${t.url}/api/apps/borders/mail`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"a":',
    });
    expect(broken.status).toBe(400);
    const huge = await t.call('/api/apps/borders/mail', { json: { body: 'x'.repeat(9_000_000) } });
    expect(huge).toMatchObject({ status: 413, body: { error: 'This is more than the server takes at once.' } });
  });
  it('what goes wrong is a page to people, and JSON to programs', async () => {
    const said = 'There is no app at “nobody”';
    const page = await t.call('/a/nobody/', { accept: 'text/html' });
    expect(page.headers.get('content-type')).toContain('text/html');
    expect(page.text).toContain(`<p>${said}`);
    for (const [path, accept] of [
      ['/a/nobody/', 'application/json'],
      ['/api/apps/nobody/changes?since=0', 'text/html'],
      ['/api/apps/nobody/changes?since=0', 'application/json'],
    ] as const)
      expect((await t.call(path, { accept })).body['error'], `${path} ${accept}`).toContain(said);
  });
  it('requests of one device are bounded in rate', async () => {
    await release('rate');
    const answers = await Promise.all(Array.from({ length: 80 }, () => t.call('/api/apps/rate/mail', { json: {} })));
    expect(answers.some((a) => a.status === 429)).toBe(true);
  });
  it('a released page has its name, manifest and worker', async () => {
    await release('page', KEY, { ...hiveApp(), name: 'Bees & <b>friends</b>' });
    const page = await t.call('/a/page/', { accept: 'text/html' });
    expect(page.text).toContain('<title>Bees &#38; &#60;b&#62;friends&#60;/b&#62;</title>');
    expect(page.text).toContain('<meta name="description" content="Bees &#38; &#60;b&#62;friends');
    expect(page.text).toContain('<meta property="og:title" content="Bees &#38;');
    expect((await t.call('/a/page/manifest.webmanifest')).body).toMatchObject({
      start_url: '/a/page/',
      display: 'standalone',
    });
    await release('page', KEY, { ...hiveApp(), about: ' Who looked at which hive, "when" ' });
    const told = await t.call('/a/page/', { accept: 'text/html' });
    expect(told.text).toContain('<meta property="og:description" content="Who looked at which hive, &#34;when&#34;">');
    expect((await t.call('/a/page/manifest.webmanifest')).body).toMatchObject({
      description: 'Who looked at which hive, "when"',
    });
    // A preview of a link asks for its picture by the whole address; without icons there is none.
    expect(told.text).not.toContain('og:image');
    const icon = Buffer.from('a picture').toString('base64');
    const pictured = { app: { ...hiveApp() }, icons: { 192: icon, 512: icon } };
    await t.call('/api/apps/page', { method: 'PUT', json: pictured, key: KEY });
    expect((await t.call('/a/page/', { accept: 'text/html' })).text).toContain(
      `<meta property="og:image" content="${t.url}/a/page/icon-512.png">`,
    );
    const { text } = await t.call('/a/page/sw.js');
    expect(text).toContain('"/assets/worker-abc.js"');
    // Of the kinds only those that the app uses are kept, and nothing of the studio.
    expect(text).toContain('kind.elements.box.view');
    expect(text).not.toContain('kind.elements.form.view');
    expect(text).not.toContain('of-the-studio');
  });
});

it('mail lands in the outbox once, as a real message', async () => {
  await release('post');
  const mail = { id: 'mail-1234', to: ['odile@heatherfield.example'], subject: 'Tea?', body: 'Come at ten.' };
  // The rate of this route was used up above for this address; a new server has a new count.
  await t.restart();
  await t.call('/api/apps/post/mail', { json: mail });
  await t.call('/api/apps/post/mail', { json: mail });
  expect(await readdir(join(t.folder, 'data/post/outbox'))).toEqual(['mail-1234.eml']);
  const [sent] = (await t.call('/api/apps/post/outbox', { key: KEY })).body as unknown as { eml: string }[];
  expect((await PostalMime.parse(sent!.eml)).subject).toBe('Tea?');
});

it('a mail takes files along and says what it answers; what is no file is refused', async () => {
  await release('files');
  await t.restart();
  const file = { name: 'Søby & co.csv', type: 'text/csv', data: Buffer.from('a,b\r\n').toString('base64') };
  const mail = {
    id: 'mail-files',
    to: ['odile@heatherfield.example'],
    subject: 'The list',
    body: 'Here.',
    answers: '<earlier@heatherfield.example>',
    files: [file],
  };
  expect(await t.call('/api/apps/files/mail', { json: mail })).toMatchObject({ status: 200 });
  const [sent] = (await t.call('/api/apps/files/outbox', { key: KEY })).body as unknown as { eml: string }[];
  const read = await PostalMime.parse(sent!.eml);
  expect(read).toMatchObject({ text: 'Here.', inReplyTo: '<earlier@heatherfield.example>' });
  expect(read.attachments).toMatchObject([{ filename: 'Søby & co.csv', mimeType: 'text/csv' }]);
  expect(Buffer.from(read.attachments[0]!.content as ArrayBuffer).toString()).toBe('a,b\r\n');
  for (const wrong of [
    { ...mail, id: 'mail-wrong1', files: [{ ...file, data: 'no base 64!' }] },
    { ...mail, id: 'mail-wrong2', answers: 'x\r\nBcc: all@a.example' },
    { ...mail, id: 'mail-wrong3', files: Array.from({ length: 11 }, () => file) },
  ])
    expect(await t.call('/api/apps/files/mail', { json: wrong })).toMatchObject({ status: 422 });
  // A type that would begin a header of its own stands for nothing known.
  const odd = { ...mail, id: 'mail-odd000', files: [{ ...file, type: 'text/csv\r\nX-Odd: 1' }] };
  await t.call('/api/apps/files/mail', { json: odd });
  const { body } = await t.call('/api/apps/files/outbox', { key: KEY });
  const last = (body as unknown as { id: string; eml: string }[]).find((m) => m.id === 'mail-odd000')!;
  expect(last.eml).not.toContain('X-Odd');
});

it('a notice goes to the devices of those it is for, now or when they next listen; a text message lies in the outbox', async () => {
  await release('told');
  await t.restart();
  /** What a device hears in a while. */
  const heard = async (query: string, meanwhile: () => Promise<unknown>): Promise<string> => {
    const end = new AbortController();
    const stream = await fetch(`${t.url}/api/apps/told/live?${query}`, { signal: end.signal });
    const reader = stream.body!.getReader();
    let text = '';
    void (async () => {
      for (;;) {
        const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
        if (done) return;
        text += new TextDecoder().decode(value);
      }
    })();
    await vi.waitFor(() => expect(text).toContain('event: hello'));
    await meanwhile();
    await new Promise((r) => setTimeout(r, 150));
    end.abort();
    return text;
  };
  const notice = (id: string): object => ({ id, kind: 'notice', to: ['Odile'], subject: `Swarm ${id}`, body: 'Gate' });
  const before = new Date(Date.now() - 1000).toISOString();
  const send = (id: string) => t.call('/api/apps/told/mail', { json: notice(id) });
  const odile = await heard('person=Odile&device=own', () => send('notice-1'));
  expect(odile).toContain('Swarm notice-1');
  expect(await heard('person=Tom&device=toms', () => send('notice-2'))).not.toContain('Swarm');
  // Sent twice it is told once.
  expect(await heard('person=Odile&device=own', () => send('notice-2'))).not.toContain('Swarm');
  const missed = await heard(`person=Odile&device=own&heard=${before}`, async () => undefined);
  expect(missed.indexOf('Swarm notice-1')).toBeGreaterThan(0);
  expect(missed.indexOf('Swarm notice-2')).toBeGreaterThan(missed.indexOf('Swarm notice-1'));
  expect(
    await heard(`person=Odile&device=own&heard=${new Date(Date.now() + 1000).toISOString()}`, async () => undefined),
  ).not.toContain('Swarm');
  expect(await t.call('/api/apps/told/live?person=Odile&heard=lately')).toMatchObject({ status: 422 });
  // A stranger who says that they are Odile hears nothing from before that, also after the server was started again; nor
  // does one who does not say which device it is. Odile sees that there is another.
  expect(await heard(`person=Odile&heard=${before}`, () => send('notice-3'))).not.toContain('Swarm');
  await t.restart();
  const stranger = await heard(`person=Odile&device=strange&heard=${before}`, () => send('notice-4'));
  expect(stranger).not.toMatch(/notice-[123]/);
  expect(stranger).toContain('Swarm notice-4');
  const again = await heard(`person=Odile&device=own&heard=${before}`, async () => undefined);
  expect(again).toMatch(/notice-1.*notice-2.*notice-3.*notice-4/s);
  expect([odile, again].map((h) => /"devices":(\d)/.exec(h)![1])).toEqual(['1', '2']);
  await t.call('/api/apps/told/mail', {
    json: { id: 'text-1', kind: 'text message', to: ['+4512345678'], subject: '', body: 'Come' },
  });
  const { body } = await t.call('/api/apps/told/outbox', { key: KEY });
  expect((body as unknown as { id: string; message?: object }[]).map((m) => m.id).sort()).toEqual([
    'notice-1',
    'notice-2',
    'notice-3',
    'notice-4',
    'text-1',
  ]);
  expect((body as unknown as { id: string; message?: object }[]).find((m) => m.id === 'text-1')!.message).toMatchObject(
    {
      kind: 'text message',
      to: ['+4512345678'],
      body: 'Come',
    },
  );
});

it('catching up gives the changes since, or everything', async () => {
  await release('since');
  await t.call('/api/apps/since/changes', {
    json: { changes: [change({ [F.name]: 'one' }), change({ [F.name]: 'two' })] },
  });
  const since1 = (await t.call('/api/apps/since/changes?since=1')).body as unknown as CatchUp;
  expect('changes' in since1 && since1.changes).toHaveLength(1);
});

describe('the document of an app', () => {
  it('is sent once for a release, and not again to who has it', async () => {
    await release('once');
    const first = await t.call('/api/apps/once/app');
    expect(first.body).toMatchObject({ number: 1, app: { name: 'Hives' } });
    const tag = first.headers.get('etag')!;
    const again = await t.call('/api/apps/once/app', { headers: { 'if-none-match': tag } });
    expect([again.status, again.text]).toEqual([304, '']);
    await release('once');
    const newer = await t.call('/api/apps/once/app', { headers: { 'if-none-match': tag } });
    expect([newer.status, newer.body['number']]).toEqual([200, 2]);
    expect((await readdir(join(t.folder, 'data/once'))).filter((f) => f.startsWith('app-'))).toEqual(['app-2.json']);
  });
  it('leaves without what only its maker sees, which stays; one from before halves comes in as it was', async () => {
    const app = hiveApp();
    app.tables[0]!.place = { x: 77, y: 77 };
    await t.call('/api/apps/halves', { method: 'PUT', json: { app, icons: null }, key: KEY });
    const at = join(t.folder, 'data/halves');
    const kept = async (name: string): Promise<string> => readFile(join(at, name), 'utf8');
    const leaves = async (): Promise<string> => (await t.call('/api/apps/halves/app')).text;
    expect([await kept('host-1.json'), await leaves()].map((s) => s.includes('"x":77'))).toEqual([true, false]);
    await t.restart(async () => {
      await rename(join(at, 'host-1.json'), join(at, 'app-1.json'));
      const { facts, ...rest } = JSON.parse(await kept('published.json')) as { facts: Record<string, unknown> };
      const { halves: _halves, ...before } = facts;
      await writeFile(join(at, 'published.json'), JSON.stringify({ ...rest, facts: before }));
    });
    expect(await leaves()).not.toContain('"x":77');
    expect(await kept('host-1.json')).toContain('"x":77');
    expect((await t.push('halves', change({ f_name000: 'x' }))).status).toBe(200);
  });
  it('kept as before, in one file with its release, comes in as it is', async () => {
    await release('older');
    await t.restart(async () => {
      const at = join(t.folder, 'data/older');
      const { facts: _, ...rest } = JSON.parse(await readFile(join(at, 'published.json'), 'utf8')) as Record<
        string,
        unknown
      >;
      const app: unknown = JSON.parse(await readFile(join(at, 'app-1.json'), 'utf8'));
      await writeFile(join(at, 'release.json'), JSON.stringify({ ...rest, app }));
      await rm(join(at, 'published.json'));
      for (const half of ['app', 'host']) await rm(join(at, `${half}-1.json`));
    });
    const all = await Promise.all([1, 2, 3].map(() => t.call('/api/apps/older/app')));
    expect(all.map((a) => [a.status, (a.body['app'] as { name: string }).name])).toEqual(
      [1, 2, 3].map(() => [200, 'Hives']),
    );
    expect((await t.push('older', change({ f_name000: 'x' }))).status).toBe(200);
    expect((await t.call('/a/older/', { accept: 'text/html' })).text).toContain('<title>Hives</title>');
    expect(await readdir(join(t.folder, 'data/older'))).not.toContain('release.json');
  });
  it('from before the server knew its look and whom it asks is looked through once, and keeps its pictures', async () => {
    const icons = { 192: 'aWNvbg==', 512: 'aWNvbg==' };
    const app = { ...hiveApp(), id: 'a_known0000' };
    await t.call('/api/apps/known', { method: 'PUT', json: { app, icons }, key: KEY });
    const path = join(t.folder, 'data/known/published.json');
    await t.restart(async () => {
      const kept = JSON.parse(await readFile(path, 'utf8')) as { facts: Record<string, unknown> };
      const { look: _look, hosts: _hosts, ...facts } = kept.facts;
      await writeFile(path, JSON.stringify({ ...kept, facts }));
    });
    const { status, body } = await t.call('/api/apps/known/app');
    expect([status, body['hosts']]).toEqual([200, []]);
    expect(Object.keys(body['look'] as object)).toEqual(expect.arrayContaining(['light', 'dark']));
    expect((await t.call('/a/known/icon-192.png')).text).toBe('icon');
    expect(JSON.parse(await readFile(path, 'utf8'))).toMatchObject({ number: 1, icons, facts: { hosts: [] } });
  });
});

it('an app is removed while all of its doors are used: afterwards nothing of it is served, taken or left', async () => {
  for (let round = 0; round < 6; round++) {
    const name = `gone${round}`;
    await release(name);
    const bytes = new Uint8Array(500).fill(round + 1);
    const file = createHash('sha256').update(bytes).digest('base64url');
    const door = (k: number) =>
      [
        () => t.call(`/a/${name}/`, { accept: 'text/html' }),
        () => t.call(`/api/apps/${name}/app`),
        () =>
          t.call(`/api/apps/${name}/mail`, {
            json: { id: `mail-${k}-x`, to: ['a@b.example'], subject: 's', body: 'b' },
          }),
        () => t.push(name, change({ f_name000: 'x' })),
        () =>
          fetch(`${t.url}/api/apps/${name}/files/${file}?offset=0&size=500`, {
            method: 'PATCH',
            body: bytes,
            headers: { 'content-type': 'application/octet-stream' },
          }),
      ][k % 5]!();
    const traffic = Array.from({ length: 15 }, (_, k) => door(k));
    const removed = t.call(`/api/apps/${name}`, { method: 'DELETE', key: KEY });
    const after = Array.from({ length: 15 }, (_, k) => door(k));
    expect((await removed).status).toBe(200);
    const statuses = new Set((await Promise.all([...traffic, ...after])).map((a) => a.status));
    for (const s of statuses) expect([200, 404]).toContain(s);
    expect((await t.call(`/api/apps/${name}/app`)).status).toBe(404);
    expect((await t.push(name, change({ f_name000: 'x' }))).status).toBe(404);
    expect(await readdir(join(t.folder, 'data'))).not.toContain(name);
    expect((await t.call(`/api/apps/${name}/check`, { key: OTHER })).body).toMatchObject({ free: true });
  }
});
