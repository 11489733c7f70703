import { createHash, createSign, generateKeyPairSync, randomBytes, type KeyObject } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isoCBOR } from '@simplewebauthn/server/helpers';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { ALL_RECORDS } from '../core/access/plain.fixture.ts';
import { stampText } from '../core/host/clock.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { call, KEY, TestServer, type Call } from './fixture.ts';

/** What a device does with passkeys (W3C Web Authentication, Level 3), with one key. */
class Authenticator {
  readonly id = randomBytes(16);
  private readonly keys = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  counter = 0;
  /** Was whoever uses the device asked who they are? */
  verifies = true;

  private flags(more = 0): Buffer {
    return Buffer.from([(this.verifies ? 0x05 : 0x01) | more]);
  }
  private counted(): Buffer {
    const bytes = Buffer.alloc(4);
    bytes.writeUInt32BE(this.counter);
    return bytes;
  }
  private static says(type: string, challenge: string, origin: string): string {
    return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false })).toString('base64url');
  }
  private named(): object {
    const id = this.id.toString('base64url');
    return { id, rawId: id, type: 'public-key', clientExtensionResults: {} };
  }

  make(challenge: string, origin: string, host: string): object {
    const { x, y } = (this.keys.publicKey as KeyObject).export({ format: 'jwk' });
    const bytes = (text: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(text, 'base64url'));
    const key = isoCBOR.encode(
      new Map<number, number | Uint8Array>([
        [1, 2],
        [3, -7],
        [-1, 1],
        [-2, bytes(x!)],
        [-3, bytes(y!)],
      ]) as never,
    );
    const size = Buffer.alloc(2);
    size.writeUInt16BE(this.id.length);
    const hash = createHash('sha256').update(host).digest();
    const data = Buffer.concat([
      hash,
      this.flags(0x40),
      this.counted(),
      Buffer.alloc(16),
      size,
      this.id,
      Buffer.from(key),
    ]);
    const attestation = isoCBOR.encode(
      new Map<string, unknown>([
        ['fmt', 'none'],
        ['attStmt', new Map()],
        ['authData', new Uint8Array(data)],
      ]) as never,
    );
    return {
      ...this.named(),
      response: {
        clientDataJSON: Authenticator.says('webauthn.create', challenge, origin),
        attestationObject: Buffer.from(attestation).toString('base64url'),
      },
    };
  }

  use(challenge: string, origin: string, host: string): object {
    this.counter++;
    const data = Buffer.concat([createHash('sha256').update(host).digest(), this.flags(), this.counted()]);
    const said = Authenticator.says('webauthn.get', challenge, origin);
    const hash = createHash('sha256').update(Buffer.from(said, 'base64url')).digest();
    const signature = createSign('SHA256')
      .update(Buffer.concat([data, hash]))
      .sign(this.keys.privateKey);
    return {
      ...this.named(),
      response: {
        clientDataJSON: said,
        authenticatorData: data.toString('base64url'),
        signature: signature.toString('base64url'),
      },
    };
  }
}

let server: TestServer;
let base = '';
let ines = '';
let n = 0;
const HOST = 'localhost';
const ask = (path: string, init: Call = {}, app = 'moor') => call(base, `/api/apps/${app}${path}`, init);
const as = (cookie: string) => ({ headers: { cookie } });
const cookieOf = ({ headers }: { headers: Headers }): string => headers.getSetCookie()[0]?.split(';')[0] ?? '';
const comes = async (mail: string, app = 'moor'): Promise<string> => {
  const { body } = await ask('/invitations', { json: { mails: [mail] }, key: KEY }, app);
  const [{ token }] = body['invited'] as [{ token: string }];
  return cookieOf(await ask('/sign-in/invited', { json: { token } }, app));
};
const write = (table: string, record: string, cells: object, app = 'moor') => {
  const stamp = stampText(Date.now(), ++n % 1000, 'test');
  return ask(
    '/changes',
    { json: { changes: [{ id: `c${n}`, stamp, table, record, do: 'set', cells }] }, key: KEY },
    app,
  );
};
interface Asked {
  attempt: string;
  options: { challenge: string };
}
/** Makes a passkey as somebody; gives the answer. */
async function makes(device: Authenticator, cookie: string, more: { origin?: string; host?: string } = {}) {
  const { body } = await ask('/passkeys/begin', { json: {}, ...as(cookie) });
  const { attempt, options } = body as unknown as Asked;
  const made = device.make(options.challenge, more.origin ?? base, more.host ?? HOST);
  return ask('/passkeys', { json: { attempt, made }, ...as(cookie) });
}
const asked = async (app = 'moor'): Promise<Asked> =>
  (await ask('/sign-in/passkey-asked', { json: {} }, app)).body as unknown as Asked;
/** Signs in with a device; gives the answer. */
async function uses(device: Authenticator, app = 'moor') {
  const { attempt, options } = await asked(app);
  return ask('/sign-in/passkey', { json: { attempt, used: device.use(options.challenge, base, HOST) } }, app);
}

beforeAll(async () => {
  server = await TestServer.start();
  base = server.url.replace('127.0.0.1', HOST);
  for (const app of ['moor', 'fen']) {
    const rules = [{ id: 'u_people000', who: 'signed in', may: ['see'], table: T.keepers, where: ALL_RECORDS }];
    const access = { opens: 'people', mail: F.mail, roles: [], rules };
    await server.release(app, KEY, { ...hiveApp(), id: `a_${app}0000000`.slice(0, 12), people: T.keepers, access });
    for (const p of ['ines', 'tom'])
      await write(T.keepers, p, { [F.keeperName]: p, [F.mail]: `${p}@moor.example` }, app);
  }
});
afterAll(() => server.stop());
beforeEach(async () => {
  ines = await comes('ines@moor.example');
});

