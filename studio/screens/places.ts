import { walkElements } from '../../core/app/names.ts';
import type { App, Element, Screen } from '../../core/app/schema.ts';
import type { FormulaPlace } from '../engine/engine.ts';

/** Where the formulas of an element stand: on its screen, and inside the row of a list when it is in one. */
export function placeOfElement(screen: Screen, elementId: string): FormulaPlace {
  const parents = new Map<string, Element | null>();
  const byId = new Map<string, Element>();
  walkElements([screen.root], (e, parent) => {
    parents.set(e.id, parent);
    byId.set(e.id, e);
  });
  let rowOf: string | null = null;
  for (let p = parents.get(elementId) ?? null; p; p = parents.get(p.id) ?? null) {
    if (p.kind === 'list') {
      rowOf = p.query.table;
      break;
    }
  }
  return { self: null, given: screen.given, rowOf };
}

/** The form an input stands in. */
export function formAround(screen: Screen, elementId: string): Extract<Element, { kind: 'form' }> | null {
  let found: Extract<Element, { kind: 'form' }> | null = null;
  walkElements([screen.root], (e) => {
    if (e.kind !== 'form') return;
    walkElements(e.children, (c) => {
      if (c.id === elementId) found = e;
    });
  });
  return found;
}

/** What an element is called in the outline. */
export function elementName(app: App, e: Element): string {
  if (e.name) return e.name;
  const plain = (s: string): string => s.replace(/\{[^}]*\}/g, '…').trim();
  switch (e.kind) {
    case 'text':
      return withFields(app, e.words) || 'Text';
    case 'button':
      return plain(e.words) || 'Button';
    case 'reading':
      return e.label || 'Reading';
    case 'list':
      return `List of ${app.tables.find((t) => t.id === e.query.table)?.name ?? 'nothing yet'}`;
    case 'form':
      return `Form for ${app.tables.find((t) => t.id === e.table)?.one ?? 'nothing yet'}`;
    case 'input':
      return app.tables.flatMap((t) => t.fields).find((f) => f.id === e.field)?.name ?? 'Input';
    case 'picture':
      return 'Picture';
    case 'box':
      return e.runs === 'across' ? 'Row' : 'Box';
  }
}

/** Words with each value in them called by its last field. */
function withFields(app: App, words: string): string {
  const names = new Map(app.tables.flatMap((t) => t.fields.map((f) => [f.id, f.name] as const)));
  return words
    .replace(/\{[^}]*\}/g, (place) => names.get(place.match(/f_[a-z0-9]{6,}(?!\w)/g)?.at(-1) ?? '') ?? '…')
    .trim();
}
