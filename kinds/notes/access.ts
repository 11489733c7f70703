import type { Rule } from '../../core/app/access-schema.ts';
import type { App } from '../../core/app/schema.ts';
import { fieldsOfRule, readyConditions } from '../../core/app/access-rules.ts';
import { thisId } from '../../core/document/ids.ts';
import { defineNote, type Note } from '../../core/preflight/note.ts';
import { WHOLE, type Model } from '../../core/records/model.ts';
import { readThrough } from '../../core/records/read-through.ts';

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
      const given = broken ? [] : givesRoles(app, model, rule);
      if (given.length && !rule.meant)
        at(
          'stops',
          `${nameOf(rule.who)} could give themselves more than they have, by ${given.join(' and ')}. Leave that out, or say that it is meant.`,
          rule.id,
        );
    }
    for (const s of app.screens)
      if (s.roles && !s.roles.some((id) => access.roles.some((r) => r.id === id)))
        notes.push({
          severity: 'stops',
          said: `${s.name} is open to nobody: choose a role, or open it to all who may open the app.`,
          workspace: 'screens',
          screen: s.id,
        });
    for (const t of app.tables)
      if (!t.fetched && !access.rules.some((r) => r.table === t.id))
        at('look', `Nobody but you sees ${t.name}: no rule is about them.`, 'rules');
    return notes;
  },
});

/**
 * By what a rule lets people give roles, to themselves or others, or come in as somebody else: fields that conditions of
 * roles read, through formula fields and along links, and what people sign in by.
 */
function givesRoles(app: App, model: Model, rule: Rule): string[] {
  const { access } = app;
  const people = app.tables.find((t) => t.id === app.people);
  const table = app.tables.find((t) => t.id === rule.table);
  if (!access || !people || !table) return [];
  const leaves = access.roles.flatMap(
    (r) => readThrough(model, readyConditions(model, people.id, r.where).reads).leaves,
  );
  const own = [access.mail, access.approved].flatMap((f) => (f ? [{ table: people.id, field: f, isFar: false }] : []));
  const here = [...leaves, ...own].filter((l) => l.table === table.id);
  const written = fieldsOfRule(
    rule,
    table.fields.map((f) => f.id),
  );
  const isOwn =
    table === people &&
    rule.where.match === 'all' &&
    rule.where.conditions.some((c) => c.left === thisId(people.id) && c.op === 'is' && c.right === 'person()');
  const writes = rule.may.includes('change') || rule.may.includes('add');
  const named = table.fields
    .filter((f) => writes && f.type !== 'formula' && written.has(f.id) && here.some((l) => l.field === f.id))
    // Whoever writes another address into their own record signs in with that, and has no more by it.
    .filter((f) => !(isOwn && f.id === access.mail && !rule.may.includes('add')))
    .map((f) => `${f.name} of ${table.name}`);
  // What is counted or looked for changes with every record that comes or goes.
  const [far] = here.filter((l) => l.isFar);
  if (named.length === 0 && far && (rule.may.includes('remove') || (far.field === WHOLE && rule.may.includes('add'))))
    return [`${rule.may.includes('remove') ? 'removing' : 'adding'} ${table.name}`];
  return named;
}
