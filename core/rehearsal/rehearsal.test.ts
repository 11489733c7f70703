import '../../kinds/given/all.ts';
import { afterEach, describe, expect, it } from 'vitest';
import { thisId } from '../document/ids.ts';
import { stampText } from '../host/clock.ts';
import type { PhonePage, Where } from '../phone/walk.ts';
import type { RecordState } from '../records/change.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { HOUR, make, MINUTE, routine, START } from '../runs/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import { Rehearsal } from './rehearsal.ts';

const me = thisId(T.hives);
const stamp = stampText(START - HOUR, 0, 'maker');
const states: RecordState[] = [
  { table: T.keepers, id: 'odile', cells: { [F.keeperName]: 'Odile' }, stamp },
  { table: T.keepers, id: 'tom', cells: { [F.keeperName]: 'Tom' }, stamp },
  { table: T.hives, id: 'oak', cells: { [F.name]: 'Oak', [F.weight]: 10 }, stamp },
];

let open: Rehearsal | null = null;
afterEach(() => open?.end());

function begin(...routines: ReturnType<typeof routine>[]): Rehearsal {
  const app = hiveApp();
  app.zone = 'UTC';
  app.people = T.keepers;
  const [first] = app.screens;
  app.screens.push({ ...first!, id: 's_second0000', name: 'Second', root: { ...first!.root, id: 'e_second0000', children: [] } as never }); // prettier-ignore
  app.routines.push(...routines);
  open = new Rehearsal({ app, states, kinds: allKinds, at: START, file: async () => null, changed: () => undefined });
  return open;
}

