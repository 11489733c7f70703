import type { AnyElement, Slot } from '../document/meaning.ts';
import type { Query, Tap } from '../document/pieces.ts';
import type { Problem } from '../formula/ast.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import type { Dependency } from '../formula/scope.ts';
import { readKey } from '../records/changes.ts';
import { LiveQuery } from '../records/live-query.ts';
import { WHOLE, THINGS_FROM, type Thing } from '../records/model.ts';
import { CompiledQuery } from '../records/query.ts';
import type { Records } from '../records/store.ts';
import { compileTemplate, fieldOfPath } from '../records/template.ts';
import { drawnBy } from './by-value.ts';
import type { AnyElementDefinition, Drawing, ElementKinds, Place, CompiledFormula } from './element.ts';
import { isPartUse, MOST_DEEP, MOST_PLACES, placeOfPart, type PartDoc, type PartUse } from './part-places.ts';
import { broughtBy, inside, type Reach } from './reach.ts';

/** Files of the app, as pictures name them. */
export interface OwnFiles {
  files: readonly { id: string; type: string; data: string }[];
  look?: { logo?: string | undefined };
  parts?: readonly PartDoc[] | undefined;
  /** Who may do what, where there are rules for it. */
  access?: object | undefined;
}

/** An element ready to be drawn at any number of places, with what it reads. */
export interface CompiledNode {
  readonly element: AnyElement;
  readonly reach: Reach;
  /** Is it to be seen? */
  readonly seen: ((p: Place) => boolean) | null;
  readonly draw: (p: Place) => Record<string, unknown>;
  readonly reads: readonly Dependency[];
  /** Any of its queries, which know themselves what they read. */
  readonly queries: readonly CompiledQuery[];
  readonly volatile: boolean;
  readonly slots: readonly CompiledSlot[];
  /** Every field that it or anything in it reads, by key. */
  readonly keys: ReadonlySet<string>;
  /** It or something in it changes with the clock. */
  readonly anyVolatile: boolean;
  readonly problems: readonly Problem[];
}
export interface CompiledSlot {
  readonly name: string;
  readonly each: boolean;
  /** The table whose records the slot is drawn for. */
  readonly table: string | null;
  readonly reach: Reach;
  readonly nodes: readonly CompiledNode[];
}

/** Stands where a picture's address stands, for the logo of the app. */
const LOGO = 'app:logo';

const NOTHING: CompiledFormula = { at: () => null, isHidden: () => false, field: undefined };

/**
 * Compiles elements, each once: an element that stands unchanged in a changed document is taken as it was. Make a new
 * one when tables or files change.
 */
export class ScreenCompiler {
  private readonly nodes = new WeakMap<AnyElement, { reach: Reach; node: CompiledNode }>();
  private readonly queries = new WeakMap<Query, { things: readonly Thing[]; query: CompiledQuery }>();

  constructor(
    private readonly kinds: ElementKinds,
    readonly records: Records,
    private readonly own: OwnFiles,
  ) {}

  node(e: AnyElement, reach: Reach): CompiledNode {
    const known = this.nodes.get(e);
    if (known && sameReach(known.reach, reach)) return known.node;
    const node = this.compile(e, reach);
    this.nodes.set(e, { reach, node });
    return node;
  }

  private readonly parts = new WeakMap<AnyElement, { part: PartDoc; root: AnyElement }>();
  private deep = 0;
  private places = 0;

  /** A place of a part is compiled as the elements of the part, with its values in them. */
  private partAt(e: AnyElement, reach: Reach): CompiledNode | null {
    const part = isPartUse(e) ? this.own.parts?.find((p) => p.id === e.part) : undefined;
    if (this.deep === 0) this.places = 0;
    if (!part || this.deep >= MOST_DEEP || ++this.places > MOST_PLACES) return null;
    const known = this.parts.get(e);
    const root = known?.part === part ? known.root : placeOfPart(this.kinds, part, e as PartUse);
    this.parts.set(e, { part, root });
    this.deep++;
    try {
      return this.compile(root, reach);
    } finally {
      this.deep--;
    }
  }

  private compile(e: AnyElement, reach: Reach): CompiledNode {
    const part = isPartUse(e) && this.partAt(e, reach);
    if (part) return part;
    const definition = this.kinds.get(e.kind);
    if (!definition) throw new Error(`There is no element of the kind “${e.kind}” here.`);
    const asked = new Asking(this, reach, this.own);
    const draw = (
      e.worked ? drawnBy(e, definition, asked, new Asking(this, reach, this.own)) : definition.draw(e, asked)
    ) as CompiledNode['draw'];
    const condition = e.seenWhen ? asked.formula(e.seenWhen) : null;
    const refused = this.own.access ? asked.refused(e, definition) : null;
    const slots = Object.entries(definition.properties).flatMap(([name, p]): CompiledSlot[] => {
      const { slot } = p as { slot?: Slot };
      if (p.is !== 'elements' || !slot) return [];
      const brought = broughtBy(slot, e);
      const within = inside(this.records.model, reach, brought);
      const list = ((e as unknown as Record<string, unknown>)[name] ?? []) as AnyElement[];
      return [
        {
          name,
          each: slot.each ?? false,
          table: brought.row ?? null,
          reach: within,
          nodes: list.map((c) => this.node(c, within)),
        },
      ];
    });
    const keys = new Set(asked.readings.map((d) => readKey(d.table, d.field)));
    for (const q of asked.queries) for (const k of LiveQuery.keys(q, asked.searchable.has(q))) keys.add(k);
    const inner = slots.flatMap((s) => s.nodes);
    for (const n of inner) for (const k of n.keys) keys.add(k);
    return {
      element: e,
      reach,
      seen: condition || refused ? (p) => (!condition || condition.at(p) === true) && !refused?.(p) : null,
      draw,
      reads: asked.readings,
      queries: asked.queries,
      volatile: asked.volatile,
      slots,
      keys,
      anyVolatile: asked.volatile || asked.queries.some((q) => q.volatile) || inner.some((n) => n.anyVolatile),
      problems: [...asked.problems, ...inner.flatMap((n) => n.problems)],
    };
  }

