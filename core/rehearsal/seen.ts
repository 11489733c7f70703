import type { PhonePage, Where } from '../phone/walk.ts';
import type { Patch } from '../screens/live-screen.ts';
import type { DrawnNode, DrawnRow } from '../screens/element.ts';
import type { Asked } from '../session/effects.ts';

/** What an open screen shows. */
export interface SeenScreen {
  nodes: Map<string, DrawnNode>;
  root: string;
  title: string;
  missing: string | null;
}

/** What a phone shows, as data: enough to draw it anew elsewhere. */
export interface Still {
  where: Where;
  screens: { opening: string; patch: Patch }[];
  asked: readonly Asked[];
  /** What it said last. */
  said: string;
}

/** What a phone shows now: where somebody is, what is drawn there, and what they are asked. */
export class Seen {
  where: Where | null = null;
  /** By opening. */
  readonly screens = new Map<string, SeenScreen>();
  asked: readonly Asked[] = [];
  said = '';
  /** What can be pressed in what it said last, and what that is answered by. */
  press: { id: string; words: string } | null = null;
  /** It asks whether what was typed is to be thrown away. */
  leaving = false;

  begin(): void {
    this.screens.clear();
    this.where = null;
  }

  /** A page, of which is known what it shows. */
  page(page: PhonePage, heard: { where(where: Where): void }): PhonePage {
    return {
      where: (where, drafts) => {
        this.where = where;
        this.leaving = false;
        const open = new Set(where.stack.map((p) => p.opening));
        for (const o of this.screens.keys()) if (!open.has(o)) this.screens.delete(o);
        heard.where(where);
        page.where(where, drafts);
      },
      draw: (opening, patch) => {
        this.draw(opening, patch);
        return page.draw(opening, patch);
      },
      leaving: () => {
        this.leaving = true;
        page.leaving();
      },
      asks: (all) => {
        this.asked = all;
        page.asks(all);
      },
      does: (effect) => {
        if (effect.do === 'message') {
          this.said = effect.words;
          this.press = effect.press ? { id: effect.press.id, words: effect.words } : null;
        }
        return page.does(effect);
      },
    };
  }

  private draw(opening: string, { set, gone, root, title, missing }: Patch): void {
    const known = this.screens.get(opening) ?? { nodes: new Map<string, DrawnNode>() };
    for (const key of gone) known.nodes.delete(key);
    for (const node of set) known.nodes.set(node.key, node);
    this.screens.set(opening, { ...known, root, title, missing });
  }

  /** The screens that are seen now, the uppermost first. */
  get open(): { opening: string; screen: string; record: string | null; shown: SeenScreen }[] {
    const { where } = this;
    if (!where) return [];
    return where.stack
      .flatMap((p, i) => {
        const shown = this.screens.get(p.opening);
        const isSeen = i >= where.seen || i === where.beside;
        return shown && isSeen ? [{ opening: p.opening, screen: p.screen, record: p.record, shown }] : [];
      })
      .reverse();
  }

  /** The record of the innermost row that a key lies in; null outside of rows. */
  rowOf(opening: string, key: string): string | null {
    let best: DrawnRow | null = null;
    for (const node of this.screens.get(opening)?.nodes.values() ?? [])
      for (const r of rowsOf(node))
        if ((key === r.key || key.startsWith(`${r.key}/`)) && (!best || r.key.length > best.key.length)) best = r;
    return best?.record ?? null;
  }

  /** What is drawn at a key: an element, or the list whose row it names. */
  nodeAt(opening: string, key: string): DrawnNode | undefined {
    const nodes = this.screens.get(opening)?.nodes;
    return nodes?.get(key) ?? [...(nodes?.values() ?? [])].find((n) => rowsOf(n).some((r) => r.key === key));
  }

  get still(): Still | null {
    const { where, asked, said } = this;
    if (!where) return null;
    return {
      where,
      asked,
      said,
      screens: this.open.map(({ opening, shown: { nodes, root, title, missing } }) => ({
        opening,
        patch: { set: [...nodes.values()], gone: [], root, title, missing },
      })),
    };
  }
}

/** The rows of records that something drawn has. */
export const rowsOf = (node: DrawnNode): DrawnRow[] =>
  Array.isArray(node['rows']) ? (node['rows'] as DrawnRow[]).filter((r) => r?.record !== undefined) : [];
