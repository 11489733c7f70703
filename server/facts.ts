import { z } from 'zod';
import { askedHosts, hostsOf } from '../core/app/elsewhere.ts';
import { phoneHalf } from '../core/app/halves.ts';
import { startsByHost } from '../core/runs/starting.ts';
import { isLiveFrame } from '../core/app/frames.ts';
import type { App } from '../core/app/schema.ts';
import { FONTS } from '../core/app/theme.ts';
import { dressed, type Dressed } from '../core/app/themes.ts';
import type { AnyElement, AnyStep } from '../core/document/meaning.ts';
import { walkElements, walkSteps } from '../core/document/walk.ts';

const Look = z.custom<Dressed>((v) => typeof v === 'object' && v !== null && 'light' in v && 'dark' in v);

/** What the server itself must know of a released document: it is made in a thread, and the document stays on the disk. */
export const ReleaseFacts = z.object({
  app: z.string(),
  name: z.string(),
  /** What it is for, in its maker's words. */
  about: z.string().optional(),
  /** The version of the document's form. */
  version: z.number(),
  /** The colour of its ground in the light. */
  ground: z.string(),
  /** The kinds that it uses, as folders: `elements/text`. */
  kinds: z.array(z.string()),
  icons: z.array(z.string()),
  /** Its fonts as their files begin: "hanken-grotesk". */
  fonts: z.array(z.string()),
  /** Hosts elsewhere that it may ask; absent in releases of before. */
  hosts: z.array(z.string()).optional(),
  /** Hosts of services that its phones ask themselves. */
  asks: z.array(z.string()).optional(),
  /** How it looks, worked out; absent in releases of before. */
  look: Look.optional(),
  /** Its document is kept in two halves; those of before are one, where that of phones is now. */
  halves: z.literal(true).optional(),
  /** It has rules of who may do what; and nobody comes in who has not signed in. */
  ruled: z.literal(true).optional(),
  closed: z.literal(true).optional(),
  /** It keeps tables in step with services, so that it runs without being asked for. */
  inStep: z.literal(true).optional(),
  /** Its host starts routines, so that it runs without being asked for. */
  works: z.literal(true).optional(),
});
export type ReleaseFacts = z.infer<typeof ReleaseFacts>;

export function factsOf(app: App): ReleaseFacts {
  const look = dressed(app.look);
  const { light, text, head } = look;
  return {
    app: app.id,
    name: app.name,
    ...(app.about?.trim() && { about: app.about.trim() }),
    version: app.version,
    ground: light.ground,
    kinds: [...kindsIn(phoneHalf(app))],
    icons: [...iconsIn(app)],
    fonts: [...new Set([text, head])].map((id) => FONTS[id].replace(' Variable', '').toLowerCase().replace(/ /g, '-')),
    hosts: [...hostsOf(app)],
    asks: askedHosts(app),
    look,
    halves: true,
    ...(startsByHost(app) && { works: true as const }),
    ...(app.access && { ruled: true as const }),
    ...(app.access && app.access.opens !== 'anybody' && { closed: true as const }),
    ...(app.tables.some((t) => t.inStep) && { inStep: true as const }),
  };
}

/** The kinds that an app uses, as folders: `elements/text`. */
function kindsIn(app: App): Set<string> {
  const used = new Set<string>();
  const folder = (kind: string): string => kind.replace(/ /g, '-');
  for (const s of [...app.screens, ...(app.parts ?? [])])
    walkElements<AnyElement>([s.root], (e) => void used.add(`elements/${folder(e.kind)}`));
  // What a type of field is filled in with; a link by that of links.
  for (const f of [...app.tables.flatMap((t) => t.fields), ...(app.variables ?? [])]) used.add(`fields/${f.type}`);
  if (isLiveFrame(app)) for (const kind of ['box', 'text']) used.add(`elements/${kind}`);
  for (const r of app.routines) {
    walkSteps<AnyStep>(r.steps, (s) => void used.add(`steps/${folder(s.do)}`));
    for (const t of r.starts ?? []) used.add(`triggers/${folder(t.on)}`);
  }
  return used;
}

/** Icons that the player itself and its views draw, whatever the app. */
export const PLAYER_ICONS = [
  'chevron-left',
  'chevron-right',
  'chevron-down',
  'grip',
  'search',
  'image',
  'menu',
  'close',
  'more',
  'plus',
  'minus',
];

/**
 * The names of icons that an app may come to draw. Any text of the document counts that could be one, and any text
 * written within a formula: `if done then "check" else "clock"`.
 */
export function iconsIn(app: App): Set<string> {
  const names = new Set(PLAYER_ICONS);
  const look = (value: unknown): void => {
    if (typeof value === 'string') {
      if (/^[a-z-]{2,24}$/.test(value)) names.add(value);
      for (const [, written] of value.matchAll(/"([a-z-]{2,24})"/g)) names.add(written!);
    } else if (value && typeof value === 'object') for (const inner of Object.values(value)) look(inner);
  };
  look(app);
  return names;
}