  /** A query of the document, compiled once for the things it may name. */
  query(query: Query, things: readonly Thing[]): CompiledQuery {
    const known = this.queries.get(query);
    if (known && sameThings(known.things, things)) return known.query;
    const compiled = new CompiledQuery(this.records, query, things);
    this.queries.set(query, { things, query: compiled });
    return compiled;
  }

  /** The record that a tap gives along, worked out where it was tapped. */
  given(tap: Extract<Tap, { do: 'open' }>, reach: Reach, place: Place): unknown {
    return tap.give ? this.valueAt(tap.give, reach, place) : null;
  }

  /** A formula worked out once, where something was tapped. */
  valueAt(formula: string, reach: Reach, place: Pick<Place, 'frame'>): Value {
    return compile(formula, this.records.model.optionsFor(null, reach.things)).run([...place.frame]);
  }
}

/** Compiles what one element's drawing asks for, and takes down what that reads. */
class Asking implements Drawing {
  readonly records: Records;
  readonly readings: Dependency[] = [];
  readonly queries: CompiledQuery[] = [];
  readonly searchable = new Set<CompiledQuery>();
  readonly problems: Problem[] = [];
  volatile = false;

  constructor(
    private readonly compiler: ScreenCompiler,
    private readonly reach: Reach,
    private readonly own: OwnFiles,
  ) {
    this.records = compiler.records;
  }

  get form(): string | null {
    return this.reach.form;
  }
  get ruled(): boolean {
    return this.own.access !== undefined;
  }

  /** Would what an element is there for be refused at a place? Null where it is there for more. */
  refused(e: AnyElement, definition: AnyElementDefinition): ((p: Place) => boolean) | null {
    const { tap, unlessRefused } = e as unknown as { tap?: Tap; unlessRefused?: true };
    if (!tap || !(definition.standsForTap || unlessRefused)) return null;
    // What may be done hangs on what is in the records at hand.
    for (const { type } of this.reach.things) if (type.k === 'record') this.reads(type.table);
    return (p) => this.records.may?.refusesTap(tap, p.frame) ?? false;
  }

  has(thing: string): boolean {
    return this.reach.things.some((t) => t.id === thing);
  }

  private get options() {
    return this.records.model.optionsFor(null, this.reach.things);
  }

  private take(c: { problems: readonly Problem[]; reads: readonly Dependency[]; volatile: boolean }): void {
    this.problems.push(...c.problems);
    this.readings.push(...c.reads);
    this.volatile ||= c.volatile;
  }

  words(template: string): (p: Place) => string {
    const t = compileTemplate(this.records.model, template, this.options);
    this.take(t);
    return (p) => orElse('', () => t.run(p.frame));
  }

  formula(stored: string): CompiledFormula {
    if (!stored) return NOTHING;
    const { options } = this;
    const c = compile(stored, options);
    this.take({ problems: c.problems, reads: c.dependencies, volatile: c.volatile });
    return {
      at: (p) => orElse(null, () => c.run(p.frame)),
      isHidden: (p) => this.records.may?.hides(stored, p.frame, options) ?? false,
      field: fieldOfPath(this.records.model, c.references, stored),
    };
  }

  query(query: Query, searchable = false): (p: Place) => LiveQuery {
    const compiled = this.compiler.query(query, this.reach.things);
    this.queries.push(compiled);
    if (searchable) this.searchable.add(compiled);
    this.problems.push(...compiled.problems);
    return (p) => p.keep(compiled, () => new LiveQuery(compiled, p.frame.slice(THINGS_FROM), searchable));
  }

  reads(table: string, field?: string): void {
    const fields = field ? [field] : [WHOLE, ...this.records.model.members(table).map((m) => m.id)];
    for (const f of fields) this.readings.push({ table, field: f, origin: { from: 'table', table } });
  }

  address(given: string): string {
    const source = given === LOGO ? (this.own.look?.logo ?? '') : given;
    if (!source.startsWith('file:')) return source;
    const file = this.own.files.find((f) => f.id === source.slice(5));
    return file ? `data:${file.type};base64,${file.data}` : '';
  }
}

/** A formula that runs away gives nothing at its place; the screen around it is drawn all the same. */
function orElse<T>(otherwise: T, work: () => T): T {
  try {
    return work();
  } catch {
    return otherwise;
  }
}

const sameThings = (a: readonly Thing[], b: readonly Thing[]): boolean =>
  a === b ||
  (a.length === b.length &&
    a.every((t, i) => t.id === b[i]!.id && t.name === b[i]!.name && (t.type === b[i]!.type || !t.variable)));
const sameReach = (a: Reach, b: Reach): boolean => a.form === b.form && sameThings(a.things, b.things);
