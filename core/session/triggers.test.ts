import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../app/make.ts';
import { AppSchema, type App, type Routine, type Step, type Trigger } from '../app/schema.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { triggerKinds } from '../routines/kinds.ts';
import { openSession } from './fixture.ts';
import { Variables } from './variables.ts';

const make = new ElementMaker();
const say = (words: string): Step => make.step('message', { words });

/** A session whose clock stands still until it is told to go on. */
function open(routines: (Omit<Routine, 'id' | 'given'> & { given?: string })[], change: (app: App) => void = () => {}) {
  const app = hiveApp();
  app.screens = ['One', 'Two'].map((name, i) => ({
    id: `s_screen000${i}`,
    name,
    given: null,
    icon: 'list',
    root: make.box('down', []),
  }));
  app.variables = [{ id: 'v_score00000', name: 'Score', type: 'number', lasts: 'app', first: '0' }];
  app.routines = routines.map((r, i) => ({ id: `q_routine00${i}`, given: null, ...r }));
  change(app);
  expect(AppSchema.safeParse(app).error).toBeUndefined();
  const opened = openSession(app, (records) => {
    const variables = new Variables(app, records, {}, () => undefined);
    return { variables: () => variables };
  });
  const settle = async (): Promise<void> => {
    // What is done comes in a file of its own, when it is first asked for.
    await (await opened.session.actions()).titles(T.hives, []);
    for (let i = 0; i < 20; i++) await new Promise((r) => setTimeout(r, 0));
  };
  const pass = async (ms: number): Promise<void> => {
    await opened.world.pass(ms);
    await settle();
  };
  const messages = (): string[] => opened.effects.flatMap((e) => (e.do === 'message' ? [e.words] : []));
  const show = async (i: number, key: string): Promise<void> => {
    opened.session.show('phone', `s_screen000${i}`, null, () => undefined, { key, open: [key] });
    await settle();
  };
  return { app, ...opened, pass, settle, messages, show };
}
const when = (...starts: Trigger[]): Trigger[] => starts;

