import { SaxesParser } from 'saxes';
import { UnreadableError } from '../../document/unreadable.ts';

/** A property of an entity, by its EDM type. */
export interface EdmProperty {
  name: string;
  type: string;
}

/** The entities that a service has under one name. */
export interface EntitySet {
  name: string;
  key: EdmProperty[];
  properties: EdmProperty[];
  /** Properties that are lists or objects, which become no fields. */
  leftOut: string[];
}

/** What an OData service says of itself. */
export interface Metadata {
  version: 2 | 4;
  sets: EntitySet[];
  /** Functions and actions, which are not taken over. */
  functions: string[];
}

interface Entity {
  base: string;
  key: string[];
  properties: EdmProperty[];
  leftOut: string[];
}

/** More than this is no description that anybody chooses from. */
const MOST_LETTERS = 20_000_000;

/** Reads OData metadata: XML of versions 2 to 4 (CSDL), or JSON of version 4.01. Throws an {@link UnreadableError} in words. */
export function readMetadata(text: string, what: string): Metadata {
  if (text.length > MOST_LETTERS) throw new UnreadableError(`${what} is larger than 20 MB.`);
  return text.trimStart().startsWith('<') ? fromXml(text, what) : fromJson(text, what);
}

const bare = (name: string): string => name.slice(name.lastIndexOf('.') + 1);

/** Is a type one plain value? Names of other schemas are those of objects and enumerations. */
const isPlain = (type: string): boolean => /^Edm\.(?!Geo|Stream|ComplexType|EntityType)/.test(type);

function setOf(name: string, type: string, entities: ReadonlyMap<string, Entity>): EntitySet {
  const set: EntitySet = { name, key: [], properties: [], leftOut: [] };
  const seen = new Set<string>();
  for (
    let at = entities.get(bare(type)), own = bare(type);
    at && !seen.has(own);
    own = bare(at.base), at = entities.get(own)
  ) {
    seen.add(own);
    set.properties = [...at.properties, ...set.properties];
    set.leftOut = [...at.leftOut, ...set.leftOut];
    if (at.key.length) set.key = at.key.flatMap((k) => at!.properties.filter((p) => p.name === k));
  }
  return set;
}

function fromXml(text: string, what: string): Metadata {
  const entities = new Map<string, Entity>();
  const sets: { name: string; type: string }[] = [];
  const functions: string[] = [];
  let version: 2 | 4 = 2;
  let entity: Entity | null = null;
  let isIn = false;
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (e) => {
    throw new UnreadableError(`${what} is no XML that can be read: ${e.message}`);
  });
  parser.on('opentag', ({ name, attributes }) => {
    const a = attributes as Record<string, string>;
    switch (bare(name.replace(/^.*:/, ''))) {
      case 'Edmx':
        isIn = true;
        version = (a['Version'] ?? '').startsWith('4') ? 4 : 2;
        break;
      case 'EntityType':
        entity = { base: a['BaseType'] ?? '', key: [], properties: [], leftOut: [] };
        entities.set(a['Name'] ?? '', entity);
        break;
      case 'PropertyRef':
        entity?.key.push(a['Name'] ?? '');
        break;
      case 'Property':
        if (!entity || !a['Name']) break;
        if (isPlain(a['Type'] ?? 'Edm.String'))
          entity.properties.push({ name: a['Name'], type: a['Type'] ?? 'Edm.String' });
        else entity.leftOut.push(a['Name']);
        break;
      case 'EntitySet':
        sets.push({ name: a['Name'] ?? '', type: a['EntityType'] ?? '' });
        break;
      case 'FunctionImport':
      case 'ActionImport':
        functions.push(a['Name'] ?? '');
        break;
      default:
    }
  });
  parser.on('closetag', ({ name }) => {
    if (bare(name.replace(/^.*:/, '')) === 'EntityType') entity = null;
  });
  parser.write(text).close();
  if (!isIn) throw new UnreadableError(`${what} is no OData metadata.`);
  return { version, sets: sets.filter((s) => s.name).map((s) => setOf(s.name, s.type, entities)), functions };
}

type Json = Record<string, unknown>;
const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');

function fromJson(text: string, what: string): Metadata {
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch (e) {
    throw new UnreadableError(`${what} is no JSON: ${(e as Error).message}`);
  }
  if (!isObject(root) || !textOf(root['$Version'])) throw new UnreadableError(`${what} is no OData metadata.`);
  const entities = new Map<string, Entity>();
  const sets: { name: string; type: string }[] = [];
  const functions: string[] = [];
  for (const schema of Object.values(root).filter(isObject))
    for (const [name, part] of Object.entries(schema)) {
      if (!isObject(part)) continue;
      if (part['$Kind'] === 'EntityType') {
        const entity: Entity = { base: textOf(part['$BaseType']), key: [], properties: [], leftOut: [] };
        if (Array.isArray(part['$Key'])) entity.key = part['$Key'].filter((k) => typeof k === 'string');
        for (const [own, p] of Object.entries(part)) {
          if (own.startsWith('$') || own.startsWith('@') || !isObject(p) || p['$Kind'] === 'NavigationProperty')
            continue;
          const type = textOf(p['$Type']) || 'Edm.String';
          if (isPlain(type) && p['$Collection'] !== true) entity.properties.push({ name: own, type });
          else entity.leftOut.push(own);
        }
        entities.set(name, entity);
      }
      if (part['$Kind'] !== 'EntityContainer') continue;
      for (const [own, p] of Object.entries(part)) {
        if (!isObject(p)) continue;
        if (p['$Collection'] === true) sets.push({ name: own, type: textOf(p['$Type']) });
        else if (p['$Function'] !== undefined || p['$Action'] !== undefined) functions.push(own);
      }
    }
  return { version: 4, sets: sets.map((s) => setOf(s.name, s.type, entities)), functions };
}
