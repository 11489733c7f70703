import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { draftsAt, type Go } from '../core/phone/places.ts';
import type { OnPage, PhonePage, Room, WalkApi, Where } from '../core/phone/walk.ts';
import type { Asked } from '../core/session/effects.ts';
import { Address } from './address.ts';
import { PageDrafts } from './drafts.ts';
import { Screens } from './screens.ts';

interface Draws {
  /** The address bar follows the screens. */
  inAddress: boolean;
  room: Room;
  /** An open screen shows something new; the first time where that is said. */
  drawn(opening: string, where: Where | null, isFirst: boolean): void;
  /** Says a message, or does something to an element. */
  does(effect: OnPage): Promise<void>;
}

/** Draws for somebody who walks through an app: where they are, what the open screens show, and what is asked. */
export function useWalk(walk: WalkApi, { inAddress, room, drawn, does }: Draws) {
  const [where, setWhere] = useState<Where | null>(null);
  const [isLeaving, setLeaving] = useState(false);
  const [asked, setAsked] = useState<readonly Asked[]>([]);
  const screens = useMemo(() => new Screens(), []);
  const drafts = useMemo(() => new PageDrafts((form, changed) => void walk.drafted(form, changed)), [walk]);
  const address = useRef<Address | null>(null);
  const now = useRef({ room, drawn, does, where });
  useLayoutEffect(() => {
    now.current = { room, drawn, does, where };
  });

  useEffect(() => {
    let current = true;
    const bar = inAddress ? new Address((to) => walk.go(to)) : null;
    address.current = bar;
    const page: PhonePage = {
      where: (next, kept) => {
        if (!current) return;
        if (next.by === 'begin') drafts.take(kept);
        // What is not seen is drawn anew when somebody comes back to it.
        screens.only(next.stack.flatMap((p, i) => (i >= next.seen || i === next.beside ? [p.opening] : [])));
        bar?.moved(next);
        now.current.where = next;
        setWhere(next);
      },
      draw: async (opening, patch) => {
        const isFirst = await screens.draw(opening, patch);
        if (current) now.current.drawn(opening, now.current.where, isFirst);
      },
      leaving: () => setLeaving(true),
      asks: (all) => current && setAsked(all),
      does: async (effect) => (current ? now.current.does(effect) : undefined),
    };
    const from = inAddress ? { ...Address.begins(), starts: true } : {};
    void walk.begin(page, { room: now.current.room, ...from });
    return () => {
      current = false;
      bar?.close();
      void walk.end();
    };
  }, [walk, screens, drafts, inAddress]);

  useEffect(() => void walk.inRoom(room), [walk, room]);

  const go = useCallback((to: Go) => void walk.go(to), [walk]);
  return {
    where,
    screens,
    drafts,
    go,
    asked,
    isLeaving,
    stay: () => {
      setLeaving(false);
      void walk.stay();
    },
    leaveAnyway: () => {
      setLeaving(false);
      drafts.drop(where?.stack.map(draftsAt) ?? []);
      void walk.leaveAnyway().then(() => address.current?.leave());
    },
  };
}

/** So wide, in pixels, an app is drawn as on a tablet, and as on a laptop. */
const WIDE = 700;
const WIDEST = 1040;

/** How much room there is to draw an app in. */
export function useRoom(root: RefObject<HTMLDivElement | null>): Room {
  const [room, setRoom] = useState<Room>('narrow');
  useLayoutEffect(() => {
    const box = root.current;
    if (!box) return undefined;
    const measure = (): void =>
      setRoom(box.offsetWidth >= WIDEST ? 'widest' : box.offsetWidth >= WIDE ? 'wide' : 'narrow');
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(box);
    return () => watch.disconnect();
  }, [root]);
  return room;
}
