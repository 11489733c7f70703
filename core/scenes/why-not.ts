import { RuledAccess } from '../access/ruled.ts';
import type { App } from '../app/schema.ts';
import type { Of } from '../app/scene-schema.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';

/** Why the rules keep something from whoever uses a phone; null where they do not, or the app has none. */
export function whyNot(
  app: App,
  room: Rehearsal,
  phone: RehearsedPhone,
  of: Of | undefined,
  adds?: string,
): string | null {
  if (!app.access) return null;
  const { replica } = room.world.host;
  const rules = new RuledAccess(replica.records, () => app);
  const { who, name } = phone.somebody;
  const tableOf = (id: string): string => app.tables.find((t) => t.id === id)?.name ?? 'a table';
  try {
    if (adds !== undefined) return rules.mayAdd(who, adds) ? null : `No rule lets ${name} add ${tableOf(adds)}.`;
    const state = of && replica.state(of.record);
    if (!of || !state) return null;
    const called = `${of.name || 'this record'} of ${tableOf(of.table)}`;
    if (rules.rulesBy(rules.rights(who), state).length === 0) return `No rule lets ${name} see ${called}.`;
    const { changes } = rules.mayWrite(who, state);
    const closed = (app.tables.find((t) => t.id === of.table)?.fields ?? []).filter(
      (f) => f.type !== 'formula' && !changes.has(f.id),
    );
    if (changes.size === 0) return `No rule lets ${name} change ${called}.`;
    return closed.length
      ? `The rules do not let ${name} change ${closed
          .slice(0, 3)
          .map((f) => f.name)
          .join(', ')} of ${called}.`
      : null;
  } finally {
    rules.close();
  }
}
