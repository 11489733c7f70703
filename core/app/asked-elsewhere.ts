import type { AnyElement } from '../document/meaning.ts';
import { walkElements } from '../document/walk.ts';
import type { Records } from '../records/store.ts';
import { hostsIn, hostsOf } from './elsewhere.ts';
import type { App } from './schema.ts';

/** A host and how an app comes to it. */
export interface AskedHost {
  host: string;
  /** The app names it itself; its maker allowed it; records ask for it, which is not done. */
  how: 'named' | 'allowed' | 'barred';
  /** Of a barred one: so many records of this table have it, in such fields. */
  records: number;
  table: string;
}

/** Kinds that show what is at an address; of rich words only their pictures. */
const SHOWS = new Set(['picture', 'player', 'page', 'figure', 'plan', 'playfield', 'box']);
const RICH = new Set(['rich']);
const PICTURE_IN_WORDS = /!\[[^\]]*\]\([^)\s]+/g;

/**
 * The hosts that an app asks, and those that its records would have it ask. Looks once at the fields that elements with
 * an address read.
 */
export function askedElsewhere(app: App, records: Records): AskedHost[] {
  const allowed = new Set(app.elsewhere);
  const may = hostsOf(app);
  const found = Array.from(may, (host): AskedHost => ({
    host,
    how: allowed.has(host) ? 'allowed' : 'named',
    records: 0,
    table: '',
  }));
  const barred = new Map<string, AskedHost>();
  const [shown, rich] = [readBy(app, SHOWS), readBy(app, RICH)];
  for (const table of app.tables) {
    const fields = table.fields.filter((f) => shown.includes(f.id) || rich.includes(f.id));
    if (fields.length === 0) continue;
    for (const row of records.rows(table.id)) {
      const texts = fields.flatMap(({ id }) => {
        const cell = row.cells[id];
        if (typeof cell !== 'string') return [];
        return shown.includes(id) ? cell : (cell.match(PICTURE_IN_WORDS) ?? []);
      });
      for (const host of new Set(texts.flatMap(hostsIn))) {
        if (may.has(host)) continue;
        const known = barred.get(host);
        if (known) known.records++;
        else barred.set(host, { host, how: 'barred', records: 1, table: table.name });
      }
    }
  }
  return [...found, ...[...barred.values()].sort((a, b) => b.records - a.records)];
}

/** The formulas and words of elements of these kinds, as one text with the ids of the fields they read. */
function readBy(app: App, kinds: ReadonlySet<string>): string {
  const texts: string[] = [];
  for (const { root } of [...app.screens, ...(app.parts ?? [])])
    walkElements<AnyElement & { children?: unknown }>([root], (e) => {
      if (kinds.has(e.kind)) texts.push(JSON.stringify({ ...e, children: null }));
    });
  return texts.join();
}
