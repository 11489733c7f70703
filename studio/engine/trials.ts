import type { App } from '../../core/app/schema.ts';
import { walkElements } from '../../core/document/walk.ts';
import { allId } from '../../core/document/ids.ts';
import type { Query } from '../../core/document/pieces.ts';
import type { Records } from '../../core/records/store.ts';
import { ScreenCompiler } from '../../core/screens/compile.ts';
import type { ScreenDoc } from '../../core/screens/live-screen.ts';
import { tried, type Trial, type Tried } from '../../core/screens/trials.ts';
import { Stage, type Show } from '../../core/session/stage.ts';
import { elementKinds } from '../../core/screens/kinds.ts';

/** Screens drawn with records that turned out in another way, beside the phone that has the real ones. */
export class TrialsShown {
  private readonly stages = new Map<string, { stage: Stage; take: Show; redo(): void }>();

  constructor(
    private readonly records: Records,
    private readonly app: () => App,
    /** What was given to draw a view is needed no more. */
    private readonly letGo: (take: Show) => void = () => {},
  ) {}

  /** Shows a screen in a view. Gives the milliseconds it took to work out; null when there is no such screen. */
  show(view: string, trial: Trial, screen: string, record: string | null, take: Show): number | null {
    const before = this.stages.get(view);
    before?.stage.close();
    if (before && before.take !== take) this.letGo(before.take);
    this.stages.delete(view);
    const app = this.app();
    const doc = app.screens.find((s) => s.id === screen);
    if (!doc) return null;
    const records = tried(app, this.records, trial, triedOn(app, doc, record));
    const compiler = new ScreenCompiler(elementKinds, records, app);
    const stage = new Stage(take);
    this.stages.set(view, { stage, take, redo: () => void this.show(view, trial, screen, record, take) });
    const began = performance.now();
    stage.open(compiler, doc, record);
    return performance.now() - began;
  }

  look(view: string, key: string, change: Record<string, unknown>): void {
    this.stages.get(view)?.stage.look(key, change);
  }

  leave(view: string): void {
    const shown = this.stages.get(view);
    if (!shown) return;
    shown.stage.close();
    this.letGo(shown.take);
    this.stages.delete(view);
  }

  /** The document is another: everything is drawn anew from it. */
  changed(): void {
    // Each takes its own place anew, so they are counted first.
    const shown = Array.from(this.stages.values());
    for (const { redo } of shown) redo();
  }
}

/** What a trial of a screen turns on: the queries and formulas on it, in its parts too. */
function triedOn(app: App, screen: ScreenDoc, record: string | null): Tried {
  const queries: Query[] = [];
  let words = JSON.stringify(screen.root);
  const seen = new Set<string>();
  const look = (root: ScreenDoc['root']): void =>
    walkElements([root], (e) => {
      const { query, part } = e as { query?: Query; part?: string };
      if (query) queries.push(query);
      const there = e.kind === 'part' && part && !seen.has(part) ? app.parts?.find((p) => p.id === part) : undefined;
      if (!there) return;
      seen.add(there.id);
      words += JSON.stringify(there.root);
      look(there.root);
    });
  look(screen.root);
  return {
    // Formulas name all records of a table too: "count(all Hives)".
    tables: new Set([
      ...queries.map((q) => q.table),
      ...app.tables.filter((t) => words.includes(allId(t.id))).map((t) => t.id),
    ]),
    wants: JSON.stringify([screen.finds, queries.map((q) => q.where)]),
    given: screen.given && record ? { table: screen.given, record } : null,
  };
}
