import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { chmod, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { Where } from '../core/services/schema.ts';
import { makeFolder, writeWhole } from './disk.ts';

/** Keys and passwords of services, encrypted with AES-256-GCM (NIST SP 800-38D); the key lies beside the apps or comes from the environment. */

const KEY_FILE = 'secrets.key';
const NAME = 'secrets.json';
const KEY_BYTES = 32;
/** Random, as the standard allows for fewer than 2^32 of one key. */
const IV_BYTES = 12;
/** What is kept may be read and written by nobody but this server’s user. */
const MODE = 0o600;

const SecretsFile = z.record(z.string(), z.object({ iv: z.string(), text: z.string(), tag: z.string() }));
type SecretsFile = z.infer<typeof SecretsFile>;

/**
 * Which secret: of a service, where it is tried or where it is live, for the scheme, host and port it was given for. Where
 * the address of a service leads to another host, the secret does not go there.
 */
export type SecretName = `${string}/${Where}@${string}`;

/** The secrets of one app in its folder. What is bound to one name is not read by another. */
export class Secrets {
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly folder: string,
    private readonly app: string,
    private readonly key: Uint8Array,
  ) {}

  /** The names of the secrets that are here. */
  async names(): Promise<string[]> {
    return Object.keys(await this.read());
  }

  /** A secret; null where none was given. Throws in words where it cannot be read. */
  async get(name: SecretName): Promise<string | null> {
    const kept = (await this.read())[name];
    if (!kept) return null;
    try {
      const bytes = (text: string): Buffer => Buffer.from(text, 'base64');
      const decipher = createDecipheriv('aes-256-gcm', this.key, bytes(kept.iv), { authTagLength: 16 });
      decipher.setAAD(this.boundTo(name)).setAuthTag(bytes(kept.tag));
      return Buffer.concat([decipher.update(bytes(kept.text)), decipher.final()]).toString('utf8');
    } catch {
      throw new Error('A key of this app cannot be read: the server has another key for secrets. Type it in again.');
    }
  }

  /** Keeps a secret; null takes it away. */
  set(name: SecretName, secret: string | null): Promise<void> {
    const after = this.turn.then(async () => {
      const all = await this.read();
      if (secret === null) delete all[name];
      else all[name] = this.sealed(name, secret);
      await makeFolder(this.folder);
      await writeWhole(join(this.folder, NAME), JSON.stringify(all), MODE);
    });
    this.turn = after.catch(() => undefined);
    return after;
  }

  private sealed(name: SecretName, secret: string): SecretsFile[string] {
    const iv = randomBytes(IV_BYTES);
    const cipher = createCipheriv('aes-256-gcm', this.key, iv, { authTagLength: 16 }).setAAD(this.boundTo(name));
    const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return { iv: iv.toString('base64'), text: text.toString('base64'), tag: cipher.getAuthTag().toString('base64') };
  }

  private boundTo(name: SecretName): Buffer {
    return Buffer.from(`${this.app}\n${name}`);
  }

  private async read(): Promise<SecretsFile> {
    try {
      return SecretsFile.parse(JSON.parse(await readFile(join(this.folder, NAME), 'utf8')));
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code === 'ENOENT') return {};
      throw new Error('The keys of this app cannot be read: their file is damaged.', { cause: e });
    }
  }
}

/** The server’s key for secrets: from the environment (32 bytes in base 64), or made once and kept beside the apps. */
export async function secretsKey(folder: string, given = process.env['KITE_SECRETS_KEY']): Promise<Uint8Array> {
  if (given !== undefined) return keyOf(given, 'KITE_SECRETS_KEY');
  const path = join(folder, KEY_FILE);
  const kept = await readFile(path, 'utf8').catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT') return null;
    throw e;
  });
  if (kept !== null) {
    await chmod(path, MODE);
    return keyOf(kept, KEY_FILE);
  }
  const key = randomBytes(KEY_BYTES);
  await makeFolder(folder);
  await writeWhole(path, key.toString('base64'), MODE);
  return key;
}

function keyOf(text: string, what: string): Uint8Array {
  const key = Buffer.from(text.trim(), 'base64');
  if (key.length !== KEY_BYTES) throw new Error(`${what} is no key for secrets: it has 32 bytes, written in base 64.`);
  return key;
}
