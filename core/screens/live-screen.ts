import { aOrAn } from '../document/names.ts';
import { thisId } from '../document/ids.ts';
import type { AnyElement } from '../document/meaning.ts';
import type { Value } from '../formula/values.ts';
import { Changes, readKey } from '../records/changes.ts';
import type { FetchState } from '../records/fetching.ts';
import { WHOLE, THINGS_FROM } from '../records/model.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { touches } from '../records/touches.ts';
import { adopting, type Drawer } from './adopting.ts';
import type { CompiledNode, CompiledSlot, ScreenCompiler } from './compile.ts';
import type { DrawnNode, DrawnRow, Place } from './element.ts';
import { Instance, type RowInstance } from './instance.ts';
import { reachOfScreen, variablesAt, type Reach } from './reach.ts';
import { sameData } from './same-data.ts';

/** A screen as the document holds it. */
export interface ScreenDoc {
  id: string;
  name: string;
  given: string | null;
  optional?: boolean | undefined;
  finds?: string | undefined;
  root: AnyElement;
}

/** What is different on a screen: nodes to put in place of those with the same key, and keys that are gone. */
export interface Patch {
  /** The key of the outermost node. */
  root: string;
  title: string;
  /** Why nothing can be shown: the record the screen needs is not there. */
  missing: string | null;
  set: DrawnNode[];
  gone: string[];
}

/** Where on a screen something happened. */
export interface Spot {
  element: AnyElement;
  /** What is in reach there; inside a row, of the row. */
  reach: Reach;
  place: Place;
}

/**
 * A screen that is open: drawn once, then mended. After records have changed only the elements that read them are
 * worked out again, and only what came out different is told. It draws to plain data and knows no page.
 */
export class LiveScreen {
  private root: Instance;
  private node: CompiledNode;
  private row: Row | undefined;
  private out = new Map<string, DrawnNode>();
  private gone = new Set<string>();
  private frame: Omit<Patch, 'set' | 'gone'> | null = null;
  private unwatch: () => void = () => {};
  private reach: Reach;
  private readonly instances = new Map<string, Instance>();

  constructor(
    private compiler: ScreenCompiler,
    private screen: ScreenDoc,
    readonly record: string | null,
  ) {
    this.reach = reachOfScreen(this.records.model, screen);
    this.node = compiler.node(screen.root, this.reach);
    this.root = this.start();
    this.watch();
    this.draw(this.root);
  }

  private get records(): Records {
    return this.compiler.records;
  }

  get id(): string {
    return this.screen.id;
  }

  get problems(): string[] {
    return this.node.problems.map((p) => p.message);
  }

  close(): void {
    this.unwatch();
  }

  /** The record it shows: the one it was opened with, or the one it finds by itself. */
  private givenRow(): Row | undefined {
    const { given, finds } = this.screen;
    if (!given) return undefined;
    if (this.record) {
      const row = this.records.row(given, this.record);
      // Whoever comes by a link alone has it fetched.
      this.fetch = row ? null : this.records.missing(given, this.record);
      return row;
    }
    if (!finds) return undefined;
    const reach = { things: variablesAt(this.records.model, this.screen.id), form: null };
    const values = reach.things.map((): Value => null);
    const frame = [this.records.runtime as unknown as Value, null, ...values];
    const found = this.compiler.valueAt(finds, reach, { frame });
    const first = Array.isArray(found) ? found[0] : found;
    return first instanceof Row && first.tableId === given ? first : undefined;
  }

  /** What is known of the record it needs and has not, where that can be fetched. */
  private fetch: FetchState | null | undefined;

  private start(): Instance {
    const { given } = this.screen;
    this.row = this.givenRow();
    this.instances.clear();
    // The record given stands first among what is in reach; a variable is read elsewhere.
    const values = this.reach.things.map((_, i): Value => (i === 0 && given ? (this.row ?? null) : null));
    const frame = [this.records.runtime as unknown as Value, null, ...values];
    return this.instance(this.node, '', frame);
  }

  private watch(): void {
    this.unwatch();
    const { given } = this.screen;
    this.unwatch = this.records.watch(given ? [...this.node.keys, readKey(given, WHOLE)] : this.node.keys);
  }

  private instance(node: CompiledNode, prefix: string, frame: Value[]): Instance {
    const made = new Instance(node, prefix, frame);
    this.instances.set(made.key, made);
    return made;
  }

