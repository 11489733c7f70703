import type { PhoneApi } from '../core/phone/api.ts';
import type { NewPlace, Place } from '../core/phone/places.ts';
import type { PhonePage, WalkApi } from '../core/phone/walk.ts';

let pictures = 0;

/** Shows one screen at a time and leads nowhere: for pictures of screens, in which nobody walks. */
export function picture(api: PhoneApi, first: NewPlace): WalkApi {
  let page: PhonePage | null = null;
  let shown: Place | null = null;
  const show = (place: NewPlace): void => {
    const at: Place = { ...place, opening: `picture${++pictures}` };
    if (shown) void api.leave(shown.opening);
    shown = at;
    page?.where({ stack: [at], by: 'set', seen: 0, beside: null, isStart: false }, {});
    const draw: PhonePage['draw'] = async (opening, patch) => page?.draw(opening, patch);
    void api.show(at.opening, at.screen, at.record, (patch) => draw(at.opening, patch)).catch(() => undefined);
  };
  return {
    begin: async (to) => {
      page = to;
      show(first);
    },
    end: async () => {
      page = null;
      if (shown) await api.leave(shown.opening);
      shown = null;
    },
    go: async (to) => {
      if (to.to === 'set' || to.to === 'history') show(to.stack.at(-1)!);
      return true;
    },
    inRoom: async () => undefined,
    drafted: async () => undefined,
    saved: async () => undefined,
    leaveAnyway: async () => undefined,
    stay: async () => undefined,
  };
}
