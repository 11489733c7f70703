import { allId, newId, thisId } from '../document/ids.ts';
import { aOrAn, freeName } from '../document/names.ts';
import type { Condition, Where } from '../document/pieces.ts';
import { allOf } from '../document/queries.ts';
import { whereText } from '../formula/guided.ts';
import { asWords } from '../records/words.ts';
import type { Field, Table } from '../tables/schema.ts';
import { MAY, type Role, type Rule } from './access-schema.ts';
import { beginAccess, beginsAsOwn, ownerLink } from './access-edits.ts';
import { addField } from './edits.ts';
import { peopleTable } from './people.ts';
import { walkElements } from '../document/walk.ts';
import { rowFor } from './generate-screens.ts';
import { routineFor } from './row-sections.ts';
import { screensThere } from './screens-for.ts';
import { ElementMaker } from './make.ts';
import type { App, BoxElement, Element, Routine, Screen } from './schema.ts';

/**
 * Records that need approval, as a whole: they wait until somebody with a role accepts them or sends them back with words.
 * Those of whoever has the role are accepted at once. It is made of a field, rules, a screen and routines like any other.
 */

/** Where a record stands. */
export const STATES = { waiting: 'Waiting', accepted: 'Accepted', back: 'Sent back' } as const;

const text = (words: string): string => JSON.stringify(words);
const all = (conditions: Condition[], groups?: Where[]): Where => ({
  match: 'all',
  conditions,
  ...(groups && { groups }),
});
const is = (left: string, right: string): Condition => ({ left, op: 'is', right });

/** The fields of a table by which its records are approved. */
export interface Approval {
  state: Field;
  reply: Field;
}

/** How the records of a table are approved; null where they need no approval. */
export function approvalOf(table: Table): Approval | null {
  const names = Object.values(STATES);
  const state = table.fields.find(
    (f) => f.type === 'choice' && f.only && names.every((n) => f.choices?.some((c) => c.name === n)),
  );
  const reply = state && table.fields[table.fields.indexOf(state) + 1];
  return state && reply?.type === 'text' ? { state, reply } : null;
}

/** The role of those who approve: people of whom a yes/no field says so, which is added to them. */
export function approversOf(app: App): Role {
  const { access } = app;
  const field = addField(app, app.people!, 'yesno', 'Approves');
  const role: Role = {
    id: newId('r'),
    name: freeName(
      'Approvers',
      access!.roles.map((r) => r.name),
    ),
    where: all([{ left: field.id, op: 'holds', right: '' }]),
  };
  access!.roles.push(role);
  // Nobody gives it to themselves: who may change people keeps off this field.
  for (const r of access!.rules)
    if (r.table === app.people && r.may.some((m) => m === 'add' || m === 'change') && r.fields?.are !== 'only')
      r.fields = { are: 'all but', of: [...(r.fields?.of ?? []), field.id] };
  return role;
}

/** The tables whose records can need approval: those with a link to the people, by which a record is somebody's. */
export const canNeedApproval = (app: App): { table: Table; owner: Field }[] =>
  app.tables.flatMap((table) => {
    const owner = app.people === table.id || table.fetched ? undefined : ownerLink(table, peopleTable(app)?.id ?? '');
    return owner && !approvalOf(table) ? [{ table, owner }] : [];
  });

/** Where nothing was set yet: everyone sees, own ones are changed, and those of one table need approval. */
export function beginWithApproval(app: App, tableId: string): Approval | null {
  if (!beginAccess(app, 'own')) return null;
  const found = canNeedApproval(app).find((t) => t.table.id === tableId);
  return found ? needApproval(app, tableId, found.owner.id, approversOf(app)) : null;
}

/** Is the person using the app one of a role? A formula; null where the role says nothing that can be asked. */
const inRole = (app: App, role: Role): string | null => {
  const where = whereText(role.where);
  return where && `count(${allId(app.people!)}[item = person() and (${where})]) > 0`;
};

/**
 * Lets the records of a table need approval by a role. `owner` is the link to whoever they belong to. What is there
 * already counts as accepted: its state is empty, which says so until somebody sets it.
 */
export function needApproval(
  app: App,
  tableId: string,
  owner: string,
  role: Role,
  make = new ElementMaker(),
): Approval {
  const table = app.tables.find((t) => t.id === tableId)!;
  const state = addField(app, tableId, 'choice', 'Approval');
  const approver = inRole(app, role);
  Object.assign(state, {
    only: true,
    choices: [
      { name: STATES.waiting, colour: 2 },
      { name: STATES.accepted, colour: 0 },
      { name: STATES.back, colour: 4 },
    ],
    default: approver
      ? `if ${approver} then ${text(STATES.accepted)} else ${text(STATES.waiting)}`
      : text(STATES.waiting),
  });
  const whose = table.fields.find((f) => f.id === owner);
  if (whose?.link) beginsAsOwn(app, table, whose);
  const reply = addField(app, tableId, 'text', 'Words of approval');
  const approval = { state, reply };
  setRules(app, table, owner, role, approval);
  putScreens(app, table, role, approval, make);
  return approval;
}

