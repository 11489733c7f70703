import type { Access, Who } from '../access/access.ts';
import { hashOf } from '../fields/keep-file.ts';
import type { Change, Draft } from '../records/change.ts';
import { Overlay } from '../records/overlay.ts';
import type { KnownIds } from './known-ids.ts';
import { isRemoved, type Replica } from './replica.ts';
import { writtenSince } from './written-later.ts';

/** So many changes that were taken are known again when they come a second time. */
const MOST_TAKEN = 20_000;

/**
 * Asks the rules of an app about changes, each as if those that come before it were made already: of its own group, and
 * of what was taken before in the same turn and is not kept yet. In an open app nothing that comes before decides anything.
 */
export class Allowed {
  private readonly laid: Overlay;
  /** Records that what is laid over them takes away. */
  private readonly gone = new Set<string>();
  /** What was taken, by the ids of changes: who sent what. */
  private taken = new Map<string, string>();

  constructor(
    private readonly replica: Replica,
    readonly access: Access,
    /** Changes that come to nothing, whatever is in them, since they were counted before. */
    private readonly known: KnownIds,
  ) {
    this.laid = new Overlay(replica.records);
  }

  /** Why each change of a group may not be made by somebody; null where it may. */
  reasons(unit: readonly Change[], who: Who): (string | null)[] {
    const { access, replica } = this;
    if (access.isOpen) return unit.map((c) => access.refusal(who, c));
    if (unit.length === 1) return [this.reason(unit[0]!, who)];
    return replica.records.batch(() => {
      const trial = new Overlay(replica.records);
      const gone = new Set(this.gone);
      try {
        return unit.map((c) => {
          const reason = this.reason(c, who, gone);
          if (c.do === 'remove') gone.add(c.record);
          trial.lay([this.draft(c)]);
          return reason;
        });
      } finally {
        trial.lift();
      }
    });
  }

  private reason(c: Change, who: Who, gone: ReadonlySet<string> = this.gone): string | null {
    // What is gone already is not removed: that several have removed it is no trouble of theirs.
    if (c.do === 'remove' && this.access.personOf(who) !== null) {
      const known = this.replica.state(c.record);
      if (gone.has(c.record) || (known?.table === c.table && isRemoved(known))) return null;
    }
    // The very same sent again because its answer was lost: it was asked about then, and whoever sent it may have given
    // the record away by it.
    if (this.known.has(c.id) || this.taken.get(c.id) === sign(c, this.access.personOf(who), c.stamp)) return null;
    return this.access.refusal(who, this.effective(c));
  }

  /** As much of a change as comes to anything: what was written later elsewhere stands. */
  private effective(c: Change): Change {
    if (c.do !== 'set') return c;
    const late = new Set(writtenSince(this.replica, c));
    return late.size === 0
      ? c
      : { ...c, cells: Object.fromEntries(Object.entries(c.cells).filter(([f]) => !late.has(f))) };
  }

  private draft(c: Change): Draft {
    const { table, record } = c;
    if (this.known.has(c.id)) return { do: 'set', table, record, cells: {} };
    if (c.do === 'restore') return { do: 'set', table, record, cells: c.cells ?? {} };
    return this.effective(c) as Draft;
  }

  /** Lays what was taken over the records, until {@link lift}. Nothing may be waited for in between. */
  lay(unit: readonly Change[]): void {
    if (this.access.isOpen) return;
    for (const c of unit) if (c.do === 'remove') this.gone.add(c.record);
    this.replica.records.batch(() => this.laid.lay(unit.map((c) => this.draft(c))));
  }
  lift(): void {
    if (this.access.isOpen) return;
    this.gone.clear();
    this.replica.records.batch(() => this.laid.lift());
  }

  /** Forgets what was taken: what is sent again from now on is asked about anew. */
  forgetTaken(): void {
    this.taken = new Map();
  }

  /** Takes note of a change that is kept, with the stamp that this person has sent it with. */
  took(change: Change, person: string | null, stamp = change.stamp): void {
    if (this.access.isOpen) return;
    this.taken.set(change.id, sign(change, person, stamp));
    if (this.taken.size > MOST_TAKEN * 1.5) this.taken = new Map([...this.taken].slice(-MOST_TAKEN));
  }
}

/** A text of more letters than this is kept by its hash. */
const LONG = 400;

/** Who sent what with which stamp, in one text: an id alone says nothing, since another change may be sent with it. */
function sign(
  { author: _author, owner: _owner, sent: _sent, ...c }: Change,
  person: string | null,
  stamp: string,
): string {
  const text = JSON.stringify([person, { ...c, stamp }]);
  return text.length > LONG ? hashOf(new TextEncoder().encode(text)) : text;
}
