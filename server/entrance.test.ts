import { createHash } from 'node:crypto';
import { request } from 'node:http';
import type { Router } from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import type { Apps } from './apps.ts';
import { Bodies } from './bodies.ts';
import { DOORS, type Door } from './door-table.ts';
import { fileRoutes } from './file-routes.ts';
import { KEY, TestServer } from './fixture.ts';
import { mirrorRoutes } from './mirror-routes.ts';
import type { Pages } from './pages.ts';
import { peopleRoutes } from './people-routes.ts';
import type { PasskeyWays } from './passkey-ways.ts';
import type { People } from './people.ts';
import { apiRoutes, appRoutes, pushRoutes } from './routes.ts';
import { runRoutes } from './run-routes.ts';
import { subscriptionRoutes } from './subscription-routes.ts';

const ALL: [string, Door][] = Object.entries(DOORS);

/** Every way to an app that the routers have, as “method path”. */
function routed(): string[] {
  const [apps, bodies, pages] = [{} as Apps, new Bodies(), {} as Pages];
  const routers: Router[] = [
    pushRoutes(apps, bodies),
    apiRoutes(apps, bodies),
    fileRoutes(apps, bodies),
    mirrorRoutes(apps),
    runRoutes(apps, bodies),
    subscriptionRoutes(apps, bodies, ''),
    peopleRoutes({} as People, {} as PasskeyWays, bodies),
    appRoutes(apps, pages),
  ];
  return routers.flatMap((r) =>
    r.stack.flatMap(({ route }) =>
      route ? route.stack.flatMap((l) => (l.method ? [`${l.method} ${route.path}`] : [])) : [],
    ),
  );
}

describe('the table of doors', () => {
  it('has every way to an app, and each way is in it', () => {
    const table = ALL.map(([, d]) => `${d.method} ${d.path}`);
    // A page without its slash is led to the one with it, and told nothing.
    const ways = new Set(routed().filter((w) => w !== 'get /a/:name'));
    expect([...ways].sort()).toEqual([...table].sort());
  });
  it('says of all but what an owner does that anybody with the link may come in', () => {
    const owners = ALL.filter(([, d]) => d.for !== 'anybody').map(([name]) => name);
    expect(owners.sort()).toEqual(
      [
        'board',
        'check',
        'erasable',
        'erase',
        'runWish',
        'hookSecret',
        'tryHook',
        'invite',
        'keptAbout',
        'lately',
        'mailbox',
        'mirror',
        'mirrors',
        'outbox',
        'people',
        'release',
        'remove',
        'runTrace',
        'settle',
        'unmirror',
        'writeMail',
      ].sort(),
    );
  });
});

