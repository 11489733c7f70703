import type { AnyElement } from '../document/meaning.ts';
import type { Tap } from '../document/pieces.ts';
import { walkElements, walkSteps } from '../document/walk.ts';
import { isPartUse } from '../screens/part-places.ts';
import type { App } from './schema.ts';

/** A tap or step that leads from one screen to another. */
export interface WayBetween {
  from: string;
  to: string;
  /** The element that is tapped; of a part, its place. */
  element: string;
  as: 'over' | 'instead' | 'sheet';
}

/** Every tap of an element, those of a part's places among them. */
export function tapsOf(e: AnyElement): Tap[] {
  const held = e as AnyElement & { tap?: Tap; taps?: { tap: Tap }[] };
  return [...(held.tap ? [held.tap] : []), ...(held.taps ?? []).map((t) => t.tap)];
}

/** Visits every tap on a screen, within parts too, with the element of the screen that it belongs to. */
export function walkTaps(
  app: Pick<App, 'parts'>,
  root: AnyElement,
  visit: (tap: Tap, element: AnyElement) => void,
): void {
  /** `seen` are the parts of the place that is looked through: however often one of them stands in it, its taps are the same. */
  const walk = (at: AnyElement, owner: AnyElement | null, seen: Set<string>): void =>
    walkElements<AnyElement>([at], (e) => {
      for (const tap of tapsOf(e)) visit(tap, owner ?? e);
      const part = isPartUse(e) ? app.parts?.find((p) => p.id === e.part) : undefined;
      if (!part || (owner && seen.has(part.id))) return;
      const own = owner ? seen : new Set<string>();
      own.add(part.id);
      walk(part.root, owner ?? e, own);
    });
  walk(root, null, new Set());
}

/** All ways between screens, by taps and by the routines that taps run; each pair once an element. */
export function waysBetween(app: App): WayBetween[] {
  const found = new Map<string, WayBetween>();
  const opens = new Map<string, { to: string; as: WayBetween['as'] }[]>();
  for (const r of app.routines) {
    const list: { to: string; as: WayBetween['as'] }[] = [];
    walkSteps(r.steps, (s) => {
      if (s.do === 'open') list.push({ to: s.screen, as: s.as ?? 'over' });
    });
    opens.set(r.id, list);
  }
  for (const s of app.screens)
    walkTaps(app, s.root, (tap, e) => {
      const targets =
        tap.do === 'open'
          ? [{ to: tap.screen, as: tap.as ?? ('over' as const) }]
          : tap.do === 'routine'
            ? (opens.get(tap.routine) ?? [])
            : [];
      for (const { to, as } of targets)
        if (app.screens.some((x) => x.id === to) && to !== s.id)
          found.set(`${s.id} ${to} ${e.id}`, { from: s.id, to, element: e.id, as });
    });
  return [...found.values()];
}