describe('a rehearsal', () => {
  it('has phones with the records of the app, and leaves those alone', async () => {
    const r = begin();
    const odile = r.phones[await r.add({ is: 'person', record: 'odile' })]!;
    const tom = r.phones[await r.add({ is: 'person', record: 'tom' })]!;
    expect(await odile.api.person()).toBe('Odile');
    await odile.api.saveForm(T.hives, 'oak', { [F.weight]: 12 }, true);
    await r.settle();
    expect(tom.there.cell(T.hives, 'oak', F.weight)).toBe(12);
    expect(states[2]!.cells[F.weight]).toBe(10);
    const { records, all } = r.changedRecords();
    expect(all).toBe(1);
    expect(records[0]).toMatchObject({ did: 'changed', fields: [{ was: '10 kg', is: '12 kg' }] });
    const said = r.notesSince(0).map((n) => `${n.of} ${n.said}`);
    expect(said.filter((s) => s.startsWith('p2')).at(-1)).toBe('p2 received 1 change');
    expect(said.some((s) => s.startsWith('server took Hives › Oak'))).toBe(true);
  });

  it('goes on while a phone has no network, and brings both together when it has', async () => {
    const r = begin();
    const [a, b] = [
      r.phones[await r.add({ is: 'person', record: 'odile' })]!,
      r.phones[await r.add({ is: 'nobody' })]!,
    ];
    a.network = 'off';
    await a.api.saveForm(T.hives, 'oak', { [F.weight]: 13 }, true);
    await r.pass(HOUR);
    expect(b.there.cell(T.hives, 'oak', F.weight)).toBe(10);
    expect(a.state).toMatchObject({ online: false, waiting: 1 });
    a.network = 'on';
    await r.settle();
    expect(b.there.cell(T.hives, 'oak', F.weight)).toBe(13);
    expect(a.state).toMatchObject({ online: true, waiting: 0 });
  });

  it('gives the steps of what ran, on a phone and on the server, by the note that tells of it', async () => {
    const put = (field: string, value: string) => make.step('set', { record: me, values: [{ field, value }] });
    const weigh = routine('Weigh', 'record changed', { how: 'changed', fields: [F.weight] }, [
      put(F.tag, '"weighed"'),
      make.step('mail', { to: '"nowhere"', subject: 'Heavy', body: 'Look.' }),
    ]);
    const here = routine('Here', 'record changed', {}, [put(F.weight, '30')], { starts: [] });
    const r = begin(weigh, here);
    const odile = r.phones[await r.add({ is: 'person', record: 'odile' })]!;
    await odile.there.phone.session.runNow(here, 'oak');
    await r.settle();
    const notes = r.notesSince(0).filter((n) => n.ofRun);
    expect(notes.map((n) => `${n.of} ${n.said}`)).toEqual([
      'p1 ran Here',
      expect.stringContaining('server began Weigh'),
      expect.stringContaining('server Weigh failed: '),
    ]);
    const runs = await Promise.all(notes.map((n) => r.runOf(n.n)));
    expect(runs.map((run) => run?.steps.map((s) => s.step))).toEqual([
      [here.steps[0]!.id],
      weigh.steps.map((s) => s.id),
      weigh.steps.map((s) => s.id),
    ]);
    expect(notes[2]!.said).toContain(runs[2]!.steps[1]!.error!);
    expect(await r.runOf(r.notesSince(0).find((n) => !n.ofRun)!.n)).toBeNull();
  });

  it('keeps what a phone had kept when that goes out and opens again', async () => {
    const r = begin();
    const id = await r.add({ is: 'person', record: 'odile' });
    const phone = r.phones[id]!;
    phone.network = 'off';
    await phone.api.saveForm(T.hives, 'oak', { [F.weight]: 14 }, true);
    phone.close();
    expect(r.state.phones[0]).toMatchObject({ isOpen: false, openings: 1 });
    phone.network = 'on';
    phone.open();
    await r.settle();
    expect(r.state.phones[0]).toMatchObject({ isOpen: true, openings: 2, person: 'odile' });
    expect(r.world.cell(T.hives, 'oak', F.weight)).toBe(14);
  });

  it('says what the clock will start next, and goes there', async () => {
    const mail = make.step('mail', { to: '"keeper@example.org"', subject: 'At four', body: 'Look.' });
    const r = begin(routine('Digest', 'clock', { each: 'day', time: '16:00' }, [mail], { given: null }));
    expect(r.state.next).toMatchObject({ said: 'Digest', at: START + 8 * HOUR });
    await r.to(r.next!.at);
    expect(r.state.now).toBeGreaterThanOrEqual(START + 8 * HOUR);
    expect(r.state.now).toBeLessThan(START + 8 * HOUR + MINUTE);
    const { mails } = await r.mailbox();
    expect(mails.map((m) => [m.came, m.subject])).toEqual([[false, 'At four']]);
    expect(r.notesSince(0).some((n) => n.sort === 'sent' && n.said.includes('At four'))).toBe(true);
  });

  it('takes a mail of somebody outside, and refuses one in words where no routine waits for it', async () => {
    const put = make.step('add', { table: T.hives, values: [{ field: F.name, value: 'v_subject000' }] });
    const takes = routine('Mail', 'mail came', { by: 'person' }, [put], {
      given: null,
      inputs: [{ id: 'v_subject000', name: 'Subject', type: 'text', first: '', from: 'subject' }],
    });
    const mail = { from: 'ada@post.example', name: 'Ada', subject: 'A swarm', words: 'It hangs there.' };
    const r = begin(takes);
    await r.write(mail);
    await r.settle();
    expect(r.world.host.replica.records.rows(T.hives).map((h) => h.title())).toContain('A swarm');
    await r.end();
    const none = begin();
    await expect(none.write(mail)).rejects.toThrow('This app takes no mails.');
  });

  it('notes what somebody sees and taps, by what it is called', async () => {
    const r = begin();
    const screen = r.world.app.screens[0]!;
    const phone = r.phones[await r.add({ is: 'nobody' })]!;
    let where: Where | null = null;
    const page: PhonePage = {
      where: (w) => (where = w),
      draw: async () => undefined,
      leaving: () => undefined,
      asks: () => undefined,
      does: async () => undefined,
    };
    await phone.walk.begin(page, { room: 'narrow' });
    await r.settle();
    expect(where!.stack[0]!.screen).toBe(screen.id);
    expect(r.notesSince(0).find((n) => n.of === 'p1' && n.sort === 'done')?.said).toBe(`sees ${screen.name}`);
    // Whoever comes back finds it where it was left, until the app is opened anew.
    const other = r.world.app.screens.at(-1)!;
    await phone.walk.go({ to: 'push', place: { screen: other.id, record: null } });
    await phone.walk.end();
    await phone.walk.begin(page, { room: 'narrow' });
    expect(where!.stack.map((p) => p.screen)).toEqual([screen.id, other.id]);
    phone.open();
    await phone.walk.begin(page, { room: 'narrow' });
    expect(where!.stack.map((p) => p.screen)).toEqual([screen.id]);
  });
  it('lets in whom the app lets in: a stranger is refused in words, and signs in where they may', async () => {
    const r = begin();
    const { app } = r.world;
    app.access = { opens: 'people', mail: F.mail, roles: [], rules: [{ id: 'u_all0000000', who: 'signed in', may: ['see'], table: T.hives, where: { match: 'all', conditions: [] } }], domains: ['heather.example'] }; // prettier-ignore
    await r.end();
    open = new Rehearsal({ app, states, kinds: allKinds, at: START, file: async () => null, changed: () => undefined });
    const id = await open.add({ is: 'nobody' });
    expect(open.phones[id]!.there.records.rows(T.hives)).toHaveLength(0);
    expect(open.notesSince(0).some((n) => n.said.includes('Sign in to use this app'))).toBe(true);
    await expect(open.signIn(id, 'ada@post.example')).rejects.toThrow('does not let in ada@post.example');
    await open.signIn(id, 'ada@heather.example');
    expect(open.phones[id]!.there.records.rows(T.hives)).toHaveLength(1);
    expect(open.state.phones[0]).toMatchObject({ name: 'ada' });
  });
  it('has six phones at most, and one that is put away hears nothing more', async () => {
    const r = begin(routine('Weigh', 'record changed', { how: 'added' }, [make.step('set', { record: me, values: [{ field: F.weight, value: '1' }] })])); // prettier-ignore
    const ids: string[] = [];
    for (let i = 0; i < 6; i++) ids.push(await r.add({ is: 'nobody' }));
    await expect(r.add({ is: 'nobody' })).rejects.toThrow('Put one of them away first');
    const gone = r.phones[ids[0]!]!.there;
    r.remove(ids[0]!);
    await r.phones[ids[1]!]!.api.saveForm(T.hives, 'oak', { [F.weight]: 15 }, true);
    await r.settle();
    expect(gone.cell(T.hives, 'oak', F.weight)).toBe(10);
    expect(r.phones[ids[2]!]!.there.cell(T.hives, 'oak', F.weight)).toBe(15);
  });
});