describe('at every door', () => {
  let t: TestServer;
  let late: TestServer;
  beforeAll(async () => {
    t = await TestServer.start();
    await t.release('bees', undefined, hiveApp());
    late = await TestServer.start({ leastProtocol: 2 });
    await late.release('bees', undefined, hiveApp());
  });
  afterAll(async () => {
    await t.stop();
    await late.stop();
  });

  /** Knocks at a door, with a body that it reads. */
  const knock = (on: TestServer, door: Door, name: string, headers: Record<string, string> = {}) =>
    new Promise<{ status: number; text: string }>((resolve, reject) => {
      const path = door.path
        .replace(':name', name)
        .replace(':hash', createHash('sha256').update('x').digest('base64url'))
        .replace(':table', 't_hives00')
        .replace(':id', door === DOORS.runTrace ? 'h0123456789abcdef0123' : ':id')
        .replace(':routine', 'q_none000000')
        .replace('{/:secret}', '/x')
        .replace(':size', '192')
        .replace('{*rest}', '');
      const bodies: Partial<Record<string, [type: string, body: string]>> = {
        [DOORS.push.path + DOORS.push.method]: ['application/json', '{"changes":[]}'],
        [DOORS.compare.path + DOORS.compare.method]: ['application/json', '{"after":null,"upTo":null,"records":[]}'],
        [DOORS.asked.path + DOORS.asked.method]: ['application/json', '{"request":"n_goods00000","inputs":{}}'],
        [DOORS.mail.path + DOORS.mail.method]: [
          'application/json',
          '{"id":"m_123456","to":["a@b.example"],"subject":"s","body":"b"}',
        ],
        [DOORS.answer.path + DOORS.answer.method]: [
          'application/json',
          '{"run":"h0","key":"h0:1","value":"Yes","person":"Ines","device":"own"}',
        ],
        [DOORS.subscribe.path + DOORS.subscribe.method]: [
          'application/json',
          JSON.stringify({
            subscription: {
              endpoint: 'https://push.example/x',
              keys: { p256dh: 'p'.repeat(87), auth: 'a'.repeat(22) },
            },
            person: 'Ines',
            device: 'own',
          }),
        ],
        [DOORS.unsubscribe.path + DOORS.unsubscribe.method]: [
          'application/json',
          '{"endpoint":"https://push.example/x","keys":{}}',
        ],
        [DOORS.piece.path + DOORS.piece.method]: ['application/octet-stream', 'x'],
        [DOORS.release.path + DOORS.release.method]: ['application/json', '{}'],
        [DOORS.mirror.path + DOORS.mirror.method]: [
          'application/json',
          '{"file":"a.csv","sheet":null,"first":"app","create":true}',
        ],
        [DOORS.runWish.path + DOORS.runWish.method]: ['application/json', '{"do":"go on","routine":""}'],
        [DOORS.hook.path + DOORS.hook.method]: ['application/json', '{}'],
        [DOORS.tryHook.path + DOORS.tryHook.method]: ['application/json', '{}'],
        [DOORS.writeMail.path + DOORS.writeMail.method]: [
          'application/json',
          '{"from":"a@b.example","name":"A","subject":"s","words":"w"}',
        ],
        [DOORS.settle.path + DOORS.settle.method]: ['application/json', '{"about":"name"}'],
        [DOORS.signIn.path + DOORS.signIn.method]: ['application/json', '{"mail":"a@b.example"}'],
        [DOORS.code.path + DOORS.code.method]: ['application/json', '{"attempt":"x","code":"123456"}'],
        [DOORS.invited.path + DOORS.invited.method]: ['application/json', '{"token":"x"}'],
        [DOORS.askPasskey.path + DOORS.askPasskey.method]: ['application/json', '{}'],
        [DOORS.usePasskey.path + DOORS.usePasskey.method]: [
          'application/json',
          '{"attempt":"x","used":{"id":"x","rawId":"x","type":"public-key","clientExtensionResults":{},"response":{"clientDataJSON":"x","authenticatorData":"x","signature":"x"}}}',
        ],
        [DOORS.beginPasskey.path + DOORS.beginPasskey.method]: ['application/json', '{}'],
        [DOORS.addPasskey.path + DOORS.addPasskey.method]: [
          'application/json',
          '{"attempt":"x","made":{"id":"x","rawId":"x","type":"public-key","clientExtensionResults":{},"response":{"clientDataJSON":"x","attestationObject":"x"}}}',
        ],
        [DOORS.switchTo.path + DOORS.switchTo.method]: ['application/json', '{"person":"x"}'],
        [DOORS.erase.path + DOORS.erase.method]: ['application/json', '{"tables":[]}'],
        [DOORS.eraseMe.path + DOORS.eraseMe.method]: ['application/json', '{"tables":[]}'],
        [DOORS.invite.path + DOORS.invite.method]: ['application/json', '{"mails":["a@b.example"]}'],
      };
      const [type, body] = bodies[door.path + door.method] ?? [];
      const query = door === DOORS.piece ? '?offset=0&size=1' : '';
      const req = request(
        on.url + path + query,
        { method: door.method.toUpperCase(), headers: { ...(type && { 'content-type': type }), ...headers } },
        (res) => {
          let text = '';
          res.on('data', (d: Buffer) => {
            text += String(d);
            if (door === DOORS.live) res.destroy();
          });
          res.on('close', () => resolve({ status: res.statusCode ?? 0, text }));
        },
      );
      req.on('error', reject);
      req.end(body);
    });

  const others = ALL.filter(([, d]) => d.for !== 'claimant');
  it.each(others)('%s: where no app is, there is nothing', async (_name, door) => {
    expect((await knock(t, door, 'nobody', { 'x-owner-key': KEY })).status).toBe(404);
  });
  it.each(others)('%s: whoever means another app is told so', async (_name, door) => {
    const other = await knock(t, door, 'bees', { 'x-owner-key': KEY, 'x-app-id': 'a_other00000' });
    expect(other.status).toBe(410);
  });
  it.each(ALL.filter(([, d]) => d.for !== 'anybody'))('%s: is for the holder of the key', async (name, door) => {
    expect((await knock(t, door, 'bees')).status).toBe(401);
    const wrong = await knock(t, door, 'bees', { 'x-owner-key': 'another-key-0123456789' });
    if (name === 'check') expect(wrong.text).toContain('is taken by another app');
    else expect(wrong.status).toBe(name === 'release' ? 422 : 403);
  });
  it.each(ALL.filter(([, d]) => d.for === 'anybody'))('%s: is open to whoever has the link', async (name, door) => {
    const { status } = await knock(t, door, 'bees');
    // A file that no record holds, and an icon that the app has not, are not there for anybody; an open app is not compared,
    // and only its maker looks back at its records.
    // Nobody signs in to an open app: there is no code or invitation that fits, and nobody who has sessions.
    const passkeys = {
      askPasskey: 409,
      usePasskey: 409,
      passkeys: 401,
      beginPasskey: 401,
      addPasskey: 401,
      removePasskey: 401,
    };
    const people = {
      ...passkeys,
      switchTo: 404,
      mine: 401,
      erasableMe: 401,
      eraseMe: 401,
      signIn: 409,
      code: 422,
      invited: 422,
      sessions: 401,
      endSession: 401,
    };
    const said = { file: 404, hook: 404, icon: 404, compare: 409, history: 403, answer: 409 };
    const answers: Record<string, number> = { ...said, ...people };
    expect(status).toBe(answers[name] ?? 200);
  });
  it.each(ALL.filter(([, d]) => d.for === 'anybody'))(
    '%s: of an app for its people alone it is closed to others, or outside of what the app holds',
    async (name, door) => {
      const closed = {
        ...hiveApp(),
        id: 'a_closed0000',
        people: T.keepers,
        access: { opens: 'people', mail: F.mail, roles: [], rules: [] },
      };
      await t.release('closed', undefined, closed);
      const { status } = await knock(t, door, 'closed');
      const outside: Record<string, number> = {
        hook: 404,
        icon: 404,
        code: 422,
        invited: 422,
        usePasskey: 422,
        switchTo: 404,
      };
      expect(status).toBe(door.outside ? (outside[name] ?? 200) : 401);
    },
  );
  it.each(ALL.filter(([, d]) => d.speaks))(
    '%s: phones of before are told to open the app anew',
    async (_name, door) => {
      const old = await knock(late, door, 'bees');
      expect([old.status, old.text]).toEqual([426, expect.stringContaining('close it and open it again')]);
      expect((await knock(late, door, 'bees', { 'x-protocol': '2' })).status).not.toBe(426);
    },
  );
});
