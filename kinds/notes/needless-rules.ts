import { fieldsOfRule } from '../../core/app/access-rules.ts';
import type { AppAccess, Rule } from '../../core/app/access-schema.ts';
import type { Where } from '../../core/document/pieces.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { toShown } from '../../core/formula/stored.ts';

/** Rules that change nothing: others let the same people do all of it already, or their conditions never hold together. */
export const needlessRules = defineNote({
  name: 'rules that change nothing',
  find({ app, model }) {
    const { access } = app;
    if (!access) return [];
    const notes: Note[] = [];
    const nameOf = (who: string): string =>
      access.roles.find((r) => r.id === who)?.name ?? (who === 'anybody' ? 'Anybody' : 'Everybody signed in');
    const seen = new Set<Rule>();
    for (const rule of access.rules) {
      const table = app.tables.find((t) => t.id === rule.table);
      if (!table) continue;
      const all = table.fields.map((f) => f.id);
      const at = (said: string): void =>
        void notes.push({ severity: 'look', said, workspace: 'people', rule: rule.id, mend: 'remove' });
      const cover = access.rules.find((r) => r !== rule && !seen.has(r) && covers(access, r, rule, all));
      const never = neverHolds(rule.where);
      if (cover) {
        // Of two that say the same, one is needless.
        seen.add(rule);
        at(
          `A rule for ${nameOf(rule.who)} about ${table.name} changes nothing: one for ${nameOf(cover.who)} lets them do all of it already.`,
        );
      } else if (never)
        at(
          `A rule for ${nameOf(rule.who)} about ${table.name} never holds: ${toShown(never, (id) => model.nameOf(id))} cannot be two things at once.`,
        );
    }
    return notes;
  },
});

/** Does one rule let everybody of another do all that this lets them do? */
function covers(access: AppAccess, by: Rule, rule: Rule, all: readonly string[]): boolean {
  if (by.table !== rule.table || !rule.may.every((m) => by.may.includes(m))) return false;
  const isFor =
    by.who === rule.who ||
    by.who === 'anybody' ||
    (by.who === 'signed in' && (rule.who !== 'anybody' || access.opens !== 'anybody'));
  if (!isFor) return false;
  const [has, wants] = [fieldsOfRule(by, all), fieldsOfRule(rule, all)];
  const isOpen = by.where.conditions.length === 0 && !by.where.groups?.length;
  return [...wants].every((f) => has.has(f)) && (isOpen || JSON.stringify(by.where) === JSON.stringify(rule.where));
}

const LITERAL = /^("([^"\\]|\\.)*"|-?\d+(\.\d+)?|true|false)$/;

/** What would have to be two things at once for all conditions to hold; null where nothing would. */
function neverHolds(where: Where): string | null {
  if (where.match !== 'all') return null;
  const is = new Map<string, string>();
  for (const { left, op, right } of where.conditions) {
    if (op !== 'is' || !left || !LITERAL.test(right.trim())) continue;
    const wanted = right.trim().toLowerCase();
    const before = is.get(left);
    if (before !== undefined && before !== wanted) return left;
    is.set(left, wanted);
  }
  return null;
}