/** Own records are seen in any state and changed until they are accepted; others once they are; the role does everything. */
function setRules(app: App, table: Table, owner: string, role: Role, { state, reply }: Approval): void {
  const rule = (more: Omit<Rule, 'id' | 'table'>): Rule => ({ id: newId('u'), table: table.id, ...more });
  const own = is(owner, 'person()');
  const isIn = (...states: string[]): Where => ({ match: 'any', conditions: states.map((s) => is(state.id, text(s))) });
  const accepted = isIn(STATES.accepted);
  accepted.conditions.push({ left: state.id, op: 'is empty', right: '' });
  const but = { are: 'all but' as const, of: [reply.id] };
  const { access } = app;
  access!.rules = [
    ...access!.rules.filter((r) => r.table !== table.id || r.who !== 'signed in'),
    rule({ who: 'signed in', may: ['see'], where: accepted }),
    rule({ who: 'signed in', may: ['see'], where: all([own]) }),
    rule({ who: 'signed in', may: ['add'], where: all([own, is(state.id, text(STATES.waiting))]), fields: but }),
    rule({
      who: 'signed in',
      may: ['change', 'remove'],
      where: all([own], [isIn(STATES.waiting, STATES.back)]),
      fields: but,
    }),
    rule({ who: role.id, may: [...MAY], where: all([]) }),
  ];
}

/** A list of what waits, open to the role, and on the screen of a record its state with what can be done about it. */
function putScreens(app: App, table: Table, role: Role, approval: Approval, make: ElementMaker): void {
  const there = screensThere(app).get(table.id);
  const detail = app.screens.find((s) => s.id === there?.detail);
  if (detail) (detail.root as BoxElement).children.push(...aboutOne(app, table, approval, make));
  const list: Screen = {
    id: make.id('s'),
    name: freeName(
      'To approve',
      app.screens.map((s) => s.name),
    ),
    given: null,
    icon: 'check',
    roles: [role.id],
    root: make.box(
      'down',
      [
        make.text('To approve', 'title'),
        make.list(table.id, [rowFor(table, make)], {
          name: `${table.name} that wait`,
          query: { ...allOf(table.id), where: all([is(approval.state.id, text(STATES.waiting))]) },
          empty: asWords(`No ${table.name.toLowerCase()} wait for approval.`),
          ...(detail && { tap: { do: 'open', screen: detail.id, give: thisId(table.id) } }),
        }),
      ],
      { inside: 16, gap: 12 },
    ),
  };
  app.screens.push(list);
  const first = app.screens.find((s) => s.id === there?.list);
  if (first) sayInRows(first.root, table, approval);
  if (app.tabs.length < 5) return void app.tabs.push({ screen: list.id, name: list.name, icon: list.icon! });
  // With no room among the tabs, the list of all leads there; who may not open it does not see the button.
  first?.root.children.push(
    make.button(list.name, { do: 'open', screen: list.id, give: '' }, { look: 'quiet', icon: list.icon! }),
  );
}

/** A row of one's own that is not accepted says so at its end. */
function sayInRows(root: Element, table: Table, { state }: Approval): void {
  const path = `${thisId(table.id)}.${state.id}`;
  walkElements<Element>([root], (e) => {
    const [row] = e.kind === 'list' && e.query.table === table.id && !e.query.via ? e.children : [];
    if (row?.kind !== 'box' || row.runs !== 'across') return;
    const seenWhen = `${path} != null and ${path} != ${text(STATES.accepted)}`;
    row.children.push(new ElementMaker().text(`{${path}}`, 'small', { colour: 'soft', seenWhen }));
  });
}

/** State and words of one record, and the buttons; those that would be refused do not show, by the rules. */
function aboutOne(app: App, table: Table, { state, reply }: Approval, make: ElementMaker): Element[] {
  const me = thisId(table.id);
  const one = aOrAn(table.one);
  const [at, words] = [`${me}.${state.id}`, `${me}.${reply.id}`];
  const routine = (name: string, steps: Routine['steps']): Routine => {
    const made = routineFor(make, app, table, name, steps);
    app.routines.push(made);
    return made;
  };
  const sets = (to: string, say: string) =>
    make.step('set', {
      record: me,
      values: [
        { field: state.id, value: text(to) },
        { field: reply.id, value: say },
      ],
    });
  const question = make.step('question', { words: 'What should be changed?', resultName: 'words' });
  const accept = routine(`Accept ${one}`, [sets(STATES.accepted, '""'), make.step('back')]);
  const back = routine(`Send ${one} back`, [question, sets(STATES.back, question.result), make.step('back')]);
  const again = routine(`Submit ${one} again`, [
    make.step('set', { record: me, values: [{ field: state.id, value: text(STATES.waiting) }] }),
  ]);
  const runs = (words: string, { id }: Routine, more: object): Element =>
    make.button(words, { do: 'routine', routine: id }, { width: 'fill', ...more });
  return [
    make.box(
      'down',
      [
        make.reading(state.name, at),
        make.reading(reply.name, words, { seenWhen: `${words} != null and ${words} != ""` }),
        make.box('across', [runs('Accept', accept, { icon: 'check' }), runs('Send back', back, { look: 'quiet' })], {
          gap: 10,
          seenWhen: `${at} = ${text(STATES.waiting)}`,
        }),
        runs('Submit again', again, { look: 'quiet', seenWhen: `${at} = ${text(STATES.back)}` }),
      ],
      { name: 'Approval', surface: 'card', inside: 14, gap: 10, seenWhen: `${at} != null` },
    ),
  ];
}
