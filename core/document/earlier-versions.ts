import { VERSION } from './version.ts';

type Json = Record<string, unknown>;

/** What each version but the last is brought into the next one by. */
const STEPS: Record<number, (doc: Json) => Json> = {
  // “finder” and “figure” became “search” and “sprite”.
  1: (doc) => renamedElements(doc, { finder: 'search', figure: 'sprite' }) as Json,
};

/** A document of an earlier version of the format in today's; its schema is checked afterwards. */
export function inTodaysVersion(stored: Json): Json {
  let doc = stored;
  for (let version = Number(stored['version']); version < VERSION; version++)
    doc = { ...STEPS[version]!(doc), version: version + 1 };
  return doc;
}

/** Gives elements, which are told by their ids, other kinds. */
function renamedElements(stored: unknown, names: Record<string, string>): unknown {
  if (Array.isArray(stored)) return stored.map((x) => renamedElements(x, names));
  if (typeof stored !== 'object' || stored === null) return stored;
  const inner: Json = Object.fromEntries(Object.entries(stored).map(([k, v]) => [k, renamedElements(v, names)]));
  const { id, kind } = inner;
  if (typeof id !== 'string' || !id.startsWith('e_') || typeof kind !== 'string') return inner;
  return Object.hasOwn(names, kind) ? { ...inner, kind: names[kind] } : inner;
}
