import type { Value } from '../formula/values.ts';
import type { LiveQuery } from '../records/live-query.ts';
import type { Row } from '../records/row.ts';
import type { CompiledNode } from './compile.ts';
import type { DrawnNode, Place } from './element.ts';
import type { Reach } from './reach.ts';

/** One compiled element at one place. */
export class Instance implements Place {
  readonly key: string;
  view: Record<string, unknown> = {};
  /** What the page has drawn last; null while it is not to be seen. */
  drawn: DrawnNode | null = null;
  own: Record<string, unknown> | null = null;
  readonly children = new Map<string, Instance[]>();
  rows: RowInstance[] = [];
  private kept = new Map<object, unknown>();

  constructor(
    public node: CompiledNode,
    /** What stands before its id in its key: nothing, or the list and row it stands in. */
    readonly prefix: string,
    readonly frame: Value[],
  ) {
    this.key = `${prefix}${node.element.id}`;
  }

  keep<T>(of: object, make: () => T): T {
    if (!this.kept.has(of)) this.kept.set(of, make());
    return this.kept.get(of) as T;
  }

  /** Its queries, as far as they have been asked. */
  *queries(): Generator<LiveQuery> {
    for (const q of this.node.queries) {
      const live = this.kept.get(q);
      if (live) yield live as LiveQuery;
    }
  }

  /** Takes the element as it is in a changed document; answers of queries that did not change stay. */
  adopt(node: CompiledNode): void {
    const kept = new Map<object, unknown>();
    for (const q of node.queries) if (this.kept.has(q)) kept.set(q, this.kept.get(q));
    this.kept = kept;
    this.node = node;
  }
}

/** One record of a list, with what is drawn of it. */
export interface RowInstance {
  key: string;
  row: Row;
  frame: Value[];
  reach: Reach;
  children: Instance[];
}
