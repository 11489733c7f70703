import { newId, thisId } from '../document/ids.ts';
import { freeName } from '../document/names.ts';
import type { Where } from '../document/pieces.ts';
import { tableOf } from '../tables/names.ts';
import type { Field, Table } from '../tables/schema.ts';
import { MAY, mayWords, type AppAccess, type May, type Role, type Rule } from './access-schema.ts';
import { ownRecord, peopleTable, valueForLink } from './people.ts';
import type { App } from './schema.ts';

/** How makers set who may do what: where to begin, roles, rules. */

const ALL = (): Where => ({ match: 'all', conditions: [] });
const is = (left: string, right: string): Where => ({ match: 'all', conditions: [{ left, op: 'is', right }] });

export const BEGINNINGS = ['open', 'own', 'only own', 'read'] as const;
export type Beginning = (typeof BEGINNINGS)[number];

/** The field that tells people apart, of a table of people: one for mail addresses. */
export const mailField = (table: Table | undefined): Field | undefined => table?.fields.find((f) => f.type === 'mail');

/** The link by which a record is somebody's, by what the host can hold against whoever has signed in. */
export const ownerLink = (table: Table, people: string): Field | undefined =>
  table.fields.find((f) => f.link?.table === people && !f.several);

/** The fields of the table of people that conditions of roles name, and what lets people in. */
export function fieldsThatGive(app: Pick<App, 'tables' | 'people' | 'access'>): Set<string> {
  const { access } = app;
  const people = tableOf(app, app.people ?? '');
  if (!access || !people) return new Set();
  const texts = JSON.stringify(access.roles.map((r) => r.where));
  const named = people.fields.filter((f) => texts.includes(f.id)).map((f) => f.id);
  // What a formula field of a role is worked out from gives it just as well.
  const formulas = people.fields
    .filter((f) => named.includes(f.id))
    .map((f) => f.formula ?? '')
    .join(' ');
  const behind = people.fields.filter((f) => formulas.includes(f.id)).map((f) => f.id);
  return new Set([
    ...named,
    ...behind,
    ...(access.mail ? [access.mail] : []),
    ...(access.approved ? [access.approved] : []),
  ]);
}

const rule = (more: Omit<Rule, 'id'>): Rule => ({ id: newId('u'), ...more });

/** Whoever adds a record adds one of their own, unless they say otherwise. */
export function beginsAsOwn(app: App, table: Table, owner: Field): void {
  const person = ownRecord(app);
  if (!person) return;
  const { field, value } = valueForLink(owner, person);
  const written = table.fields.find((f) => f.id === field);
  if (written && !written.default) written.default = value;
}

/** The rules to begin with, for every table that an app has. */
function beginningRules(app: App, beginning: Beginning, people: Table): Rule[] {
  const everybody = { who: 'signed in' as const };
  const gives = [...fieldsThatGive(app)];
  return app.tables.flatMap((t): Rule[] => {
    const see = rule({ ...everybody, may: ['see'], table: t.id, where: ALL() });
    if (t.id === people.id) {
      const own = rule({
        ...everybody,
        may: ['change'],
        table: t.id,
        where: is(thisId(t.id), 'person()'),
        fields: { are: 'all but', of: gives },
      });
      return beginning === 'read' ? [see] : [see, own];
    }
    if (beginning === 'open')
      return [rule({ ...everybody, may: ['see', 'add', 'change', 'remove'], table: t.id, where: ALL() })];
    const owner = ownerLink(t, people.id);
    if (beginning === 'read' || !owner) return [see];
    const own = (may: May[]): Rule => rule({ ...everybody, may, table: t.id, where: is(owner.id, 'person()') });
    return beginning === 'own' ? [see, own(['add', 'change', 'remove'])] : [own(['see', 'add', 'change', 'remove'])];
  });
}

/** Sets who may do what, where nothing was set yet. Gives null, and changes nothing, where there are no people. */
export function beginAccess(app: App, beginning: Beginning): AppAccess | null {
  const people = peopleTable(app);
  const mail = mailField(people ?? undefined);
  if (!people || !mail) return null;
  app.people = people.id;
  const access: AppAccess = { opens: 'people', mail: mail.id, roles: [], rules: [] };
  app.access = access;
  access.rules = beginningRules(app, beginning, people);
  if (beginning === 'own' || beginning === 'only own')
    for (const t of app.tables) {
      const owner = t.id === people.id ? undefined : ownerLink(t, people.id);
      if (owner) beginsAsOwn(app, t, owner);
    }
  return access;
}

export function addRole(access: AppAccess, name = 'New role'): Role {
  const role = {
    id: newId('r'),
    name: freeName(
      name,
      access.roles.map((r) => r.name),
    ),
    where: ALL(),
  };
  access.roles.push(role);
  return role;
}

/** Takes a role away, with the rules that are for it. A screen that was open to it alone is open to nobody then, not to all. */
export function removeRole(app: Pick<App, 'access' | 'screens'>, id: string): void {
  const access = app.access!;
  for (const s of app.screens) if (s.roles) s.roles = s.roles.filter((r) => r !== id);
  access.roles = access.roles.filter((r) => r.id !== id);
  access.rules = access.rules.filter((r) => r.who !== id);
}

export function addRule(access: AppAccess, who: Rule['who'], table: string, may: May[] = ['see']): Rule {
  const made = rule({ who, may, table, where: ALL() });
  access.rules.push(made);
  return made;
}

/** A table is gone: so are the rules about it, and without its people nobody signs in. */
export function forgetTableInAccess(app: App, table: string): void {
  if (!app.access) return;
  app.access.rules = app.access.rules.filter((r) => r.table !== table);
  if (app.people === table) {
    delete app.access.mail;
    delete app.access.approved;
  }
}

/** A field is gone: rules that name it name it no more. Conditions stay, and hold for nothing until they are mended. */
export function forgetFieldInAccess(app: App, field: string): void {
  const { access } = app;
  if (!access) return;
  if (access.mail === field) delete access.mail;
  if (access.approved === field) delete access.approved;
  for (const r of access.rules) if (r.fields) r.fields.of = r.fields.of.filter((f) => f !== field);
}

/** What some people may do with the records of a table, in few words; empty where nothing. */
export function cellWords(rules: readonly Rule[]): string {
  const isWhole = (r: Rule): boolean => r.where.conditions.length === 0 && !r.where.groups?.length;
  const may = MAY.filter((m) => rules.some((r) => r.may.includes(m)));
  const all = may.filter((m) => rules.some((r) => r.may.includes(m) && isWhole(r)));
  const some = may.filter((m) => !all.includes(m));
  const said = (list: readonly May[], which: string): string =>
    list.length ? `${list.map(mayWords).join(', ')} ${which}` : '';
  return [said(all, 'all'), said(some, 'some')].filter(Boolean).join('; ');
}

/** The rules that are for somebody of a role: their own, and those for everybody. */
export const rulesFor = (access: AppAccess, who: Rule['who'], table: string): Rule[] =>
  access.rules.filter(
    (r) => r.table === table && (r.who === who || r.who === 'anybody' || (who !== 'anybody' && r.who === 'signed in')),
  );
