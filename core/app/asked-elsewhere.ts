import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import type { AnyElement, AnyStep, Properties } from '../document/meaning.ts';
import { walkElements, walkSteps } from '../document/walk.ts';
import type { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { hostOf, hostsIn, hostsOf } from './elsewhere.ts';
import type { App } from './schema.ts';

/** A host and how an app comes to it. */
export interface AskedHost {
  host: string;
  /** The app names it itself; its maker allowed it; records name it, and it is not asked. */
  how: 'named' | 'allowed' | 'barred';
  /** Of a barred one: so many records name it. */
  records: number;
  /** The first table with such records. */
  table: string;
}

/** An address with all of what is there; whatever that names is not asked. */
const IN_ITSELF = /^\s*(data|blob|ni):/i;
/** Pictures in rich words (CommonMark 0.31, 6.4). Links in them are only pressed. */
const PICTURE = /!\[[^\]]*\]\([^)\s]+/g;

/**
 * The hosts that an app asks, and those that its records would have it ask, the most frequent first. Looks once at the
 * fields that give addresses of pictures, sounds and pages.
 */
export function askedElsewhere(app: App, records: Records): AskedHost[] {
  const may = hostsOf(app);
  const barred = new Map<string, AskedHost>();
  const { shown, rich } = addressesIn(app);
  for (const table of app.tables) {
    const fields = table.fields.filter((f) => shown.includes(f.id) || rich.includes(f.id));
    if (fields.length === 0) continue;
    const namedBy = (row: Row): string[] =>
      fields.flatMap(({ id }) => {
        const texts = [row.get(id)].flat().filter((v) => typeof v === 'string');
        if (!shown.includes(id)) return texts.flatMap((t) => (t.match(PICTURE) ?? []).flatMap(hostsIn));
        // What is an address as a whole may be written in any way that browsers take: "//a.example/b.png".
        return texts.filter((t) => !IN_ITSELF.test(t)).flatMap((t) => [hostOf(t) ?? [], hostsIn(t)].flat());
      });
    for (const row of records.rows(table.id))
      for (const host of new Set(namedBy(row))) {
        if (may.has(host)) continue;
        const known = barred.get(host) ?? { host, how: 'barred', records: 0, table: table.name };
        barred.set(host, { ...known, records: known.records + 1 });
      }
  }
  const asked = Array.from(may, (host): AskedHost => {
    const how = app.elsewhere?.includes(host) ? 'allowed' : 'named';
    return { host, how, records: 0, table: '' };
  });
  return [...asked, ...[...barred.values()].sort((a, b) => b.records - a.records)];
}

/** What gives addresses that are asked, each as one text with the ids of the fields it reads. */
function addressesIn(app: App): { shown: string; rich: string } {
  const shown: unknown[] = [];
  const rich: unknown[] = [];
  const look = (held: object, properties: Properties = {}): void => {
    for (const [name, p] of Object.entries(properties))
      if (p.wants === 'picture' || p.wants === 'address') shown.push((held as Record<string, unknown>)[name]);
  };
  for (const { root } of [...app.screens, ...(app.parts ?? [])])
    walkElements<AnyElement>([root], (e) => {
      look(e, elementKinds.get(e.kind)?.properties);
      if (e.kind === 'rich') rich.push((e as AnyElement & { words?: string }).words);
    });
  for (const { steps } of app.routines) walkSteps<AnyStep>(steps, (s) => look(s, stepKinds.get(s.do)?.properties));
  return { shown: shown.join(), rich: rich.join() };
}
