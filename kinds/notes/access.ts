import { fieldsThatGive } from '../../core/app/access-edits.ts';
import type { Rule } from '../../core/app/access-schema.ts';
import type { App } from '../../core/app/schema.ts';
import { fieldsOfRule, readyConditions } from '../../core/app/access-rules.ts';
import { thisId } from '../../core/document/ids.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';

/** Rules and roles that hold for nothing, what nobody can sign in by, and people who could give themselves more. */
export const brokenAccess = defineNote({
  name: 'who may do what',
  find({ app, model }) {
    const { access } = app;
    if (!access) return [];
    const notes: Note[] = [];
    const at = (severity: Note['severity'], said: string, rule?: string): void =>
      void notes.push({ severity, said, workspace: 'people', ...(rule && { rule }) });
    const people = app.tables.find((t) => t.id === app.people);
    if (access.opens !== 'anybody' && (!people || !people.fields.some((f) => f.id === access.mail)))
      at('stops', 'Nobody can sign in: choose the table of people and the field with their mail address.', 'opens');
    const nameOf = (who: string): string => access.roles.find((r) => r.id === who)?.name ?? 'Everybody';
    for (const role of access.roles) {
      const { broken, askPerson } = readyConditions(model, app.people ?? '', role.where);
      if (broken) at('stops', `${role.name} are nobody. ${broken}`, role.id);
      else if (askPerson) at('stops', `${role.name} are nobody: a role cannot ask who uses the app.`, role.id);
      else if (role.where.conditions.length === 0 && !role.where.groups?.length)
        at('look', `${role.name} are everybody who signs in: the role has no condition.`, role.id);
    }
    for (const rule of access.rules) {
      const table = app.tables.find((t) => t.id === rule.table);
      const { broken } = readyConditions(model, rule.table, rule.where);
      if (broken) at('stops', `A rule about ${table?.name ?? 'a table'} holds for nothing. ${broken}`, rule.id);
      else if (rule.who !== 'anybody' && rule.who !== 'signed in' && !access.roles.some((r) => r.id === rule.who))
        at('stops', `A rule about ${table!.name} is for a role that is gone.`, rule.id);
      else if (rule.who === 'anybody' && access.opens !== 'anybody')
        at('look', `A rule about ${table!.name} is for anybody, and only those who sign in can open the app.`, rule.id);
      const given = broken ? [] : givesRoles(app, rule);
      if (given.length && !rule.meant)
        at(
          'stops',
          `${nameOf(rule.who)} could give themselves more than they have, by ${given.join(' and ')} of ${table!.name}. Leave that out, or say that it is meant.`,
          rule.id,
        );
    }
    for (const t of app.tables)
      if (!t.fetched && !access.rules.some((r) => r.table === t.id))
        at('look', `Nobody but you sees ${t.name}: no rule is about them.`, 'rules');
    return notes;
  },
});

/** The names of fields by which a rule lets people give roles, to themselves or others, or come in as somebody else. */
function givesRoles(app: App, rule: Rule): string[] {
  const people = app.tables.find((t) => t.id === app.people);
  if (!people || rule.table !== people.id || !(rule.may.includes('change') || rule.may.includes('add'))) return [];
  const all = people.fields.map((f) => f.id);
  const written = fieldsOfRule(rule, all);
  const isOwn =
    rule.where.match === 'all' &&
    rule.where.conditions.some((c) => c.left === thisId(people.id) && c.op === 'is' && c.right === 'person()');
  return (
    people.fields
      .filter((f) => fieldsThatGive(app).has(f.id) && written.has(f.id) && f.type !== 'formula')
      // Whoever writes another address into their own record signs in with that, and has no more by it.
      .filter((f) => !(isOwn && f.id === app.access!.mail && !rule.may.includes('add')))
      .map((f) => f.name)
  );
}