  /** Takes a changed document: only elements that are not the same as before are looked at. */
  adopt(compiler: ScreenCompiler, screen: ScreenDoc): void {
    this.compiler = compiler;
    this.screen = screen;
    const things = this.reach.things.length;
    this.reach = reachOfScreen(this.records.model, screen);
    const node = compiler.node(screen.root, this.reach);
    const row = this.givenRow();
    if (node === this.node && row === this.row) return;
    const sameFrame =
      row === this.row && node.element.id === this.node.element.id && things === this.reach.things.length;
    this.node = node;
    this.watch();
    // Without what mends it, all of it is drawn anew.
    if (sameFrame && adopting.become) adopting.become(this.drawer, this.root, node);
    else this.startAgain();
  }

  private readonly drawer: Drawer = {
    instance: (node, prefix, frame) => this.instance(node, prefix, frame),
    draw: (i) => this.draw(i),
    forget: (i) => this.forget(i),
  };

  private startAgain(): void {
    this.forget(this.root);
    this.root = this.start();
    this.draw(this.root);
  }

  /** Draws what records have changed. */
  changed(changes: Changes): void {
    if (this.givenRow() !== this.row) this.startAgain();
    else this.refresh(this.root, changes);
  }

  /** Takes note of what a person did at one element: the part of a list in view, the words looked for. */
  look(key: string, view: Record<string, unknown>): void {
    const at = this.instances.get(key);
    if (!at) return;
    at.view = { ...at.view, ...view };
    this.draw(at);
  }

  /** The element at a key, or the row of a list. */
  at(key: string): Spot | null {
    const found = this.instances.get(key);
    if (found) return { element: found.node.element, reach: found.node.reach, place: found };
    const list = this.instances.get(key.slice(0, key.lastIndexOf('/')));
    const row = list?.rows.find((r) => r.key === key);
    if (!list || !row) return null;
    const place: Place = { frame: row.frame, view: {}, keep: (_of, make) => make() };
    return { element: list.node.element, reach: row.reach, place };
  }

  /** What is different since the last call; null when nothing is. */
  take(): Patch | null {
    const missing = this.missing();
    const frame = { root: this.root.key, title: this.screen.name, missing };
    const same = this.frame && sameData(this.frame, frame);
    if (same && this.out.size === 0 && this.gone.size === 0) return null;
    this.frame = frame;
    const patch: Patch = { ...frame, set: [...this.out.values()], gone: [...this.gone] };
    this.out = new Map();
    this.gone = new Set();
    return patch;
  }

  private missing(): string | null {
    const { given, optional, id } = this.screen;
    if (this.records.may?.isClosed(id)) return 'This screen is not open to you.';
    if (!given || this.row || (optional && !this.record)) return null;
    if (this.fetch?.asking || this.fetch?.said) return this.fetch.said ?? 'Fetching';
    const one = this.records.model.tables.get(given)?.table.one ?? 'record';
    return this.record ? `This ${one} is not here any more.` : `This screen opens with ${aOrAn(one)}.`;
  }

  /** Makes orders and search words of its lists ready while nothing else is to be done. True when all are. */
  prepare(until: number): boolean {
    for (const i of this.instances.values()) for (const q of i.queries()) if (!q.prepare(until)) return false;
    return true;
  }

  // Drawing

  private refresh(i: Instance, changes: Changes): void {
    if (!changes.all && !(changes.clock && i.node.anyVolatile) && !overlaps(i.node.keys, changes)) return;
    if (this.isTouched(i, changes)) {
      this.draw(i, changes);
      return;
    }
    if (!i.drawn) return;
    for (const slot of i.node.slots) {
      if (slot.each) for (const row of i.rows) for (const c of row.children) this.refresh(c, changes);
      else for (const c of i.children.get(slot.name) ?? []) this.refresh(c, changes);
    }
    this.tell(i);
  }

  private isTouched(i: Instance, changes: Changes): boolean {
    // Every query must hear of it, also when something else has touched the element already.
    let touched = changes.all || (changes.clock && i.node.volatile);
    for (const q of i.queries()) if (q.changed(changes)) touched = true;
    if (touched) return true;
    const at = { records: this.records, things: i.node.reach.things };
    const values = i.frame.slice(THINGS_FROM);
    return i.node.reads.some((d) => touches(d, changes, at, values));
  }

