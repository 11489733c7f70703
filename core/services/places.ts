import { compile } from '../formula/compile.ts';
import { Model } from '../records/model.ts';
import { pieces } from '../records/words.ts';
import { inputsAtHand } from './given.ts';
import type { ServiceRequest } from './schema.ts';

const NO_TABLES = new Model({ tables: [] });

/** The words of a request in which there may be places. */
function templates({ path, query, headers, body }: ServiceRequest): string[] {
  const all = [path, ...query.map((q) => q.value), ...headers.map((h) => h.value)];
  if (body?.is === 'form' || body?.is === 'parts') all.push(...body.parts.map((p) => p.value));
  if (body?.is === 'text') all.push(body.text);
  if (body?.is === 'json') {
    const walk = (json: unknown): void => {
      if (typeof json === 'string') all.push(json);
      else if (typeof json === 'object' && json !== null) Object.values(json).forEach(walk);
    };
    try {
      walk(JSON.parse(body.json));
    } catch {
      // What is no JSON has no places.
    }
  }
  return all;
}

/** What is wrong with the places of a request, in words; null where nothing is. */
export function brokenPlace(request: ServiceRequest): string | null {
  const options = NO_TABLES.optionsFor(null, inputsAtHand(request));
  for (const template of templates(request))
    for (const p of pieces(template)) {
      if (!('formula' in p)) continue;
      const wrong = compile(p.formula, options).problems.find((x) => x.severity === 'error');
      if (wrong) return wrong.message;
    }
  return null;
}
