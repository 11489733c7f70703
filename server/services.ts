import { join } from 'node:path';
import { deviceClock } from '../core/document/time.ts';
import type { CameBack, Outgoing } from '../core/services/answer.ts';
import { askService } from '../core/services/asking.ts';
import { NoAnswer } from '../core/services/failures.ts';
import type { OutsideReply } from '../core/services/outside.ts';
import type { Where } from '../core/services/schema.ts';
import type { Outside } from './outside.ts';
import { ClientTokens } from './client-tokens.ts';
import { Secrets, type SecretName } from './secrets.ts';

/** A secret that is here, by what it is for. */
export interface KnownSecret {
  service: string;
  where: Where;
  origin: string;
}

const nameOf = ({ service, where, origin }: KnownSecret): SecretName => `${service}/${where}@${origin}`;

/** So many secrets of one maker’s app are kept. */
const MOST_SECRETS = 200;

/**
 * The services of apps, asked with their secrets. Secrets belong to an app of one maker: to its id, and to the key that
 * releases it. So they are here before a first release, and a released app finds those of whoever released it.
 */
export class Services {
  private readonly known = new Map<string, Secrets>();
  private readonly tokens = new ClientTokens((asked) => this.outside.ask(asked));

  constructor(
    private readonly outside: Outside,
    private readonly folder: string,
    private readonly key: Uint8Array,
  ) {}

  private of(app: string, keyHash: string): Secrets {
    const name = `${app}-${keyHash.slice(0, 32)}`;
    let secrets = this.known.get(name);
    if (!secrets) this.known.set(name, (secrets = new Secrets(join(this.folder, name), name, this.key)));
    return secrets;
  }

  /** The secrets of an app that are here; what they are stays here. */
  async secrets(app: string, keyHash: string): Promise<KnownSecret[]> {
    return (await this.of(app, keyHash).names()).flatMap((name) => {
      const [, service, where, origin] = /^([^/]+)\/(test|live)@(.+)$/.exec(name) ?? [];
      return service ? [{ service, where: where as Where, origin: origin! }] : [];
    });
  }

  /** Keeps a secret of an app, or lets go of it. Throws in words where there are too many. */
  async keep(app: string, keyHash: string, secret: KnownSecret, value: string | null): Promise<void> {
    const secrets = this.of(app, keyHash);
    if (value !== null && (await secrets.names()).length >= MOST_SECRETS)
      throw new Error(`An app keeps up to ${MOST_SECRETS} keys. Take away some that are not used.`);
    await secrets.set(nameOf(secret), value);
  }

  /** Asks a service for an app. Never rejects. */
  async ask(app: string, keyHash: string, asked: Outgoing): Promise<CameBack> {
    try {
      const { sign } = asked.service;
      if (sign.how !== 'client') return await this.send(app, keyHash, asked);
      const { id } = asked.service;
      const origin = originOf(sign.tokens);
      const secret = origin && (await this.of(app, keyHash).get(nameOf({ service: id, where: asked.where, origin })));
      if (!secret) throw new NoAnswer('unsigned');
      const token = await this.tokens.get(`${app} ${keyHash} ${id} ${asked.where}`, sign, secret);
      const came = await this.send(app, keyHash, { ...asked, token });
      if (!('reply' in came) || came.reply.status !== 401) return came;
      // It may have been ended before its time: a new one is tried once.
      this.tokens.forget(token);
      const again = await this.tokens.get(`${app} ${keyHash} ${id} ${asked.where}`, sign, secret);
      return await this.send(app, keyHash, { ...asked, token: again });
    } catch (e) {
      if (e instanceof NoAnswer) return { failed: { sort: e.sort, words: e.message } };
      return { failed: { sort: 'cut off', words: (e as Error).message } };
    }
  }

  private send(
    app: string,
    keyHash: string,
    { service, filled, where, mayRepeat, token }: Outgoing,
  ): Promise<{ reply: OutsideReply; tries: number }> {
    const { how } = service.sign;
    return askService(service, filled, where, mayRepeat, {
      send: (asked) => this.outside.ask(asked),
      secret: async (id, at, origin) =>
        how === 'person' || how === 'client'
          ? (token ?? null)
          : this.of(app, keyHash).get(nameOf({ service: id, where: at, origin })),
      clock: deviceClock,
      random: Math.random,
    });
  }
}

function originOf(address: string): string | null {
  try {
    return new URL(address).origin;
  } catch {
    return null;
  }
}