describe('routines are started', () => {
  it('by the app, once, and by screens that open, are left and are returned to', async () => {
    const o = open([
      { name: 'start', starts: when({ on: 'app started' }), steps: [say('started')] },
      { name: 'opens', starts: when({ on: 'screen opened', screen: 's_screen0000' }), steps: [say('one opens')] },
      { name: 'left', starts: when({ on: 'screen left', screen: 's_screen0000' }), steps: [say('one left')] },
      { name: 'back', starts: when({ on: 'screen returned', screen: 's_screen0000' }), steps: [say('one again')] },
    ]);
    await o.show(0, 'a');
    expect(o.messages().sort()).toEqual(['one opens', 'started']);
    await o.show(1, 'b');
    await o.show(0, 'a');
    expect(o.messages().slice(2).sort()).toEqual(['one again', 'one left', 'one opens']);
  });
  it('by a form that is saved, with its record, or refused; not by a single input', async () => {
    const o = open(
      [
        {
          name: 'saved',
          given: T.hives,
          starts: when({ on: 'form', table: T.hives, how: 'saved' }),
          steps: [say(`saved {this_${T.hives}.${F.name}}`)],
        },
        { name: 'refused', starts: when({ on: 'form', table: T.hives, how: 'refused' }), steps: [say('refused')] },
      ],
      (app) => {
        app.tables[0]!.fields.find((f) => f.id === F.name)!.required = true;
      },
    );
    await (await o.session.actions()).saveForm(T.hives, null, { [F.name]: 'Thyme' });
    await (await o.session.actions()).saveForm(T.hives, null, { [F.name]: null });
    await (await o.session.actions()).saveForm(T.hives, 'bramble', { [F.weight]: 12 }, true);
    await o.settle();
    expect(o.messages()).toEqual(['saved Thyme', 'refused']);
  });
  it('by a variable that changes, and stopped where one changes what starts it', async () => {
    const add = make.step('variable', { how: 'add', variable: 'v_score00000', value: '1' });
    const o = open([
      {
        name: 'hears',
        starts: when({ on: 'variable changed', variable: 'v_score00000' }),
        steps: [say('heard {v_score00000}')],
      },
    ]);
    (await o.session.actions()).typed('v_score00000', 4);
    await o.settle();
    expect(o.messages()).toEqual(['heard 4']);
    const round = open([
      { name: 'round', starts: when({ on: 'variable changed', variable: 'v_score00000' }), steps: [add] },
    ]);
    (await round.session.actions()).typed('v_score00000', 1);
    await round.settle();
    await round.settle();
    await round.settle();
    await round.settle();
    expect(round.messages()).toEqual(['Routines that change what starts them were stopped.']);
  });
  it('by no variable that is set to what it was, so that a routine may keep it within bounds', async () => {
    const atMost10 = make.step('variable', {
      how: 'set',
      variable: 'v_score00000',
      value: 'if v_score00000 > 10 then 10 else v_score00000',
    });
    const o = open([
      {
        name: 'bounds',
        starts: when({ on: 'variable changed', variable: 'v_score00000' }),
        steps: [say('now {v_score00000}'), atMost10],
      },
    ]);
    (await o.session.actions()).typed('v_score00000', 14);
    await o.settle();
    expect(o.messages()).toEqual(['now 14', 'now 10']);
    (await o.session.actions()).typed('v_score00000', 10);
    await o.settle();
    expect(o.messages()).toHaveLength(2);
  });
  it('by a variable 60 times a second at most', async () => {
    const o = open([
      { name: 'hears', starts: when({ on: 'variable changed', variable: 'v_score00000' }), steps: [say('heard')] },
    ]);
    for (let i = 1; i <= 70; i++) {
      (await o.session.actions()).typed('v_score00000', i);
      await o.settle();
    }
    expect(o.messages().filter((m) => m === 'heard')).toHaveLength(60);
    expect(o.messages().filter((m) => m !== 'heard')).toEqual(['Routines that change what starts them were stopped.']);
  });
  it('by a value that a person changes, which gives the one before and the one now', async () => {
    const [was, is] = ['v_before0000', 'v_now0000000'];
    const o = open([
      {
        name: 'hears',
        given: T.hives,
        inputs: [
          { id: was, name: 'was', type: 'number', first: '', from: 'value before' },
          { id: is, name: 'is', type: 'number', first: '', from: 'value now' },
        ],
        starts: when({ on: 'field changed', table: T.hives, field: F.weight }),
        steps: [say(`{this_${T.hives}.${F.name}}: {${was}} to {${is} + 1}`)],
      },
    ]);
    const before = o.records.row(T.hives, 'bramble')!.get(F.weight);
    await (await o.session.actions()).saveForm(T.hives, 'bramble', { [F.weight]: 12 }, true);
    await (await o.session.actions()).saveForm(T.hives, 'bramble', { [F.weight]: 12 }, true);
    await (await o.session.actions()).saveForm(T.hives, 'bramble', { [F.name]: 'Bramble' });
    await o.settle();
    expect(o.messages()).toEqual([`Bramble: ${String(before)} to 13`]);
  });
  it('by a notice that is opened, which gives its words; not by one that is put aside', async () => {
    const words = 'v_words00000';
    const o = open([
      {
        name: 'hears',
        inputs: [{ id: words, name: 'words', type: 'text', first: '"none"', from: 'words of the notice' }],
        starts: when({ on: 'notice opened' }),
        steps: [say(`Heard {${words}}`)],
      },
    ]);
    for (const [id, ok] of [
      ['n1', true],
      ['n2', false],
    ] as const) {
      await (await o.session.actions()).noticed({ id, title: 'Swarm', words: 'At the gate' });
      const asked = o.effects.flatMap((e) => (e.do === 'notice' ? [e.id] : []));
      o.session.answered(asked.at(-1)!, ok ? { ok } : { ok, reason: 'no' });
      await o.settle();
    }
    expect(o.messages()).toEqual(['Heard At the gate']);
  });
  it('by a timer, as long as it is switched on', async () => {
    const timer = (on: 'on' | 'off', i: number): Step => make.step('timer', { on, routine: `q_routine00${i}` });
    const o = open([
      { name: 'tick', starts: when({ on: 'timer', seconds: 2, how: 'again' }), steps: [say('tick')] },
      { name: 'once', starts: when({ on: 'timer', seconds: 1, how: 'once' }), steps: [say('once')] },
      { name: 'go', steps: [timer('on', 0), timer('on', 1)] },
      { name: 'end', steps: [timer('off', 0)] },
      { name: 'none', steps: [timer('on', 3)] },
    ]);
    await o.session.runNow(o.app.routines[2]!, null);
    await o.pass(1000);
    await o.pass(1000);
    await o.pass(2000);
    expect(o.messages()).toEqual(['once', 'tick', 'tick']);
    await o.session.runNow(o.app.routines[3]!, null);
    await o.pass(2000);
    await o.pass(2000);
    expect(o.messages()).toHaveLength(3);
    expect((await o.session.runNow(o.app.routines[4]!, null)).error).toBe('This routine is not started by a timer.');
  });
  it('by a timer no more, when it is switched off while the routine runs', async () => {
    const o = open([
      {
        name: 'tick',
        starts: when({ on: 'timer', seconds: 2, how: 'again' }),
        steps: [say('tick'), make.step('wait', { time: '@"PT1S"' }), say('done')],
      },
      { name: 'go', steps: [make.step('timer', { on: 'on', routine: 'q_routine000' })] },
      { name: 'end', steps: [make.step('timer', { on: 'off', routine: 'q_routine000' })] },
    ]);
    await o.session.runNow(o.app.routines[1]!, null);
    await o.pass(2000);
    expect(o.messages()).toEqual(['tick']);
    await o.session.runNow(o.app.routines[2]!, null);
    for (let i = 0; i < 5; i++) await o.pass(1000);
    expect(o.messages()).toEqual(['tick', 'done']);
  });
  it('and what starts them is told in words', () => {
    const { app } = open([
      {
        name: 'all',
        starts: when(
          { on: 'app started' },
          { on: 'screen left', screen: 's_screen0001' },
          { on: 'form', table: T.hives, how: 'refused' },
          { on: 'variable changed', variable: 'v_score00000' },
          { on: 'timer', seconds: 3, how: 'again' },
        ),
        steps: [],
      },
    ]);
    const said = [...triggerKinds.values()].flatMap((t) => t.starters(app, 'q_routine000', () => ''));
    expect(said.map((s) => s.said)).toEqual([
      'Two is left',
      'the app starts',
      'the form of Hives is refused',
      'Score changes',
      'every 3 s while its timer is on',
    ]);
  });
});

