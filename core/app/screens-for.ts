import { backId } from '../document/ids.ts';
import { freeName } from '../document/names.ts';
import { elementLists } from '../document/walk.ts';
import { tableOfScreen } from './about.ts';
import { tableOf } from '../tables/names.ts';
import { linkedList, newScreenIds, screensOf, type ScreenIds } from './generate-screens.ts';
import { ElementMaker } from './make.ts';
import type { App, Element, Screen } from './schema.ts';

type ListElement = Extract<Element, { kind: 'list' }>;

/** The first screens of each table: its list, that of one record, and its form. */
export function screensThere(app: App): ScreenIds {
  return new Map(
    app.tables.map((t) => [
      t.id,
      {
        list: app.screens.find((s) => !s.given && tableOfScreen(s) === t.id)?.id,
        detail: app.screens.find((s) => s.given === t.id && !s.optional)?.id,
        form: app.screens.find((s) => s.given === t.id && s.optional)?.id,
      },
    ]),
  );
}

/**
 * A list, a detail and a form for a table, with a tab when there is room. The detail lists the records that link to it;
 * and where the table links to others, their details list its records from now on.
 */
export function addScreensFor(app: App, tableId: string): Screen[] {
  const t = tableOf(app, tableId)!;
  const make = new ElementMaker();
  const ids = screensThere(app);
  ids.set(t.id, newScreenIds(t, make));
  const screens = screensOf(app, t, ids, make);
  // The empty screen that a blank app begins with gives way to the first real ones.
  const [first] = app.screens;
  const signing = [app.signIn?.screen, ...(app.signIn?.open ?? [])];
  const others = app.screens.filter((s) => s !== first && !signing.includes(s.id));
  if (others.length === 0 && first?.root.children.length === 0) {
    app.screens = app.screens.filter((s) => s !== first);
    app.tabs = [];
  }
  for (const f of t.fields) {
    const to = f.link && f.link.table !== t.id ? tableOf(app, f.link.table) : undefined;
    const detail = to && app.screens.find((s) => s.id === ids.get(to.id)?.detail);
    if (to && detail) listIn(detail, linkedList(to, t, f, ids, make), f.id);
  }
  for (const s of screens)
    s.name = freeName(
      s.name,
      app.screens.map((x) => x.name),
    );
  app.screens.push(...screens);
  if (app.tabs.length < 5) app.tabs.push({ screen: screens[0]!.id, name: t.name, icon: screens[0]!.icon! });
  return screens;
}

/**
 * Puts a heading and a list of the records that link by a field at the end of a screen. A list of them that is there
 * stays, and gets what it lacks: its tap, and under its own heading the button that adds one.
 */
function listIn(screen: Screen, [head, list]: [Element, ListElement], field: string): void {
  let isThere = false;
  const look = (children: Element[]): void =>
    children.forEach((e, i) => {
      if (e.kind === 'list' && e.query.via?.includes(backId(field))) {
        isThere = true;
        if (e.tap.do === 'nothing') {
          e.tap = list.tap;
          const before = children[i - 1];
          if (before?.kind === 'text' && before.style === 'heading') children[i - 1] = head;
        }
      } else elementLists(e).forEach(look);
    });
  look(screen.root.children);
  if (!isThere) screen.root.children.push(head, list);
}
