import { proxy, type Remote } from 'comlink';
import type { DrawnNode } from '../../core/screens/element.ts';
import { MANY } from '../../core/screens/many.ts';
import type { Patch } from '../../core/screens/live-screen.ts';
import type { PlayerApi } from '../../player/api.ts';
import type { StudioEngine } from '../engine/engine.ts';

/** A way to try a screen before people see it. */
export interface Strain {
  id: string;
  name: string;
  size: readonly [width: number, height: number];
  dark?: boolean;
  rightToLeft?: boolean;
  /** So many times as large, as people set it who read with difficulty. */
  zoom?: number;
  /** What becomes of the values that are drawn. */
  values?: 'longest' | 'missing' | 'no records';
  /** What it shows has thousands of records. */
  many?: boolean;
  /** Pictures are on their way. */
  slow?: boolean;
}

const PHONE = [390, 844] as const;

export const STRAINS: readonly Strain[] = [
  { id: 'longest', name: 'The longest real texts', size: PHONE, values: 'longest' },
  { id: 'missing', name: 'Values are missing', size: PHONE, values: 'missing' },
  { id: 'empty', name: 'Lists are empty', size: PHONE, values: 'no records' },
  { id: 'many', name: `${MANY.toLocaleString('en-GB')} records`, size: PHONE, many: true },
  { id: 'narrow', name: '320 pixels wide', size: [320, 640] },
  { id: 'large', name: 'Twice as large', size: PHONE, zoom: 2 },
  { id: 'dark', name: 'Dark', size: PHONE, dark: true },
  { id: 'right', name: 'Right to left', size: PHONE, rightToLeft: true },
  { id: 'slow', name: 'A slow network', size: PHONE, slow: true },
  { id: 'turned', name: 'Turned', size: [844, 390] },
];

/** What elements say of records, by the names that their drawings give it. */
const SAID = new Set(['words', 'value', 'said']);

/** The way to the engine for a picture of a screen, with the values of what is drawn put under strain. */
export function strained(api: PlayerApi, values: Strain['values']): PlayerApi {
  if (!values) return api;
  return {
    ...api,
    show(view, screen, record, take) {
      const longest = new Map<string, string>();
      return api.show(view, screen, record, (patch) => take(strainedPatch(patch, values, longest)));
    },
  };
}

/** The same with many records in what the screen shows; `took` hears how long that took to work out, in milliseconds. */
export const withManyRecords = (
  api: PlayerApi,
  engine: Pick<Remote<StudioEngine>, 'showMany' | 'lookMany' | 'leaveMany'>,
  took: (ms: number) => void,
): PlayerApi => ({
  ...api,
  async show(view, screen, record, take) {
    const ms = await engine.showMany(view, screen, record, proxy(take));
    // What is around the screens, such as counts at tabs, is as it is.
    if (ms === null) return api.show(view, screen, record, take);
    took(ms);
    return true;
  },
  look: async (view, key, change) => engine.lookMany(view, key, change),
  leave: async (view) => {
    await Promise.all([engine.leaveMany(view), api.leave(view)]);
  },
});

/** A patch with other values. `longest` keeps the longest text that each element has had in any of its rows. */
export function strainedPatch(
  patch: Patch,
  values: NonNullable<Strain['values']>,
  longest: Map<string, string>,
): Patch {
  if (values === 'longest')
    for (const node of patch.set)
      for (const [name, v] of Object.entries(node))
        if (SAID.has(name) && typeof v === 'string' && v.length > (longest.get(`${node.id} ${name}`) ?? '').length)
          longest.set(`${node.id} ${name}`, v);
  return { ...patch, set: patch.set.map((node) => strainedNode(node, values, longest)) };
}

function strainedNode(
  node: DrawnNode,
  values: NonNullable<Strain['values']>,
  longest: ReadonlyMap<string, string>,
): DrawnNode {
  if (values === 'no records') return Array.isArray(node['rows']) ? withoutRecords(node) : node;
  // What stands the same in every place is the maker’s own words; only what is in a row comes from a record.
  const isOfRecord = node.key !== node.id;
  return Object.fromEntries(
    Object.entries(node).map(([name, v]) => {
      if (!SAID.has(name) || typeof v !== 'string') return [name, v];
      if (values === 'longest') return [name, longest.get(`${node.id} ${name}`) ?? v];
      return [name, isOfRecord || name === 'value' ? '' : v];
    }),
  ) as DrawnNode;
}

/** What shows records, as if there were none: lines, columns of a board, marks of a plan. */
const withoutRecords = (node: DrawnNode): DrawnNode => ({
  ...node,
  rows: [],
  total: 0,
  records: 0,
  from: 0,
  ...(node['columns'] !== undefined && { columns: [] }),
  ...(node['marks'] !== undefined && { marks: [] }),
});
