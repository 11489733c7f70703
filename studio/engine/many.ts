import type { App } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import type { Records } from '../../core/records/store.ts';
import { ScreenCompiler } from '../../core/screens/compile.ts';
import type { ScreenDoc } from '../../core/screens/live-screen.ts';
import { withMany } from '../../core/screens/many.ts';
import { Stage, type Show } from '../../core/session/stage.ts';
import { elementKinds } from '../../kinds/elements/index.ts';

/** Screens drawn with many records, beside the phone that has the real ones. */
export class ManyShown {
  private readonly stages = new Map<string, { stage: Stage; again(): void }>();

  constructor(
    private readonly records: Records,
    private readonly app: () => App,
  ) {}

  /** Shows a screen in a view. Gives the milliseconds it took to work out; null when there is no such screen. */
  show(view: string, screen: string, record: string | null, take: Show): number | null {
    this.leave(view);
    const app = this.app();
    const doc = app.screens.find((s) => s.id === screen);
    if (!doc) return null;
    const compiler = new ScreenCompiler(elementKinds, withMany(app, this.records, tablesOn(app, doc)), app);
    const stage = new Stage(take);
    this.stages.set(view, { stage, again: () => void this.show(view, screen, record, take) });
    const began = performance.now();
    stage.open(compiler, doc, record);
    return performance.now() - began;
  }

  look(view: string, key: string, change: Record<string, unknown>): void {
    this.stages.get(view)?.stage.look(key, change);
  }

  leave(view: string): void {
    this.stages.get(view)?.stage.close();
    this.stages.delete(view);
  }

  /** The document is another: everything is drawn anew from it. */
  changed(): void {
    // Each takes its own place anew, so they are counted first.
    const shown = Array.from(this.stages.values());
    for (const { again } of shown) again();
  }
}

/** The tables whose records are shown on a screen, in its parts too. */
function tablesOn(app: App, screen: ScreenDoc): Set<string> {
  const tables = new Set<string>();
  const seen = new Set<string>();
  const look = (root: ScreenDoc['root']): void =>
    walkElements([root], (e) => {
      const { query, part } = e as { query?: { table: string }; part?: string };
      if (query) tables.add(query.table);
      const there = e.kind === 'part' && part && !seen.has(part) ? app.parts?.find((p) => p.id === part) : undefined;
      if (!there) return;
      seen.add(there.id);
      look(there.root);
    });
  look(screen.root);
  return tables;
}
