import { upgrade } from '@scalar/openapi-parser';
import { parse as parseYaml } from 'yaml';
import { UnreadableError } from '../../document/unreadable.ts';

/** A value of a description: whatever it is, it is looked at before it is used. */
export type Json = unknown;
export type JsonObject = Record<string, Json>;

export const isObject = (v: Json): v is JsonObject => typeof v === 'object' && v !== null && !Array.isArray(v);
export const textOf = (v: Json): string => (typeof v === 'string' ? v.trim() : '');
export const listIn = (v: Json): Json[] => (Array.isArray(v) ? v : []);

/** A description larger than this is not read; the largest that are known are a quarter of it. */
const MOST_LETTERS = 20_000_000;
const DEEPEST_REF = 20;

/**
 * An OpenAPI document of any version (Swagger 2.0, OpenAPI 3.0 and 3.1), brought to 3.1. References lead to other places of
 * it as they are followed, so circles do no harm; those that lead elsewhere are not followed and are told.
 */
export class OpenApiDocument {
  /** References to other files and addresses that were met. */
  readonly elsewhere = new Set<string>();

  private constructor(readonly root: JsonObject) {}

  /** Reads JSON or YAML. Throws an {@link UnreadableError} in words. */
  static read(text: string, what: string): OpenApiDocument {
    if (text.length > MOST_LETTERS)
      throw new UnreadableError(`${what} is larger than 20 MB. Bring a smaller description.`);
    const given = parsed(text, what);
    if (!isObject(given) || !(typeof given['openapi'] === 'string' || given['swagger'] !== undefined))
      throw new UnreadableError(
        `${what} is no OpenAPI or Swagger description: it does not say “openapi” or “swagger”.`,
      );
    if (!isObject(given['paths']) && !isObject(given['webhooks']))
      throw new UnreadableError(`${what} describes nothing that can be asked: it has no paths.`);
    let root: Json;
    try {
      root = upgrade(given as never).specification;
    } catch (e) {
      throw new UnreadableError(`${what} cannot be brought to OpenAPI 3.1: ${(e as Error).message}`);
    }
    return new OpenApiDocument(root as JsonObject);
  }

  /** What something is, behind its references. Null where they lead nowhere, elsewhere or in a circle. */
  follow(value: Json): Json {
    let at = value;
    for (let deep = 0; deep < DEEPEST_REF; deep++) {
      const ref = isObject(at) ? at['$ref'] : undefined;
      if (typeof ref !== 'string') return at;
      at = this.at(ref);
    }
    return null;
  }

  object(value: Json): JsonObject | null {
    const found = this.follow(value);
    return isObject(found) ? found : null;
  }

  /** What a reference names: a JSON pointer in this document (RFC 6901). */
  private at(ref: string): Json {
    if (!ref.startsWith('#')) {
      this.elsewhere.add(ref);
      return null;
    }
    let at: Json = this.root;
    for (const part of ref.slice(1).split('/').slice(1)) {
      const key = decoded(part).replaceAll('~1', '/').replaceAll('~0', '~');
      at = Array.isArray(at) ? at[Number(key)] : isObject(at) && Object.hasOwn(at, key) ? at[key] : null;
      if (at === undefined) return null;
    }
    return at;
  }
}

function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

function parsed(text: string, what: string): Json {
  const bare = text.replace(/^\uFEFF/, '');
  try {
    return JSON.parse(bare);
  } catch (e) {
    if (/^\s*[[{]/.test(bare) && !/^\s*\{\s*$/m.test(bare.slice(0, 2))) {
      // What begins as JSON may be YAML in its flow form, too; where it is neither, the JSON is told of.
      try {
        return parseYaml(bare, { maxAliasCount: 200 });
      } catch {
        throw new UnreadableError(`${what} is cut off or no JSON: ${(e as Error).message}`);
      }
    }
  }
  try {
    return parseYaml(bare, { maxAliasCount: 200 });
  } catch (e) {
    throw new UnreadableError(`${what} is neither JSON nor YAML: ${(e as Error).message.split('\n')[0]!}`);
  }
}
