import { describe, expect, it } from 'vitest';
import { addRole, addRule, beginAccess } from '../../core/app/access-edits.ts';
import { thisId } from '../../core/document/ids.ts';
import { preflight } from '../../core/preflight/preflight.ts';
import { F, hiveApp, T } from '../../core/records/fixture.ts';

const begun = () => {
  const app = hiveApp();
  return { app, access: beginAccess(app, 'own')! };
};
const said = (app: ReturnType<typeof hiveApp>): string[] =>
  preflight(app)
    .filter((n) => n.workspace === 'people' && !n.field && !n.mend)
    .map((n) => `${n.severity}: ${n.said}`);

it('what one begins with has no faults', () => {
  expect(said(begun().app)).toEqual([]);
  expect(said(hiveApp())).toEqual([]);
});
it('whoever could give themselves a role stops a release, until that is meant', () => {
  const { app, access } = begun();
  const role = addRole(access, 'Near');
  role.where = { match: 'all', conditions: [{ left: F.nearby, op: 'holds', right: '' }] };
  expect(said(app)).toEqual([
    'stops: Everybody could give themselves more than they have, by Lives nearby of Keepers. Leave that out, or say that it is meant.',
  ]);
  access.rules.find((r) => r.fields)!.meant = true;
  expect(said(app)).toEqual([]);
  const adds = addRule(access, role.id, T.keepers, ['add']);
  expect(said(app)).toEqual([
    'stops: Near could give themselves more than they have, by Mail of Keepers and Lives nearby of Keepers. Leave that out, or say that it is meant.',
  ]);
  adds.fields = { are: 'only', of: [F.keeperName] };
  expect(said(app)).toEqual([]);
  // The address of others is a way to come in as them.
  Object.assign(adds, { may: ['change'], fields: { are: 'only', of: [F.mail] } });
  expect(said(app)[0]).toContain('by Mail of Keepers');
  adds.where = { match: 'all', conditions: [{ left: thisId(T.keepers), op: 'is', right: 'person()' }] };
  expect(said(app)).toEqual([]);
});
it('rules and roles that hold for nothing, or for everybody', () => {
  const { app, access } = begun();
  const role = addRole(access, 'Near');
  expect(said(app)).toEqual(['look: Near are everybody who signs in: the role has no condition.']);
  role.where = { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] };
  addRule(access, 'r_gone00000', T.hives);
  addRule(access, 'anybody', T.hives);
  addRule(access, role.id, T.hives).where = {
    match: 'all',
    conditions: [{ left: 'f_gone00000', op: 'is', right: '1' }],
  };
  access.rules = access.rules.filter((r) => r.table !== T.visits);
  delete access.mail;
  const all = said(app);
  expect(all).toHaveLength(6);
  expect(all.slice(0, 4)).toEqual([
    'stops: Nobody can sign in: choose the table of people and the field with their mail address.',
    'stops: Near are nobody. A condition is not filled in.',
    'stops: A rule about Hives is for a role that is gone.',
    'look: A rule about Hives is for anybody, and only those who sign in can open the app.',
  ]);
  expect(all[4]).toContain('stops: A rule about Hives holds for nothing.');
  expect(all[5]).toBe('look: Nobody but you sees Visits: no rule is about them.');
});

it('figures that tell of what not everybody sees are named, and how they are worked out', () => {
  const told = (app: ReturnType<typeof hiveApp>): string[] =>
    preflight(app)
      .filter((n) => n.workspace === 'people' && n.field)
      .map((n) => n.said);
  const app = hiveApp({
    hives: [
      {
        id: 'f_mine00000',
        name: 'Mine',
        type: 'formula',
        formula: `count(${F.hive}_back[${F.fed} > 1 and person() = "x"])`,
      },
      { id: 'f_last00000', name: 'Last visit', type: 'formula', formula: `${F.hive}_back[1]` },
      { id: 'f_loud00000', name: 'Loud', type: 'formula', formula: `upper case(${F.name})` },
    ],
  });
  const access = beginAccess(app, 'own')!;
  access.rules = [];
  addRule(access, 'signed in', T.hives, ['see']);
  // Nobody sees visits.
  expect(told(app)).toEqual([
    'Fed in all and Per visit of Hives are worked out from Visits, and not everybody who sees them sees all of that: all who see them are told something of what they do not see there.',
    'Mine of Hives is worked out from Visits, and not everybody who sees it sees all of that. It asks who uses the app, so each phone works it out from what its person sees.',
    'Last visit of Hives is worked out from Visits, and not everybody who sees it sees all of that. It gives records, so each person who sees it gets those that they see.',
  ]);
  // Everybody who sees hives sees them.
  addRule(access, 'signed in', T.visits, ['see']);
  expect(told(app)).toHaveLength(1);
  addRule(access, 'signed in', T.keepers, ['see']);
  expect(told(app)).toEqual([]);
  // A field of the hive itself is left out.
  access.rules[0]!.fields = { are: 'all but', of: [F.name] };
  expect(told(app)[0]).toMatch(/^Loud of Hives is worked out from other fields or records of Hives/);
});

