import type { Who } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { Change, RecordState } from '../records/change.ts';
import { checkCell } from '../records/check-cell.ts';
import { recordProblem, type Claims } from '../records/checks.ts';
import { raised } from '../records/raise.ts';
import { tableOf } from '../tables/names.ts';
import type { Allowed } from './allowed.ts';
import { checkChange, goneSaid } from './check.ts';
import type { KnownIds } from './known-ids.ts';
import type { Receipt } from './protocol.ts';
import { isRemoved, makesRecord, type Replica } from './replica.ts';

const TOO_OLD =
  'This amount was added so long ago on this device that it is not known whether it was counted. Look at the value, and add it again if it is missing.';

/** Says what a host refuses, and why. */
export class Refusals {
  constructor(
    private readonly replica: Replica,
    private readonly known: KnownIds,
    private readonly allowed: Allowed,
    /** The record of a change, as far as whoever sent it may see it. */
    private readonly shown: (change: Change, who: Who) => RecordState[],
  ) {}

  /** Why changes that belong together are refused, each with its reason; null when all of them may be made. */
  of(app: App, unit: readonly Change[], who: Who, claims: Claims): Receipt['refused'] | null {
    // What a refused group would have claimed, others may have.
    const trial = unit.length > 1 ? claims.copy() : claims;
    const cells = this.cellsOf(unit);
    const mayNot = this.allowed.reasons(unit, who);
    const reasons = unit.map(
      (c, i) => mayNot[i] ?? checkChange(app, c) ?? this.refused(app, c, cells[i], unit.slice(0, i), trial),
    );
    const first = reasons.find((r) => r !== null);
    if (first === undefined) {
      claims.take(trial);
      return null;
    }
    return unit.map((c, i) => ({
      id: c.id,
      table: c.table,
      record: c.record,
      reason: reasons[i] ?? `It belongs together with a change that was refused: ${first}`,
      state: this.shown(c, who)[0] ?? null,
    }));
  }

  /** The cells that each change of a unit writes, amounts added to what the ones before it have made; or why they cannot be. */
  private cellsOf(unit: readonly Change[]): (Record<string, Cell> | string | undefined)[] {
    const ahead = new Map<string, Record<string, Cell>>();
    return unit.map((c) => {
      if (c.do === 'remove') return {};
      let cells = c.cells;
      if (c.do === 'raise') {
        const known = this.replica.state(c.record);
        const now = { ...known?.cells, ...ahead.get(c.record) };
        try {
          cells = { ...(makesRecord(c, known) && c.makes), ...c.cells };
          for (const [field, by] of Object.entries(c.by)) cells[field] = raised(now[field], by);
        } catch (e) {
          return (e as Error).message;
        }
      }
      ahead.set(c.record, { ...ahead.get(c.record), ...cells });
      return cells;
    });
  }

  /** What the records refuse, or what an earlier change of the same turn has claimed. */
  private refused(
    app: App,
    c: Change,
    made: Record<string, Cell> | string | undefined,
    before: readonly Change[],
    claims: Claims,
  ): string | null {
    const known = this.replica.state(c.record);
    if (known && known.table !== c.table) return 'A record of another table has the same id.';
    if (c.do === 'remove') return null;
    if (known?.erased !== undefined) return `This ${tableOf(app, c.table)?.one ?? 'record'} was erased for good.`;
    // What comes before it in its unit may bring the record, or take it away.
    const last = before.findLast((x) => x.record === c.record && x.do !== 'raise');
    const isGone = last ? last.do === 'remove' : known ? isRemoved(known) : c.do === 'raise';
    const makes = c.do === 'raise' && !last && makesRecord(c, known);
    if (isGone && c.do !== 'restore' && !makes) return goneSaid(app, c.table);
    if (c.do === 'raise') {
      if (this.known.has(c.id)) return null;
      if (c.stamp <= this.known.forgotten) return TOO_OLD;
    }
    if (typeof made === 'string') return made;
    if (made === undefined)
      return 'The server keeps nothing of what is removed. Bring it back with a newer version of the app: reload it first.';
    // A record that comes back has all its values again, and others may have taken them meanwhile.
    const cells = known && c.do === 'restore' ? { ...known.cells, ...made } : made;
    return (
      (c.do === 'raise' ? wrongAmount(app, c, cells) : null) ??
      recordProblem(this.replica.records, c.table, c.record, cells)?.said ??
      claims.claim(c.table, c.record, cells)?.said ??
      null
    );
  }
}

/** Why what comes of an amount does not fit its field; null when it does. */
function wrongAmount(
  app: App,
  { table, by }: Extract<Change, { do: 'raise' }>,
  cells: Record<string, Cell>,
): string | null {
  for (const f of tableOf(app, table)?.fields ?? []) {
    const wrong = f.id in by ? checkCell(f, cells[f.id]) : null;
    if (wrong) return wrong;
  }
  return null;
}
