import '../../kinds/elements/list/arranged.ts';
import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import { triggerKinds } from '../routines/kinds.ts';
import type { App } from '../app/schema.ts';
import { stampText } from '../host/clock.ts';
import { until } from '../document/time.ts';
import { newRecordId } from '../host/device.ts';
import { someRecords } from '../records/fixture.ts';
import { World } from '../world/world.ts';
import type { Records } from '../records/store.ts';
import { ScreenCompiler } from '../screens/compile.ts';
import type { Drawn, DrawnNode } from '../screens/element.ts';
import { LiveScreen, type Patch } from '../screens/live-screen.ts';
import type { ELEMENTS } from '../../kinds/elements/index.ts';
import type { Effect, Happened } from './effects.ts';
import { Session, type Kinds, type SessionPorts } from './session.ts';

type DrawnOf<K> = Drawn<Extract<(typeof ELEMENTS)[number], { kind: K }>>;

export const allKinds: Kinds = { elements: elementKinds, steps: stepKinds, triggers: triggerKinds };

/** What a page knows of a screen: the nodes that patches left there. For tests. */
export class Page {
  nodes = new Map<string, DrawnNode>();
  root = '';
  missing: string | null = null;
  patches = 0;

  take(patch: Patch | null): this {
    if (!patch) return this;
    this.patches++;
    this.root = patch.root;
    this.missing = patch.missing;
    for (const key of patch.gone) this.nodes.delete(key);
    for (const node of patch.set) this.nodes.set(node.key, node);
    return this;
  }

  /** The nodes that are seen, from the root on, in the order they are read. */
  seen(): DrawnNode[] {
    const out: DrawnNode[] = [];
    const walk = (key: string): void => {
      const node = this.nodes.get(key);
      if (!node) throw new Error(`The page was told of ${key}, and never of what it is.`);
      out.push(node);
      for (const k of (node['children'] as string[] | undefined) ?? []) walk(k);
      for (const row of (node['rows'] as { children: string[] }[] | undefined) ?? []) row.children.forEach(walk);
    };
    if (this.root) walk(this.root);
    return out;
  }

  find<K extends string>(kind: K): DrawnOf<K>[] {
    return this.seen().filter((n) => n.kind === kind) as unknown as DrawnOf<K>[];
  }

  texts(): string[] {
    return this.find('text').map((t) => t.words);
  }
}

/** Draws a screen of an app once. For tests. */
export function drawn(
  app: App,
  records: Records,
  screen: string,
  record: string | null = null,
): Page & { problems: string[] } {
  const compiler = new ScreenCompiler(elementKinds, records, app);
  const live = new LiveScreen(
    compiler,
    app.screens.find((s) => s.id === screen)!,
    record,
  );
  const page = new Page().take(live.take());
  live.close();
  return Object.assign(page, { problems: live.problems });
}

/** What a test puts in the place of what a session has on a phone of a world. */
type Instead = Partial<SessionPorts> | ((records: Records) => Partial<SessionPorts>);

/** A session on a phone of a world, with what it did. Phone and host begin with the same records. For tests. */
export function openSession(app: App, instead: Instead = {}, fill: (records: Records) => void = someRecords) {
  const effects: Effect[] = [];
  const happened: Happened[] = [];
  const world = new World({ app, kinds: allKinds });
  const on = world.phone();
  const { device, records } = on;
  fill(records);
  // Nobody wrote them in this session.
  const states = app.tables.flatMap((t) =>
    records.rows(t.id).map((r) => ({ table: t.id, id: r.id, cells: r.cells, stamp: stampText(1, 0, 'test') })),
  );
  on.replica.load(states);
  world.host.replica.load(states);
  const session = new Session(app, records, allKinds, {
    device,
    send: async () => undefined,
    file: async () => null,
    happened: (h) => happened.push(h),
    effect: (e) => effects.push(e),
    world: { now: () => world.clock.now(), newId: newRecordId, until: (time) => until(world.clock, time) },
    ...(typeof instead === 'function' ? instead(records) : instead),
  });
  const page = new Page();
  /** Shows a screen as one that a person opened; with null as `key`, as a preview of it. */
  const show = (screen: string, record: string | null = null, key: string | null = 'o1'): Page => {
    const opening = key === null ? undefined : { key, open: [key] };
    session.show('phone', screen, record, (patch) => void page.take(patch), opening);
    return page;
  };
  return { session, world, device, records, effects, happened, page, show };
}