it('whoever could give roles by other tables, along links and through formula fields, is found as well', () => {
  const { app, access } = begun();
  const promoted = (): string[] => said(app).filter((x) => x.includes('give themselves more'));
  const role = addRole(access, 'Busy');
  access.rules = access.rules.filter((r) => r.table !== T.keepers);
  role.where = { match: 'all', conditions: [{ left: `count(${F.keeper}_back)`, op: 'over', right: '3' }] };
  // Whose a hive is makes somebody busy; so everybody who may write that.
  expect(promoted().some((x) => x.includes('by Keeper of Hives'))).toBe(true);
  for (const r of access.rules) if (r.table === T.hives) r.may = ['see'];
  expect(promoted()).toEqual([]);
  addRule(access, 'signed in', T.hives, ['remove']);
  expect(promoted()[0]).toContain('by removing Hives');
});
it('a screen that is open to nobody stops a release', () => {
  const { app, access } = begun();
  const role = addRole(access, 'Near');
  role.where = { match: 'all', conditions: [{ left: F.keeperName, op: 'is', right: '"x"' }] };
  const stops = (): string[] =>
    preflight(app)
      .filter((n) => n.said.includes('open to nobody'))
      .map((n) => n.severity);
  app.screens[0]!.roles = [role.id];
  expect(stops()).toEqual([]);
  app.screens[0]!.roles = [];
  expect(stops()).toEqual(['stops']);
});

describe('rules that change nothing', () => {
  const needless = (app: ReturnType<typeof hiveApp>): string[] =>
    preflight(app)
      .filter((n) => n.mend === 'remove')
      .map((n) => `${n.rule}: ${n.said}`);
  const active = { match: 'all' as const, conditions: [{ left: F.status, op: 'is' as const, right: '"Active"' }] };

  it('are none of those one begins with', () => {
    for (const beginning of ['own', 'only own', 'read'] as const) {
      const app = hiveApp();
      beginAccess(app, beginning);
      expect(needless(app)).toEqual([]);
    }
  });
  it('are those that others cover, one of two that say the same, and those that never hold', () => {
    const { app, access } = begun();
    access.rules = [];
    const role = addRole(access, 'Near');
    const all = addRule(access, 'signed in', T.hives, ['see', 'change']);
    const covered = addRule(access, role.id, T.hives, ['see']);
    covered.where = active;
    expect(needless(app)).toEqual([
      `${covered.id}: A rule for Near about Hives changes nothing: one for Everybody signed in lets them do all of it already.`,
    ]);
    // One that lets them do more, with fields that the other leaves out, or for people who are not among the others.
    covered.may = ['see', 'remove'];
    expect(needless(app)).toEqual([]);
    covered.may = ['see'];
    all.fields = { are: 'all but', of: [F.weight] };
    expect(needless(app)).toEqual([]);
    covered.fields = { are: 'only', of: [F.name] };
    expect(needless(app)).toHaveLength(1);
    all.who = 'r_other00000';
    expect(needless(app)).toEqual([]);
    Object.assign(all, { who: role.id, where: active, may: ['see'], fields: covered.fields });
    expect(needless(app)).toHaveLength(1);
    access.rules = [all];
    all.where = { match: 'all', conditions: [...active.conditions, { left: F.status, op: 'is', right: '"Retired"' }] };
    expect(needless(app)).toEqual([
      `${all.id}: A rule for Near about Hives never holds: Status cannot be two things at once.`,
    ]);
    all.where.match = 'any';
    expect(needless(app)).toEqual([]);
  });
});

it('a unique value that people fill in who do not see all is named', () => {
  const { app, access } = begun();
  app.tables[0]!.fields.find((f) => f.id === F.tag)!.unique = true;
  const told = (): string[] =>
    preflight(app)
      .filter((n) => n.said.includes('must be unique'))
      .map((n) => n.said);
  expect(told()).toEqual([]);
  for (const r of access.rules)
    if (r.table === T.hives && r.may.includes('see')) r.fields = { are: 'all but', of: [F.tag] };
  expect(told()).toEqual([
    'Tag code of Hives must be unique, and not everybody who fills it in sees all Hives: whoever is refused learns that one with that Tag code is there.',
  ]);
  for (const r of access.rules)
    if (r.table === T.hives && !r.may.includes('see')) r.fields = { are: 'all but', of: [F.tag] };
  expect(told()).toEqual([]);
});

it('a routine shows a history that no rule lets anybody look at', () => {
  const { app, access } = begun();
  const steps = [{ id: 'p_past000000', do: 'look back' as const, record: thisId(T.hives) }];
  app.routines = [{ id: 'g_past000000', name: 'Past', given: T.hives, steps }];
  const notes = (): string[] => preflight(app).flatMap((n) => (n.said.includes('look back') ? [n.said] : []));
  expect(notes()).toEqual(['Past shows the history of a record, and no rule lets anybody look back at one.']);
  addRule(access, 'signed in', T.hives, ['look back']);
  expect(notes()).toEqual([]);
});
