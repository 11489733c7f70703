import type { App } from '../core/app/schema.ts';
import { FRAME_SCREEN } from '../core/app/frames.ts';
import { walkElements, walkSteps } from '../core/document/walk.ts';
import type { AnyElement } from '../core/document/meaning.ts';
import { isPartUse } from '../core/screens/part-places.ts';
import type { AnyElementDefinition } from '../core/screens/element.ts';
import type { AnyStepDefinition } from '../core/routines/step.ts';
import type { AnyTriggerDefinition } from '../core/routines/trigger.ts';
import { isArranged } from '../kinds/elements/list/arranging.ts';
import type { Kinds } from '../core/session/session.ts';

// One file a kind, fetched when an app uses it.
const elements = import.meta.glob<Record<string, AnyElementDefinition>>('../kinds/elements/*/definition.ts');

/** The kinds of elements that stand on a screen. */
export function kindsOfScreen(app: App, screen: string): Set<string> {
  if (screen === FRAME_SCREEN) return new Set(['box', 'text']);
  const kinds = new Set<string>();
  const parts = new Set<unknown>();
  const take = (root: AnyElement): void =>
    walkElements([root], (e) => {
      kinds.add(e.kind);
      const part = isPartUse(e) && !parts.has(e.part) && app.parts?.find((p) => p.id === e.part);
      if (!part) return;
      parts.add(part.id);
      take(part.root);
    });
  for (const s of app.screens) if (s.id === screen) take(s.root);
  return kinds;
}

const startsOf = (app: App): string[] => app.routines.flatMap((r) => r.starts?.map((t) => t.on) ?? []);

/** Has a screen a list that is put together or filtered, on it or in a part? */
function arranges(app: App, screen: string): boolean {
  let found = false;
  for (const s of [...app.screens.filter((x) => x.id === screen), ...(app.parts ?? [])])
    walkElements<AnyElement>([s.root], (e) => {
      found ||= e.kind === 'list' && isArranged(e as object);
    });
  return found;
}

/** The kinds that one app uses, fetched as they are needed: those of a screen before it is drawn, the rest afterwards. */
export class UsedKinds implements Kinds {
  readonly elements = new Map<string, AnyElementDefinition>();
  readonly steps = new Map<string, AnyStepDefinition>();
  readonly triggers = new Map<string, AnyTriggerDefinition>();

  /** What a screen is drawn with. */
  async forScreen(app: App, screen: string): Promise<void> {
    const kinds = kindsOfScreen(app, screen);
    await Promise.all([
      fetchAll(this.elements, kinds, elements, 'elements', 'kind'),
      ...(kinds.has('part') ? [import('../core/screens/parts.ts')] : []),
      ...(arranges(app, screen) ? [import('../kinds/elements/list/arranged.ts')] : []),
    ]);
  }

  /** What routines are made of, and whatever starts them. */
  async forRoutines(app: App): Promise<void> {
    if (app.routines.length === 0) return;
    const { steps, triggers } = await import('./routine-kinds.ts');
    const kinds = new Set<string>();
    for (const r of app.routines) walkSteps(r.steps, (s) => void kinds.add(s.do));
    await Promise.all([
      fetchAll(this.steps, kinds, steps, 'steps', 'do'),
      fetchAll(this.triggers, new Set(startsOf(app)), triggers, 'triggers', 'on'),
    ]);
  }

  /** Everything the app uses. */
  async forAll(app: App): Promise<void> {
    await Promise.all([...app.screens.map((s) => this.forScreen(app, s.id)), this.forRoutines(app)]);
  }
}

/** The folder of a kind: its name, with a dash for each space. */
const folderOf = (kind: string): string => kind.replace(/ /g, '-');

async function fetchAll<D extends object>(
  into: Map<string, D>,
  kinds: ReadonlySet<string>,
  files: Record<string, () => Promise<Record<string, D>>>,
  folder: string,
  key: string,
): Promise<void> {
  await Promise.all(
    [...kinds].map(async (kind) => {
      if (into.has(kind)) return;
      const file = files[`../kinds/${folder}/${folderOf(kind)}/definition.ts`];
      if (!file) throw new Error(`This app needs a newer player: it uses “${kind}”. Reload the page.`);
      const definition = Object.values(await file()).find((d) => (d as Record<string, unknown>)[key] === kind);
      if (definition) into.set(kind, definition);
    }),
  );
}

/** May anything on a screen show what is fetched, by itself or behind a link of another table? */
export function needsFetched({ tables, screens, parts }: App, id: string): boolean {
  const links = tables.map((t) => t.fields.map((f) => f.link?.table));
  const json = JSON.stringify([screens.find((s) => s.id === id), parts, links]);
  return tables.some((t) => t.fetched && json.includes(t.id));
}

/** Does anything on a screen name a variable, or might a routine that its opening starts? */
export function needsVariables(app: App, id: string): boolean {
  const { variables = [], screens, tabs, drawer, parts } = app;
  if (variables.length === 0) return false;
  const screen = screens.find((s) => s.id === id);
  const json = JSON.stringify(screen ? [screen, parts] : [tabs, drawer]);
  return variables.some((v) => v.screen === id || json.includes(v.id));
}