describe('a second tap on what still runs', () => {
  /** A screen that shows a button whose routine waits a second and says so. */
  async function shown(overlaps: boolean) {
    const button = make.button('Weigh', { do: 'routine', routine: 'q_routine000' });
    const steps = [make.step('wait', { time: '@"PT1S"' }), say('weighed')];
    const o = open([{ name: 'Weigh', steps, ...(overlaps && { overlaps: true }) }], (app) => {
      app.screens[0]!.root.children.push(button);
    });
    await o.show(0, 'a');
    return { ...o, tap: () => void o.session.tapped('phone', button.id) };
  }
  it('does nothing and says so, until the run has ended', async () => {
    const o = await shown(false);
    o.tap();
    o.tap();
    await o.settle();
    expect(o.messages()).toEqual(['Weigh is still running.']);
    await o.pass(1000);
    expect(o.messages().slice(1)).toEqual(['weighed']);
    o.tap();
    await o.settle();
    await o.pass(1000);
    expect(o.messages().slice(2)).toEqual(['weighed']);
  });
  it('starts it again where the routine lets it', async () => {
    const o = await shown(true);
    o.tap();
    o.tap();
    await o.settle();
    await o.pass(1000);
    expect(o.messages()).toEqual(['weighed', 'weighed']);
  });
});
