import { describe, expect, it } from 'vitest';
import { NOBODY, OWNER, type Who } from '../access/access.ts';
import { keepersRules } from '../access/fixture.ts';
import type { App, Step } from '../app/schema.ts';
import { hashOf } from '../fields/keep-file.ts';
import { keptAddress } from '../fields/kept-file.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { allKinds } from '../session/fixture.ts';
import type { Network } from './network.ts';
import { World, type WorldPhone } from './world.ts';
import './warm.fixture.ts';

const MINUTE = 60_000;
const PHOTO = 'f_photo000';

/** An app with routines by name, and a field for photos. */
function appWith(routines: Record<string, Partial<Step>[]> = {}): App {
  const app = hiveApp({ hives: [{ id: PHOTO, name: 'Photo', type: 'picture' }] });
  app.routines = Object.entries(routines).map(([name, steps]) => ({
    id: `r_${name.padEnd(8, '0')}`,
    name,
    given: null,
    steps: steps.map((s, i) => ({ id: `p_${name}${i}00000`, ...s })) as Step[],
  }));
  return app;
}
const run = (p: WorldPhone, name: string) =>
  p.phone.session.runNow(
    p.phone.app.routines.find((r) => r.name === name)!,
    null,
  );

const tells = appWith({
  mail: [{ do: 'mail', to: '"ines@heatherfield.example"', subject: 'The queen', body: 'Is here.' }],
  notify: [{ do: 'notify', to: '"Ines"', title: 'A swarm at the school' }],
});
const world = (app: App, more = {}): World => new World({ app, kinds: allKinds, ...more });
const notices = (p: WorldPhone): string[] => p.effects.flatMap((e) => (e.do === 'notice' ? [e.title] : []));

describe('a mail', () => {
  it.each<Network>(['off', 'answers lost', 'twice', 'slow'])(
    'written with a network that is %s goes out once',
    async (network) => {
      const w = world(tells);
      const p = w.phone();
      await w.settle();
      p.network = network;
      const going = run(p, 'mail');
      await w.pass(MINUTE);
      await going;
      p.restart();
      p.network = 'on';
      await w.pass(MINUTE);
      const { messages } = await w.released.outbox();
      expect(messages).toHaveLength(1);
      expect(messages[0]!.eml).toContain('Subject: The queen');
      expect(messages[0]!.eml).toContain('To: ines@heatherfield.example');
      expect(await p.store.unsentMail()).toEqual([]);
    },
  );
  it('goes out by the host’s clock, and is there after it was started again', async () => {
    const w = world(tells, { at: Date.UTC(2026, 10, 30, 8) });
    const p = w.phone({ off: -5 * MINUTE });
    await w.settle();
    await run(p, 'mail');
    await w.pass(100);
    w.restartHost();
    const { messages } = await w.released.outbox();
    expect(messages.map((m) => /Date: (.*)/.exec(m.eml!)![1])).toEqual(['Mon, 30 Nov 2026 08:00:00 +0000']);
  });
});

describe('a notice', () => {
  const said = async (p: WorldPhone, person: string): Promise<void> => {
    await p.phone.beUsedBy(person);
    await p.world.clock.pass(2 * MINUTE);
  };
  it('is heard at once by who listens, later by who was away, and once by each', async () => {
    const w = world(tells);
    const [sender, ines, away, other] = [w.phone(), w.phone(), w.phone(), w.phone()];
    await w.settle();
    for (const p of [ines, away]) await said(p, 'Ines');
    await said(other, 'Tom');
    away.network = 'off';
    await run(sender, 'notify');
    await w.pass(1000);
    expect([ines, away, other].map(notices)).toEqual([['A swarm at the school'], [], []]);
    w.restartHost();
    away.restart();
    away.network = 'on';
    await w.pass(MINUTE);
    expect([ines, away, other].map(notices)).toEqual([['A swarm at the school'], ['A swarm at the school'], []]);
    for (const p of [ines, away]) p.restart();
    await w.pass(MINUTE);
    expect([ines, away].map((p) => notices(p).length)).toEqual([1, 1]);
  });
  it('from before is not told to whoever says afterwards that it is for them; both are told of the other', async () => {
    const w = world(tells);
    const [sender, ines, stranger] = [w.phone(), w.phone(), w.phone()];
    await w.settle();
    await said(ines, 'Ines');
    await run(sender, 'notify');
    await w.pass(1000);
    await said(stranger, 'Ines');
    expect(notices(stranger)).toEqual([]);
    expect(stranger.said).toEqual(['2 devices say that they are used by Ines.']);
    ines.restart();
    await w.pass(MINUTE);
    expect(ines.said).toEqual(['2 devices say that they are used by Ines.']);
  });
});

