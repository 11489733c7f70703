import { proxy } from 'comlink';
import type { DrawnNode } from '../../core/screens/element.ts';
import { MANY, type Trial } from '../../core/screens/trials.ts';
import type { Patch } from '../../core/screens/live-screen.ts';
import type { PhoneApi } from '../../core/phone/api.ts';
import type { EngineRemote } from '../state/engine.ts';

/** A way to try a screen before people see it. */
export interface Strain {
  id: string;
  name: string;
  size: readonly [width: number, height: number];
  dark?: boolean;
  rightToLeft?: boolean;
  /** So many times as large, as people set it who read with difficulty. */
  zoom?: number;
  /** Every text that is drawn is as long as the longest of its element. */
  longest?: boolean;
  /** How the records turn out. */
  trial?: Trial;
  /** Pictures are on their way. */
  slow?: boolean;
}

const PHONE = [390, 844] as const;

export const STRAINS: readonly Strain[] = [
  { id: 'longest', name: 'The longest real texts', size: PHONE, longest: true },
  { id: 'missing', name: 'Values are missing', size: PHONE, trial: 'missing' },
  { id: 'empty', name: 'Lists are empty', size: PHONE, trial: 'none' },
  { id: 'many', name: `${MANY.toLocaleString('en-GB')} records`, size: PHONE, trial: 'many' },
  { id: 'narrow', name: '320 pixels wide', size: [320, 640] },
  { id: 'large', name: 'Twice as large', size: PHONE, zoom: 2 },
  { id: 'dark', name: 'Dark', size: PHONE, dark: true },
  { id: 'right', name: 'Right to left', size: PHONE, rightToLeft: true },
  { id: 'slow', name: 'A slow network', size: PHONE, slow: true },
  { id: 'turned', name: 'Turned', size: [844, 390] },
];

/** What elements say of records, by the names that their drawings give it. */
const SAID = new Set(['words', 'value', 'said']);

/** The way to the engine for a picture of a screen in which every text is as long as the longest of its element. */
export const withLongest = (api: PhoneApi): PhoneApi => ({
  ...api,
  show(view, screen, record, take) {
    const longest = new Map<string, string>();
    return api.show(view, screen, record, (patch) => take(longestIn(patch, longest)));
  },
});

/** The same in a trial of the records; `took` hears how long that took to work out, in milliseconds. */
export const inTrial = (
  api: PhoneApi,
  trial: Trial,
  engine: Pick<EngineRemote, 'trials'>,
  took: (ms: number) => void,
): PhoneApi => ({
  ...api,
  async show(view, screen, record, take) {
    const ms = await engine.trials.show(view, trial, screen, record, proxy(take));
    // What is around the screens, such as counts at tabs, is as it is.
    if (ms === null) return api.show(view, screen, record, take);
    took(ms);
    return true;
  },
  look: async (view, key, change) => engine.trials.look(view, key, change),
  leave: async (view) => {
    await Promise.all([engine.trials.leave(view), api.leave(view)]);
  },
});

/** A patch with longer texts. `longest` keeps the longest that each element has had in any of its rows. */
export function longestIn(patch: Patch, longest: Map<string, string>): Patch {
  for (const node of patch.set)
    for (const [name, v] of textsOf(node))
      if (v.length > (longest.get(`${node.id} ${name}`) ?? '').length) longest.set(`${node.id} ${name}`, v);
  return {
    ...patch,
    set: patch.set.map((node) => ({
      ...node,
      ...Object.fromEntries(textsOf(node).map(([name, v]) => [name, longest.get(`${node.id} ${name}`) ?? v])),
    })),
  };
}

const textsOf = (node: DrawnNode): [name: string, text: string][] =>
  Object.entries(node).filter((e): e is [string, string] => SAID.has(e[0]) && typeof e[1] === 'string');