describe('a passkey', () => {
  it('is made by whoever has signed in, and signs them in, also after a restart', async () => {
    const device = new Authenticator();
    expect((await makes(device, ines)).status).toBe(200);
    const answer = await uses(device);
    expect([answer.status, answer.body]).toEqual([200, { signedIn: true }]);
    const { body } = await ask('/session', as(cookieOf(answer)));
    expect(body['who']).toEqual({ mail: 'ines@moor.example', person: 'ines' });
    await server.restart();
    base = server.url.replace('127.0.0.1', HOST);
    expect((await uses(device)).status).toBe(200);
    // Kept of it is the public half alone.
    const kept = await readFile(join(server.folder, 'data/moor/sign-ins.json'), 'utf8');
    expect(kept).toContain(device.id.toString('base64url'));
  });
  it('is listed to its person and the maker, and removed by them alone', async () => {
    const device = new Authenticator();
    await makes(device, ines);
    const tom = await comes('tom@moor.example');
    const id = device.id.toString('base64url');
    const ids = async (who: Call) =>
      ((await ask('/passkeys', who)).body['passkeys'] as { id: string }[]).map((p) => p.id);
    expect([(await ids(as(ines))).includes(id), await ids(as(tom)), (await ids({ key: KEY })).includes(id)]).toEqual([
      true,
      [],
      true,
    ]);
    expect((await ask(`/passkeys/${id}`, { method: 'DELETE', ...as(tom) })).status).toBe(404);
    expect((await uses(device)).status).toBe(200);
    expect((await ask(`/passkeys/${id}`, { method: 'DELETE', ...as(ines) })).status).toBe(200);
    expect((await uses(device)).status).toBe(422);
  });
  it('is of no use once its person is gone or has another address', async () => {
    const device = new Authenticator();
    const tom = await comes('tom@moor.example');
    await makes(device, tom);
    await write(T.keepers, 'tom', { [F.mail]: 'somebody.else@moor.example' });
    const refused = await uses(device);
    expect([refused.status, refused.headers.getSetCookie()]).toEqual([403, []]);
    await write(T.keepers, 'tom', { [F.mail]: 'tom@moor.example' });
    expect((await uses(device)).status).toBe(200);
    await ask('/people/tom/erase', { json: { tables: [] }, key: KEY });
    expect((await uses(device)).status).toBe(422);
    expect(await readFile(join(server.folder, 'data/moor/sign-ins.json'), 'utf8')).not.toContain('tom@moor.example');
  });
});

describe('tricks with passkeys', () => {
  const device = new Authenticator();
  beforeAll(async () => {
    await makes(device, await comes('ines@moor.example'));
  });
  it('the same answer twice, and an answer to what was asked of another', async () => {
    const { attempt, options } = await asked();
    const used = device.use(options.challenge, base, HOST);
    expect((await ask('/sign-in/passkey', { json: { attempt, used } })).status).toBe(200);
    expect((await ask('/sign-in/passkey', { json: { attempt, used } })).status).toBe(422);
    const other = await asked();
    expect((await ask('/sign-in/passkey', { json: { attempt: other.attempt, used } })).status).toBe(422);
  });
  it.each([
    ['from a page elsewhere', 'https://evil.example', HOST],
    ['for another site', '', 'evil.example'],
  ])('%s', async (_name, origin, host) => {
    const { attempt, options } = await asked();
    const used = device.use(options.challenge, origin || base, host);
    expect((await ask('/sign-in/passkey', { json: { attempt, used } })).status).toBe(422);
    expect((await makes(new Authenticator(), ines, { origin: origin || base, host })).status).toBe(422);
  });
  it('a device that did not ask who uses it, or whose counter has gone back', async () => {
    device.verifies = false;
    expect((await uses(device)).status).toBe(422);
    device.verifies = true;
    device.counter = 0;
    expect((await uses(device)).status).toBe(422);
    device.counter = 1000;
    expect((await uses(device)).status).toBe(200);
  });
  it('signed with another key under the same id', async () => {
    const forged = new Authenticator();
    Object.assign(forged, { id: device.id, counter: 5000 });
    expect((await uses(forged)).status).toBe(422);
    // Nor is it taken as a new passkey of somebody else.
    const tom = await comes('ines@moor.example');
    expect((await makes(forged, tom)).status).toBe(422);
  });
  it('one of another app of this server', async () => {
    expect((await uses(device, 'fen')).status).toBe(422);
  });
  it('made for somebody else than asked, or without having signed in', async () => {
    const { body } = await ask('/passkeys/begin', { json: {}, ...as(ines) });
    const { attempt, options } = body as unknown as Asked;
    const made = new Authenticator().make(options.challenge, base, HOST);
    expect((await ask('/passkeys', { json: { attempt, made } })).status).toBe(401);
    // What was asked to sign in with makes no passkey.
    const other = await asked();
    const wrong = new Authenticator().make(other.options.challenge, base, HOST);
    expect((await ask('/passkeys', { json: { attempt: other.attempt, made: wrong }, ...as(ines) })).status).toBe(422);
  });
  it('at an address of numbers, where browsers know no passkeys', async () => {
    const { status, body } = await call(server.url, '/api/apps/moor/passkeys/begin', { json: {}, ...as(ines) });
    expect([status, String(body['error'])]).toEqual([422, expect.stringContaining('an address with a name')]);
  });
  it('what is asked says nothing of who has one', async () => {
    const { options } = await asked();
    expect(Object.keys(options).sort()).toEqual(
      ['allowCredentials', 'challenge', 'rpId', 'timeout', 'userVerification'].filter((k) => k in options),
    );
    expect(JSON.stringify(options)).not.toContain(device.id.toString('base64url'));
  });
});
