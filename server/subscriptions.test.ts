import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { newId } from '../core/document/ids.ts';
import { stampText } from '../core/host/clock.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { KEY, TestServer } from './fixture.ts';
import { PushStandIn } from './push-service.fixture.ts';

let server: TestServer;
let service: PushStandIn;
beforeAll(async () => {
  service = await PushStandIn.start();
  server = await TestServer.start({ outside: [new URL(service.url).host] });
  await server.release('bees', KEY);
});
afterAll(async () => {
  await server.stop();
  await service.close();
});
const path = '/api/apps/bees/subscription';
const keyOfServer = async (): Promise<string> => ((await server.call(path)).body as { key: string }).key;
const subscribes = async (phone: string, more: object = {}) =>
  server.call(path, {
    method: 'PUT',
    json: { subscription: service.subscribe(phone, await keyOfServer()), person: 'Ines', device: `of ${phone}`, ...more },
  }); // prettier-ignore
const notice = (subject: string, to = ['Ines']) =>
  server.call('/api/apps/bees/mail', { json: { id: newId('m'), kind: 'notice', to, subject, body: 'Look.' } });
const toldOn = (phone: string): string[] =>
  service.brought.filter((b) => b.phone === phone).map((b) => (JSON.parse(b.text) as { title: string }).title);

describe('phones where the app is closed', () => {
  it('are told by their push service, encrypted for them alone, by this server and no other', async () => {
    expect((await subscribes('ines')).status).toBe(200);
    expect((await subscribes('tom', { person: 'Tom' })).status).toBe(200);
    await notice('Swarm at the school');
    await vi.waitFor(() => expect(toldOn('ines')).toEqual(['Swarm at the school']), { timeout: 5000 });
    expect(toldOn('tom')).toEqual([]);
    expect(service.brought[0]!.topic).toMatch(/^[\w-]{32}$/);
    expect(JSON.parse(service.brought[0]!.text)).toMatchObject({ words: 'Look.' });
  });
  it('are told once, with the same keys, after the server was away', async () => {
    const key = await keyOfServer();
    await server.restart();
    expect(await keyOfServer()).toBe(key);
    await notice('Second');
    await vi.waitFor(() => expect(toldOn('ines')).toEqual(['Swarm at the school', 'Second']), { timeout: 5000 });
  });
  it('that their service no longer knows are forgotten', async () => {
    await subscribes('lost', { person: 'Odile' });
    service.unsubscribe('lost');
    await notice('One', ['Odile']);
    const kept = () => readFile(join(server.folder, 'data', 'bees', 'phones.jsonl'), 'utf8');
    await vi.waitFor(async () => expect(await kept()).toMatch(/"ends".*lost/), { timeout: 5000 });
    expect((await server.call(`${path}/ended`, { json: { endpoint: `${service.url}/send/tom` } })).status).toBe(200);
    const before = service.brought.length;
    await notice('Two', ['Tom', 'Odile']);
    await notice('Three');
    await vi.waitFor(() => expect(toldOn('ines')).toContain('Three'), { timeout: 5000 });
    expect(service.brought).toHaveLength(before + 1);
  });
  it('must say who uses them; what is no subscription is refused, and addresses of this machine are not asked', async () => {
    expect((await subscribes('x', { person: '' })).status).toBe(422);
    expect((await subscribes('x', { device: '' })).status).toBe(422);
    for (const subscription of [null, {}, { endpoint: 'file:///etc/passwd', keys: { p256dh: 'x', auth: 'y' } }])
      expect((await subscribes('x', { subscription })).status).toBe(422);
    expect((await server.call('/api/apps/none/subscription')).status).toBe(404);
    // A stranger names a service inside: it is not asked, and the phone is forgotten.
    let asked = 0;
    const inside = await PushStandIn.start();
    Object.defineProperty(inside.brought, 'push', { value: () => asked++ });
    const subscription = inside.subscribe('x', await keyOfServer());
    expect((await subscribes('x', { subscription, person: 'Zoe' })).status).toBe(200);
    await notice('Inside', ['Zoe', 'Ines']);
    await vi.waitFor(() => expect(toldOn('ines')).toContain('Inside'), { timeout: 5000 });
    expect(asked).toBe(0);
    await inside.close();
  });
});

describe('phones of people who sign in', () => {
  const at = (path: string): string => `/api/apps/closed${path}`;
  const mail = 'ines@heatherfield.example';
  const access = { opens: 'people', mail: F.mail, roles: [], rules: [] };
  const set = (n: number, cells: Record<string, unknown>) => ({
    id: `c${n}`, stamp: stampText(Date.now(), n, 'test'), table: T.keepers, record: 'ines', do: 'set', cells,
  }); // prettier-ignore
  const tells = (subject: string) =>
    server.call(at('/mail'), {
      json: { id: newId('m'), kind: 'notice', to: ['Ines'], people: ['ines'], subject, body: '' },
      key: KEY,
    });
  const signIn = async (): Promise<string> => {
    const { body } = await server.call(at('/invitations'), { json: { mails: [mail] }, key: KEY });
    const [{ token }] = body['invited'] as [{ token: string }];
    const { headers } = await server.call(at('/sign-in/invited'), { json: { token } });
    return headers.getSetCookie()[0]!.split(';')[0]!;
  };
  const subscribes = (phone: string, key: string, cookie: string) =>
    server.call(at('/subscription'), {
      method: 'PUT',
      headers: { cookie },
      json: { subscription: service.subscribe(phone, key), person: 'tom@heatherfield.example', device: 'own' },
    });

  it('are told while they are signed in there and may come in, whoever they say they are, and not a word after that', async () => {
    await server.release('closed', KEY, { ...hiveApp(), id: 'a_closed0000', people: T.keepers, access });
    await server.call(at('/changes'), {
      json: { changes: [set(1, { [F.keeperName]: 'Ines', [F.mail]: mail })] },
      key: KEY,
    });
    const key = await keyOfServer();
    expect((await subscribes('none', key, '')).status).toBe(401);
    const [first, second] = [await signIn(), await signIn()];
    expect((await subscribes('first', key, first)).status).toBe(200);
    expect((await subscribes('second', key, second)).status).toBe(200);
    await tells('One');
    await vi.waitFor(() => expect([toldOn('first'), toldOn('second')]).toEqual([['One'], ['One']]), { timeout: 5000 });
    // Signed out on one of them, that one is told nothing more.
    expect((await server.call(at('/session'), { method: 'DELETE', headers: { cookie: first } })).status).toBe(200);
    await tells('Two');
    await vi.waitFor(() => expect(toldOn('second')).toEqual(['One', 'Two']), { timeout: 5000 });
    expect(toldOn('first')).toEqual(['One']);
    // Not among the people any more, though a session is left.
    await server.call(at('/changes'), { json: { changes: [set(2, { [F.mail]: null })] }, key: KEY });
    await server.call(at('/mail'), {
      json: { id: newId('m'), kind: 'notice', to: [mail], subject: 'Three', body: '' },
      key: KEY,
    });
    await notice('After');
    await vi.waitFor(() => expect(toldOn('ines')).toContain('After'), { timeout: 5000 });
    await new Promise((r) => setTimeout(r, 200));
    expect(toldOn('second')).toEqual(['One', 'Two']);
  });
});