describe('a photo in a record', () => {
  const content = new Uint8Array(700_000).map((_, i) => (i * 7) % 251);
  const file = { hash: hashOf(content), type: 'image/jpeg', size: content.length, name: 'p.jpg' };
  const has = async (p: WorldPhone): Promise<number | null> => (await p.phone.file(keptAddress(file)))?.size ?? null;
  /** Reading a file takes time that no clock of a world counts. */
  const arrives = async (w: World, p: WorldPhone): Promise<void> => {
    for (let i = 0; i < 500 && p.device.waiting; i++) {
      await w.pass(1000);
      await new Promise((resolve) => setTimeout(resolve, 2));
    }
    expect(p.device.waiting).toBe(0);
    await w.pass(1000);
  };
  const take = async (p: WorldPhone, record = 'h1'): Promise<void> => {
    const photo = await p.phone.keepFile(new Blob([content], { type: file.type }), file.name);
    await p.write([{ do: 'set', table: T.hives, record, cells: { [F.name]: record, [PHOTO]: photo } }]);
  };
  it('comes to others after it was taken without a network, in pieces, once', async () => {
    const w = world(appWith());
    const [a, b] = [w.phone(), w.phone()];
    await w.settle();
    a.network = 'off';
    await take(a);
    await w.pass(MINUTE);
    expect([await has(a), await has(b)]).toEqual([content.length, null]);
    a.restart();
    a.network = 'on';
    await arrives(w, a);
    expect([a.device.waiting, await has(b)]).toEqual([0, content.length]);
    expect((await w.files.list()).map((f) => [f.hash, f.isWhole])).toEqual([[file.hash, true]]);
  });
  it('is for those who may read a record that holds it, and goes a day after nothing holds it', async () => {
    const w = world(appWith(), { access: keepersRules });
    const somebody: Who = { kind: 'somebody', person: 'ines' };
    const [owner, ines, nobody] = [OWNER, somebody, NOBODY].map((who) => w.phone({ who }));
    await owner!.write([
      { do: 'set', table: T.keepers, record: 'ines', cells: { [F.keeperName]: 'Ines' } },
      { do: 'set', table: T.hives, record: 'h1', cells: { [F.keeper]: 'ines', [F.status]: 'Retired' } },
    ]);
    await take(owner!);
    await arrives(w, owner!);
    expect([await has(ines!), await has(nobody!)]).toEqual([content.length, null]);
    await owner!.write([{ do: 'remove', table: T.hives, record: 'h1' }]);
    await w.pass(MINUTE);
    await w.released.sweep();
    expect(await w.files.list()).toHaveLength(1);
    await w.pass(25 * 60 * MINUTE);
    await w.released.sweep();
    expect(await w.files.list()).toEqual([]);
  });
});

describe('a routine that waits', () => {
  it('goes on in the next opening of the app, and does what is left once', async () => {
    const w = world(
      appWith({
        later: [
          { do: 'wait', time: 'duration("PT1H")' },
          { do: 'notify', to: '"Ines"', title: 'An hour is over' },
        ],
      }),
    );
    const p = w.phone();
    await w.settle();
    void run(p, 'later').catch(() => undefined);
    await w.pass(MINUTE);
    p.restart();
    await w.pass(10 * MINUTE);
    p.restart();
    await w.pass(40 * MINUTE);
    expect((await w.released.outbox()).messages).toEqual([]);
    await w.pass(20 * MINUTE);
    expect((await w.released.outbox()).messages.map((m) => m.message!.subject)).toEqual(['An hour is over']);
    p.restart();
    await w.pass(120 * MINUTE);
    expect((await w.released.outbox()).messages).toHaveLength(1);
  });
  it('writes once what it writes, whenever the phone goes out (after everything that it keeps)', async () => {
    const add = (amount: string) => ({
      do: 'raise' as const,
      how: 'raise' as const,
      record: `all_${T.hives}[1]`,
      values: [{ field: F.weight, value: amount }],
    });
    const wait = { do: 'wait' as const, time: 'duration("PT1M")' };
    const app = appWith({ adds: [wait, add('5'), wait, add('3')] });
    /** Goes out when it has kept something so many times since the routine began. */
    const weightAfter = async (times: number): Promise<unknown> => {
      const w = world(app);
      const p = w.phone();
      await p.write([{ do: 'set', table: T.hives, record: 'h1', cells: { [F.name]: 'One', [F.weight]: 10 } }]);
      await w.settle();
      let left = times;
      for (const name of ['save', 'keepRun'] as const) {
        const keep = p.store[name].bind(p.store) as (...given: unknown[]) => Promise<void>;
        p.store[name] = async (...given: unknown[]) => {
          await keep(...given);
          if (--left === 0) p.restart();
        };
      }
      void run(p, 'adds').catch(() => undefined);
      await w.pass(5 * MINUTE);
      expect(left).toBeLessThanOrEqual(0);
      return w.cell(T.hives, 'h1', F.weight);
    };
    for (let times = 1; times <= 10; times++) expect([times, await weightAfter(times)]).toEqual([times, 18]);
  });
});
