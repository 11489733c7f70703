import type { Condition } from '../document/pieces.ts';
import type { Model, Thing } from '../records/model.ts';
import { ownerField } from './people.ts';
import type { App } from './schema.ts';

/** A condition that is whole, and how it reads. */
export interface ReadyCondition {
  words: string;
  condition: Condition;
}

/** Choices of a field are offered one by one where there are no more. */
const MOST_CHOICES = 6;
const MOST = 14;

/**
 * Conditions that make sense for what is around, ready to be taken: a yes or no, whose it is, each choice, a day and today.
 * `self` is the table whose records are asked about; otherwise the records and variables at hand are.
 */
export function readyConditions(
  app: App,
  model: Model,
  { self, things }: { self: string | null; things: readonly Thing[] },
): ReadyCondition[] {
  const out: ReadyCondition[] = [];
  const offer = (left: string, name: string, op: Condition['op'], right: string, says: string): void =>
    void out.push({ words: `${name} ${says}`, condition: { left, op, right } });
  const ofTable = (id: string, path: string): void => {
    const table = app.tables.find((t) => t.id === id);
    if (!table) return;
    const owner = ownerField(app, table);
    for (const f of table.fields) {
      const left = `${path}${f.id}`;
      const type = model.member(id, f.id)?.type.k;
      if (type === 'boolean') {
        offer(left, f.name, 'is', 'true', 'is yes');
        offer(left, f.name, 'is', 'false', 'is no');
      } else if (f.id === owner?.id) offer(left, f.name, 'is', 'person()', 'is the person using the app');
      else if (f.type === 'choice' && !f.several && (f.choices?.length ?? 0) <= MOST_CHOICES)
        for (const c of f.choices ?? []) offer(left, f.name, 'is', JSON.stringify(c.name), `is ${c.name}`);
      else if (f.type === 'date') {
        offer(left, f.name, 'under', 'today()', 'is before today');
        offer(left, f.name, 'is', 'today()', 'is today');
      }
    }
  };
  if (self) ofTable(self, '');
  else
    for (const t of things) {
      if (t.type.k === 'record' && !t.variable) ofTable(t.type.table, `${t.id}.`);
      else if (t.type.k === 'boolean') {
        offer(t.id, t.name, 'is', 'true', 'is yes');
        offer(t.id, t.name, 'is', 'false', 'is no');
      }
    }
  return out.slice(0, MOST);
}
