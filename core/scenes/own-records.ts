import { peopleTable } from '../app/people.ts';
import type { App } from '../app/schema.ts';
import type { Scene } from '../app/scene-schema.ts';

interface State {
  table: string;
  id: string;
  cells: Record<string, string | number | boolean | null>;
}

/**
 * The records that a scene needs to begin by itself: those that it names, the people of its cast, and what these link to,
 * over any number of links.
 */
export function neededRecords(app: App, scene: Scene, states: readonly State[]): NonNullable<Scene['records']> {
  const text = JSON.stringify([scene.steps, scene.cast]);
  const byId = new Map(states.map((s) => [s.id, s]));
  const links = new Map(app.tables.map((t) => [t.id, t.fields.filter((f) => f.link).map((f) => f.id)]));
  const needed = new Set<string>();
  const people = app.people ?? peopleTable(app)?.id;
  const open: string[] = [];
  const need = (id: string): void => {
    if (!byId.has(id) || needed.has(id)) return;
    needed.add(id);
    open.push(id);
  };
  for (const s of states) if (text.includes(`"${s.id}"`)) need(s.id);
  for (const { persona } of scene.cast) if (persona.is === 'person') need(persona.record);
  while (open.length) {
    const { table, cells } = byId.get(open.pop()!)!;
    for (const f of links.get(table) ?? []) for (const id of idsIn(cells[f])) need(id);
  }
  // Whoever writes to somebody by name finds them.
  if (people && needed.size === 0) for (const s of states) if (s.table === people) need(s.id);
  return states
    .filter((s) => needed.has(s.id))
    .map(({ table, id, cells }) => ({ table, id, cells: JSON.parse(JSON.stringify(cells)) as State['cells'] }));
}

/** The ids in a cell of a link: one, or a list of several. */
const idsIn = (cell: State['cells'][string] | undefined): string[] =>
  typeof cell === 'string' ? cell.split(/[^a-zA-Z0-9_-]+/).filter(Boolean) : [];
