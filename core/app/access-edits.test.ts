import { describe, expect, it } from 'vitest';
import { F, hiveApp, T } from '../records/fixture.ts';
import { addRole, beginAccess, BEGINNINGS, cellWords, fieldsThatGive, removeRole, rulesFor } from './access-edits.ts';
import { removeField, removeTable } from './edits.ts';

const begun = (beginning: (typeof BEGINNINGS)[number]) => {
  const app = hiveApp();
  return { app, access: beginAccess(app, beginning)! };
};
const words = (beginning: (typeof BEGINNINGS)[number]) => {
  const { access } = begun(beginning);
  return [T.hives, T.visits, T.keepers].map((t) => cellWords(rulesFor(access, 'signed in', t)));
};

describe('who may do what begins', () => {
  it('with what is chosen, for every table; nobody gives themselves a role', () => {
    expect(words('open')).toEqual([
      'see, add, change, remove all',
      'see, add, change, remove all',
      'see all; change some',
    ]);
    expect(words('own')).toEqual(['see all; add, change, remove some', 'see all', 'see all; change some']);
    expect(words('only own')).toEqual(['see, add, change, remove some', 'see all', 'see all; change some']);
    expect(words('read')).toEqual(['see all', 'see all', 'see all']);
    const { app, access } = begun('own');
    expect([app.people, access.mail, access.opens]).toEqual([T.keepers, F.mail, 'people']);
    expect(access.rules.find((r) => r.table === T.keepers && r.may.includes('change'))!.fields).toEqual({
      are: 'all but',
      of: [F.mail],
    });
  });
  it('nowhere without people who have a mail address', () => {
    const app = hiveApp();
    removeField(app, T.keepers, F.mail);
    expect(beginAccess(app, 'open')).toBeNull();
    expect(app.access).toBeUndefined();
  });
});

describe('changes of an app', () => {
  it('take a role with what was for it alone', () => {
    const { app, access } = begun('read');
    const role = addRole(access, 'Near');
    app.screens[0]!.roles = [role.id];
    access.rules.push({ id: 'u_near00000', who: role.id, may: ['change'], table: T.hives, where: role.where });
    expect(cellWords(rulesFor(access, role.id, T.hives))).toBe('see, change all');
    expect(cellWords(rulesFor(access, 'signed in', T.hives))).toBe('see all');
    removeRole(app, role.id);
    // It was closed to all others, and stays so.
    expect(app.screens[0]!.roles).toEqual([]);
    expect(access.rules.some((r) => r.who === role.id)).toBe(false);
  });
  it('take rules about a table that goes, and names of fields that go', () => {
    const { app, access } = begun('own');
    access.approved = F.nearby;
    removeField(app, T.keepers, F.nearby);
    removeField(app, T.keepers, F.mail);
    expect([access.mail, access.approved]).toEqual([undefined, undefined]);
    expect(access.rules.find((r) => r.fields)!.fields!.of).toEqual([]);
    removeTable(app, T.hives);
    expect(access.rules.some((r) => r.table === T.hives)).toBe(false);
  });
  it('tell which fields give roles: those of conditions, what formulas there read, the address, the approval', () => {
    const { app, access } = begun('own');
    const role = addRole(access, 'Near');
    role.where = { match: 'all', conditions: [{ left: 'f_both00000', op: 'holds', right: '' }] };
    app.tables[2]!.fields.push({ id: 'f_both00000', name: 'Both', type: 'formula', formula: `${F.nearby} = true` });
    access.approved = F.keeperName;
    expect([...fieldsThatGive(app)].sort()).toEqual([F.mail, F.keeperName, F.nearby, 'f_both00000'].sort());
  });
});
