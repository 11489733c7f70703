import type { Access } from '../access/access.ts';
import type { RecordState } from '../records/change.ts';

/** So many records are looked up one by one; beyond that every view looks at them. */
const FEW = 200;

/** Which views show a record, and which are to. */
export class Showing<View extends object> {
  private readonly views = new Map<string, Set<View>>();
  private readonly named = new Map<string, Set<View>>();
  private readonly names = new Map<View, readonly string[]>();

  constructor(private readonly access: () => Access) {}

  /** There is one more view, of those with these names; null where nothing is known of them. */
  begin(view: View, names: readonly string[] | null): void {
    if (!names) return;
    this.names.set(view, names);
    for (const name of names) {
      const known = this.named.get(name);
      if (known) known.add(view);
      else this.named.set(name, new Set([view]));
    }
  }
  end(view: View): void {
    for (const name of this.names.get(view) ?? []) {
      const known = this.named.get(name)!;
      known.delete(view);
      if (known.size === 0) this.named.delete(name);
    }
    this.names.delete(view);
  }

  add(id: string, view: View): void {
    const known = this.views.get(id);
    if (known) known.add(view);
    else this.views.set(id, new Set([view]));
  }

  delete(id: string, view: View): void {
    const known = this.views.get(id);
    if (known?.delete(view) && known.size === 0) this.views.delete(id);
  }

  /** The views among these that show, or may have to show, a record to which something has happened. */
  concerned(records: readonly RecordState[], all: Iterable<View>): Iterable<View> {
    const { seenUnder } = this.access();
    if (records.length > FEW || !seenUnder) return all;
    const found = new Set<View>();
    for (const state of records) {
      const names = seenUnder.call(this.access(), state);
      if (!names) return all;
      for (const name of names) for (const v of this.named.get(name) ?? []) found.add(v);
      for (const v of this.views.get(state.id) ?? []) found.add(v);
    }
    return found;
  }
}
