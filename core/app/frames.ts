import type { AnyElement } from '../document/meaning.ts';
import type { ScreenDoc } from '../screens/live-screen.ts';
import type { App } from './schema.ts';

/** A place of a tab bar or drawer: a screen one tap away. */
export type Way = App['tabs'][number];

/** The tab bar and drawer are drawn as a screen of their own, which no maker sees: so their counts are live. */
export const FRAME_SCREEN = 's_frame000';

/** The element of the frame's screen that stands for a way, or for the head of the drawer. */
export const wayId = (of: 'tab' | 'dra', at: number): string => `e_${of}${String(at).padStart(3, '0')}`;
export const HEAD_ID = 'e_head000';

/** Tabs that a bar shows; when there are more, the last place is for the rest. */
export const TABS_SHOWN = 5;

/** As much of an app as its frame is made of. */
export type FrameDoc = Pick<App, 'tabs' | 'drawer'> & { access?: object | undefined };

/** Does anything of the frame change while the app is used? */
export const isLiveFrame = ({ tabs, drawer, access }: FrameDoc): boolean =>
  Boolean(access) || Boolean(drawer?.head) || [...tabs, ...(drawer?.ways ?? [])].some((w) => w.badge || w.seenWhen);

let made: { of: FrameDoc; doc: ScreenDoc } | null = null;

/** What the frame shows, as a screen: a text for each way with its count in it, seen when the way is. */
export function frameScreen(app: FrameDoc): ScreenDoc {
  if (made?.of.tabs === app.tabs && made.of.drawer === app.drawer) return made.doc;
  const text = (id: string, words: string, seenWhen?: string): AnyElement =>
    ({ id, kind: 'text', words, style: 'body', colour: 'ink', ...(seenWhen && { seenWhen }) }) as AnyElement;
  const of = (w: Way, id: string): AnyElement =>
    ({
      ...text(id, w.badge ? `{${w.badge}}` : '', w.seenWhen),
      tap: { do: 'open', screen: w.screen, give: '' },
      unlessRefused: true,
    }) as AnyElement;
  const children = [
    ...app.tabs.map((w, i) => of(w, wayId('tab', i))),
    ...(app.drawer?.ways ?? []).map((w, i) => of(w, wayId('dra', i))),
    text(HEAD_ID, app.drawer?.head ?? ''),
  ];
  const root = { id: 'e_frame000', kind: 'box', runs: 'down', gap: 0, inside: 0, surface: 'none', children };
  made = { of: app, doc: { id: FRAME_SCREEN, name: '', given: null, root: root as AnyElement } };
  return made.doc;
}
