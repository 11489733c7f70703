import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';
import type { App } from '../core/app/schema.ts';
import { deviceClock } from '../core/document/time.ts';
import { stampText } from '../core/host/clock.ts';
import { Phone } from '../core/phone/phone.ts';
import type { PhonePorts } from '../core/phone/ports.ts';
import { someRecords } from '../core/records/fixture.ts';
import { Records } from '../core/records/store.ts';
import { allKinds } from '../core/session/fixture.ts';
import { MemoryStore } from '../core/world/memory.ts';

/** For tests of components: what jsdom leaves out and components ask for. Importing it puts it in place. */
class NoObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal('ResizeObserver', NoObserver);
Element.prototype.scrollTo = () => undefined;
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.hasPointerCapture = () => false;
afterEach(cleanup);

/** A phone in the same thread, with some records, as a page would use it. `session` is the rest that its session asks for. */
export function openPhone(app: App, session: Partial<PhonePorts['session']> = {}): Phone {
  const first = new Records(app);
  someRecords(first);
  const states = app.tables.flatMap((t) =>
    first.rows(t.id).map((r) => ({ table: t.id, id: r.id, cells: r.cells, stamp: stampText(1, 0, 'test') })),
  );
  const store = new MemoryStore();
  return new Phone(
    app,
    1,
    { states, queue: [] },
    {
      clock: deviceClock,
      store,
      kinds: allKinds,
      whole: async () => store,
      session: {
        send: async () => undefined,
        happened: () => undefined,
        ...session,
      },
      report: () => undefined,
      say: () => undefined,
      refused: () => undefined,
      overtaken: () => undefined,
    },
  );
}
