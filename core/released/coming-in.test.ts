import { expect, it } from 'vitest';
import { ALL_RECORDS } from '../access/plain.fixture.ts';
import { OWNER, type Who } from '../access/access.ts';
import type { AppAccess } from '../app/access-schema.ts';
import { stampText } from '../host/clock.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { inMemory } from './fixture.ts';
import type { Happening } from './ports.ts';

const rules: AppAccess = {
  opens: 'signed in',
  mail: F.mail,
  roles: [],
  rules: [{ id: 'u_rule0000', who: 'signed in', may: ['see'], table: T.keepers, where: ALL_RECORDS }],
};

function begun(access: AppAccess = rules) {
  const told: Happening[] = [];
  const app = inMemory({ ...hiveApp(), people: T.keepers, access }, (what) => told.push(what));
  return { app, told };
}

it('of two who come in with one address at once, the second is the first', async () => {
  const { app } = begun();
  const [a, b] = await Promise.all([
    app.comingIn.comesIn('new@heatherfield.example'),
    app.comingIn.comesIn('New@Heatherfield.example '),
  ]);
  expect(a).toBe(b);
  expect(app.host.replica.records.rows(T.keepers)).toHaveLength(1);
});

it('notices reach people by their record or address, and nobody by a name that others can take', async () => {
  const { app, told } = begun();
  const who = (person: string): Who => ({ kind: 'somebody', person, mail: `${person}@heatherfield.example` });
  await app.host.accept(
    ['odile', 'ines'].map((k, i) => ({
      id: `c${i}`,
      stamp: stampText(1_700_000_000_000 + i, 0, 'test'),
      table: T.keepers,
      record: k,
      do: 'set' as const,
      cells: { [F.keeperName]: k, [F.mail]: ` ${k}@Heatherfield.example` },
    })),
    OWNER,
  );
  const notice = (id: string, to: string[], people?: string[]) =>
    app.send({ id, kind: 'notice', to, ...(people && { people }), subject: 'Swarm', body: '' });
  await notice('notice1', ['Odile'], ['odile']);
  await notice('notice2', ['INES@heatherfield.example', 'somebody else']);
  await notice('notice3', ['Odile']);
  expect(told.flatMap((t) => (t.kind === 'notice' ? [t.notice.to] : []))).toEqual([
    ['odile@heatherfield.example'],
    ['ines@heatherfield.example'],
    ['Odile'],
  ]);
  expect(app.host.access.personOf(who('odile'))).toBe('odile');
  await app.close(new Error('over') as never);
});

it('an address of a domain that is let in becomes one of the people; others of other domains do not', async () => {
  const { app } = begun({ ...rules, opens: 'people', domains: ['club.example', 'xn--mhle-0ra.example'] });
  const { comingIn } = app;
  for (const mail of ['ada@club.example', ' Bo@CLUB.example ', 'cy@mühle.example']) {
    expect(comingIn.mayCome(mail)).toBe(true);
    expect(await comingIn.comesIn(mail)).toEqual(expect.any(String));
  }
  for (const mail of [
    'eve@other.example',
    'eve@notclub.example',
    'eve@sub.club.example',
    'eve@club.example.evil.example',
    'eve@evil.example@club.example',
    'club.example',
    '@club.example',
    'eve@club.example\n',
  ].filter((m) => m.trim() !== 'eve@club.example')) {
    expect(comingIn.mayCome(mail)).toBe(false);
    expect(await comingIn.comesIn(mail)).toBeNull();
  }
  expect(app.host.replica.records.rows(T.keepers)).toHaveLength(3);
});