  /** Works an element out again; without changes, everything in it that is new. */
  private draw(i: Instance, changes?: Changes): void {
    const { node } = i;
    if (node.seen && !node.seen(i)) {
      this.hide(i);
      return;
    }
    i.own = node.draw(i);
    for (const slot of node.slots) {
      if (slot.each) this.drawRows(i, slot, changes);
      else this.drawChildren(i, slot, changes);
    }
    this.tell(i);
  }

  private drawChildren(i: Instance, slot: CompiledSlot, changes?: Changes): void {
    const known = i.children.get(slot.name);
    if (known) {
      if (changes) for (const c of known) this.refresh(c, changes);
      return;
    }
    i.children.set(slot.name, this.fill(slot.nodes, i.prefix, i.frame));
  }

  private fill(nodes: readonly CompiledNode[], prefix: string, frame: Value[]): Instance[] {
    const list = nodes.map((n) => this.instance(n, prefix, frame));
    for (const c of list) this.draw(c);
    return list;
  }

  private drawRows(i: Instance, slot: CompiledSlot, changes?: Changes): void {
    const rows = (i.own!['rows'] ?? []) as readonly Row[];
    const known = new Map(i.rows.map((r) => [r.row, r]));
    const wanted = new Set(rows);
    // First what goes: a record that came back under the same id has the same keys again.
    for (const r of i.rows) if (!wanted.has(r.row)) this.forgetRow(r);
    i.rows = rows.map((row) => {
      const there = known.get(row);
      if (!there) return this.newRow(i, slot, row);
      if (changes) for (const c of there.children) this.refresh(c, changes);
      return there;
    });
  }

  private newRow(i: Instance, slot: CompiledSlot, row: Row): RowInstance {
    const key = `${i.key}/${row.id}`;
    const id = thisId(slot.table ?? row.tableId);
    const outer = i.frame.slice(THINGS_FROM);
    const values = slot.reach.things.map((t) => {
      if (t.id === id) return row;
      const at = i.node.reach.things.findIndex((o) => o.id === t.id);
      return outer[at] ?? null;
    });
    const frame: Value[] = [i.frame[0]!, null, ...values];
    return { key, row, frame, reach: slot.reach, children: this.fill(slot.nodes, `${key}/`, frame) };
  }

  /** Tells the page what an element looks like now, when that is not what it was told last. */
  private tell(i: Instance): void {
    const { element, slots } = i.node;
    // A size that is worked out stands in the place of the fixed one.
    const { worked, ...own } = i.own ?? {};
    const now: DrawnNode = {
      ...own,
      id: element.id,
      key: i.key,
      kind: element.kind,
      ...(element.width !== undefined && { width: element.width }),
      ...(element.height !== undefined && { height: element.height }),
      ...(element.stands && { stands: element.stands }),
      ...(worked as object | undefined),
    };
    for (const slot of slots) {
      if (slot.each)
        now['rows'] = i.rows.map((r): DrawnRow => ({ key: r.key, record: r.row.id, children: seen(r.children) }));
      else now[slot.name] = seen(i.children.get(slot.name) ?? []);
    }
    if (i.drawn && sameData(i.drawn, now)) return;
    i.drawn = now;
    this.out.set(i.key, now);
    this.gone.delete(i.key);
  }

  private hide(i: Instance): void {
    if (!i.drawn) return;
    this.forgetInside(i);
    this.drop(i);
  }

  private drop(i: Instance): void {
    i.drawn = null;
    i.own = null;
    // What was moved elsewhere is there under the same key already.
    if (this.instances.get(i.key) !== i) return;
    this.out.delete(i.key);
    this.gone.add(i.key);
  }

  private forget(i: Instance): void {
    this.forgetInside(i);
    if (i.drawn) this.drop(i);
    if (this.instances.get(i.key) === i) this.instances.delete(i.key);
  }

  private forgetInside(i: Instance): void {
    for (const list of i.children.values()) for (const c of list) this.forget(c);
    i.children.clear();
    for (const r of i.rows) this.forgetRow(r);
    i.rows = [];
  }

  private forgetRow(r: RowInstance): void {
    for (const c of r.children) this.forget(c);
  }
}

const seen = (list: readonly Instance[]): string[] => list.filter((c) => c.drawn).map((c) => c.key);

function overlaps(keys: ReadonlySet<string>, changes: Changes): boolean {
  for (const k of changes.rows.keys()) if (keys.has(k)) return true;
  return false;
}
