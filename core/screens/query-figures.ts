import type { Query, Where } from '../document/pieces.ts';
import type { Value } from '../formula/values.ts';
import { compileWhere, whereWords } from '../records/conditions.ts';
import { SELF_SLOT } from '../records/model.ts';
import { compileQuery } from '../records/query.ts';
import type { Records } from '../records/store.ts';
import { reachOfScreen } from './reach.ts';
import type { ScreenDoc } from './live-screen.ts';

/** What one condition, or a group of them, keeps out of a list. */
export interface LeftOut {
  said: string;
  count: number;
  /** The first of those records, by title. */
  records: { id: string; title: string }[];
}
export interface QueryFigures {
  shown: number;
  of: number;
  ms: number;
  leftOut: LeftOut[];
}

/** As many of the records left out as are told. */
const MOST_TOLD = 50;

/**
 * How many records a list on a screen shows, of how many, how long finding them took, and what each of its conditions
 * left out. A record that two conditions keep out is counted for both. Without a record the screen's first is taken.
 */
export function queryFigures(records: Records, screen: ScreenDoc, query: Query, record: string | null): QueryFigures {
  const { things } = reachOfScreen(records.model, screen);
  const { given } = screen;
  const row = given ? (record ? records.row(given, record) : records.rows(given)[0]) : null;
  const values = things.map((_, i): Value => (i === 0 && given ? (row ?? null) : null));
  const compiled = compileQuery(records, query, things);
  const started = performance.now();
  const found = compiled.run(values).length;
  const ms = performance.now() - started;

  const frame = compiled.frame(values);
  const source = compiled.source(frame);
  const options = records.model.optionsFor(query.table, things);
  const leftOut = partsOf(query.where).map((where): LeftOut => {
    const { test } = compileWhere(where, options);
    const out = source.filter((r) => {
      frame[SELF_SLOT] = r;
      try {
        return !test(frame);
      } catch {
        return true; // as the list itself has it
      }
    });
    return {
      said: whereWords(where, (formula) => records.model.shown(formula)),
      count: out.length,
      records: out.slice(0, MOST_TOLD).map((r) => ({ id: r.id, title: r.title() })),
    };
  });
  const limited = Math.min(found, compiled.most(values));
  return {
    shown: limited,
    of: records.rows(query.table).length,
    ms,
    leftOut: leftOut.filter((l) => l.count > 0),
  };
}

/** The conditions that each must hold; where any is enough, all of them together. */
function partsOf(where: Where): Where[] {
  const { conditions, groups = [], match } = where;
  if (match === 'any') return conditions.length + groups.length ? [where] : [];
  return [...conditions.map((c): Where => ({ match: 'all', conditions: [c] })), ...groups];
}
