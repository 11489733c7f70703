import { describe, expect, it } from 'vitest';
import { VARIABLES, VARIABLES_RECORD } from '../document/ids.ts';
import type { App } from '../app/schema.ts';
import { ElementMaker } from '../app/make.ts';
import { Records } from '../records/store.ts';
import { F, hiveApp, someRecords, T } from '../records/fixture.ts';
import type { Variable } from '../tables/schema.ts';
import type { DrawnNode } from '../screens/element.ts';
import { openSession } from './fixture.ts';
import { Variables } from './variables.ts';

const make = new ElementMaker();
const v = (id: string, more: Partial<Variable> = {}): Variable => ({
  id,
  name: id.slice(2),
  type: 'number',
  lasts: 'app',
  first: '',
  ...more,
});
const appWith = (...variables: Variable[]): App => ({ ...hiveApp(), variables });

function hold(app: App, kept?: Record<string, string | number>) {
  const records = new Records(app, () => Date.UTC(2026, 10, 26));
  someRecords(records);
  const saved: object[] = [];
  const variables = new Variables(app, records, kept, (cells) => void saved.push(cells));
  return { records, variables, saved, now: (id: string) => records.row(VARIABLES, VARIABLES_RECORD)?.get(id) ?? null };
}

describe('a variable begins', () => {
  it('with its first value, worked out, or with nothing', () => {
    const { now } = hold(
      appWith(
        v('v_amount00', { first: '2 + 3' }),
        v('v_nothing0'),
        v('v_hive0000', {
          type: 'link',
          link: { kind: 'picked', table: T.hives, backName: '' },
          first: `all_${T.hives}[2]`,
        }),
        v('v_broken00', { first: '1 +' }),
      ),
    );
    expect(['v_amount00', 'v_nothing0', 'v_broken00'].map(now)).toEqual([5, null, null]);
    expect((now('v_hive0000') as { id: string } | null)?.id).toBe('clover');
  });
  it('with what the device kept, when that still fits', () => {
    const app = appWith(
      v('v_kept0000', { lasts: 'device', first: '1' }),
      v('v_odd00000', { lasts: 'device', first: '1' }),
      v('v_closed00', { lasts: 'app', first: '1' }),
    );
    const { now } = hold(app, { v_kept0000: 7, v_odd00000: 'seven', v_closed00: 7 });
    expect(['v_kept0000', 'v_odd00000', 'v_closed00'].map(now)).toEqual([7, 1, 1]);
  });
});

describe('what is typed', () => {
  it('is read by the type, with either decimal sign, and told as an input shows it', () => {
    const { variables, now } = hold(appWith(v('v_amount00')));
    expect(variables.type('v_amount00', '2,5')).toEqual({ cell: 2.5 });
    expect(now('v_amount00')).toBe(2.5);
  });
  it('leaves the variable as it is when it does not fit, and says why', () => {
    const { variables, now } = hold(appWith(v('v_amount00', { first: '3', most: 10 })));
    expect(variables.type('v_amount00', 'many')).toEqual({ problem: '“many” is not a number.' });
    expect(variables.type('v_amount00', '11')).toEqual({ problem: 'amount00 is at most 10.' });
    expect(variables.type('v_gone0000', '11')).toEqual({ problem: 'This variable is not there any more.' });
    expect(now('v_amount00')).toBe(3);
  });
  it('is kept on the device only where the variable lasts there', () => {
    const { variables, saved } = hold(appWith(v('v_kept0000', { lasts: 'device' }), v('v_closed00')));
    variables.type('v_closed00', '1');
    expect(saved).toEqual([]);
    variables.type('v_kept0000', '4');
    expect(saved).toEqual([{ v_kept0000: 4 }]);
  });
});

describe('a variable of a screen', () => {
  const mine = v('v_search00', { type: 'text', lasts: 'screen', screen: 's_list00000', first: '"a"' });
  it('begins again with each opening, and waits while another is on top', () => {
    const { variables, now } = hold(appWith(mine));
    variables.opened('s_list00000', { key: 'o1', open: ['o1'] });
    variables.set('v_search00', 'clover');
    // The same screen again, opened from itself.
    variables.opened('s_list00000', { key: 'o2', open: ['o1', 'o2'] });
    expect(now('v_search00')).toBe('a');
    variables.set('v_search00', 'moss');
    variables.opened('s_list00000', { key: 'o1', open: ['o1'] });
    expect(now('v_search00')).toBe('clover');
    // The second opening is over: its value is gone.
    variables.opened('s_list00000', { key: 'o2', open: ['o1', 'o2'] });
    expect(now('v_search00')).toBe('a');
  });
  it('keeps its value while other screens come and go', () => {
    const { variables, now } = hold(appWith(mine));
    variables.opened('s_list00000', { key: 'o1', open: ['o1'] });
    variables.set('v_search00', 'clover');
    variables.opened('s_other0000', { key: 'o2', open: ['o1', 'o2'] });
    variables.opened('s_list00000', { key: 'o1', open: ['o1'] });
    expect(now('v_search00')).toBe('clover');
  });
});

describe('a changed document', () => {
  it('gives new variables their first value, and moves one that nobody has set', () => {
    const before = appWith(v('v_amount00', { first: '1' }), v('v_set00000', { first: '1' }));
    const { records, variables, now } = hold(before);
    variables.set('v_set00000', 9);
    const after = appWith(
      v('v_amount00', { first: '2' }),
      v('v_set00000', { first: '2' }),
      v('v_new00000', { first: '3' }),
    );
    records.setApp(after);
    variables.adopt(after);
    expect(['v_amount00', 'v_set00000', 'v_new00000'].map(now)).toEqual([2, 9, 3]);
  });
  it('drops what no longer fits', () => {
    const { records, variables, now } = hold(appWith(v('v_amount00')));
    variables.set('v_amount00', 9);
    const after = appWith(v('v_amount00', { type: 'yesno', first: 'true' }));
    records.setApp(after);
    variables.adopt(after);
    expect(now('v_amount00')).toBe(true);
  });
});

const withVariables = (app: App) => (records: Records) => {
  const variables = new Variables(app, records);
  return { variables: () => variables };
};

/** The page of a session, as far as a test looks at it. */
function page(app: App) {
  const { session, show, records } = openSession(app, withVariables(app));
  const drawn = show(app.screens[0]!.id);
  const of = (kind: string): DrawnNode[] => drawn.seen().filter((n) => n.kind === kind);
  const settled = (): Promise<void> => new Promise((r) => setTimeout(r, 5));
  return { session, records, of, settled };
}

describe('on a screen', () => {
  const home = (children: object[], ...variables: Variable[]): App => {
    const app = appWith(...variables);
    app.screens[0]!.root.children = children as never;
    return app;
  };
  it('words, lists and what is seen follow an input at once', async () => {
    const list = make.list(T.hives, [make.text(`{${F.name}}`)]);
    const app = home(
      [
        make.input('v_least000'),
        make.text('Over {v_least000} kg'),
        {
          ...list,
          query: {
            ...list.query,
            where: { match: 'all', conditions: [{ left: F.weight, op: 'over', right: 'v_least000' }] },
          },
        },
        { ...make.text('much'), seenWhen: 'v_least000 > 20' },
      ],
      v('v_least000', { first: '10' }),
    );
    const { session, of, settled } = page(app);
    const seen = (): unknown[] => [...of('text').map((t) => t['words']), (of('list')[0]!['rows'] as unknown[]).length];
    expect(seen()).toContain('Over 10 kg');
    expect(seen().at(-1)).toBe(2);
    (await session.actions()).typed('v_least000', '20.5');
    await settled();
    expect(seen()).toEqual(expect.arrayContaining(['Over 20.5 kg', 'much', 1]));
    expect(of('input')[0]).toMatchObject({ into: 'variable', cell: 20.5 });
  });
  it('follows the record that a variable keeps, and its removal', async () => {
    const app = home(
      [make.text('{v_hive0000.f_name000}')],
      v('v_hive0000', { type: 'link', link: { kind: 'picked', table: T.hives, backName: '' } }),
    );
    const { session, records, of, settled } = page(app);
    (await session.actions()).typed('v_hive0000', 'clover');
    await settled();
    expect(of('text')[0]!['words']).toBe('Clover');
    records.set(T.hives, 'clover', { [F.name]: 'Clover 2' });
    await settled();
    expect(of('text')[0]!['words']).toBe('Clover 2');
    records.remove(T.hives, 'clover');
    await settled();
    expect(of('text')[0]!['words']).toBe('');
  });
  it('says what is wrong with a value as the maker wrote it', async () => {
    const app = home(
      [{ ...make.input('v_amount00'), check: 'v_amount00 <= 20', checkWords: 'At most {20} jars fit.' }],
      v('v_amount00'),
    );
    const { session, of, settled } = page(app);
    expect(of('input')[0]!['fails']).toBeNull();
    (await session.actions()).typed('v_amount00', '30');
    await settled();
    expect(of('input')[0]!['fails']).toBe('At most 20 jars fit.');
  });
});

describe('the step for variables', () => {
  const step = (more: object): object => ({ ...make.step('variable'), ...more });
  async function run(first: Partial<Variable>, ...steps: object[]) {
    const app = appWith(v('v_amount00', first));
    app.routines = [{ id: 'q_routine00', name: 'Count', given: null, steps: steps as never }];
    const { session, records } = openSession(app, withVariables(app));
    const trace = await session.runNow(app.routines[0]!, null);
    return { trace, value: records.row(VARIABLES, VARIABLES_RECORD)!.cells['v_amount00'] };
  }
  const to = (how: string, value = '') => step({ how, variable: 'v_amount00', value });
  it('sets, adds to, puts behind and clears, each step seeing what the one before left', async () => {
    expect((await run({}, to('set', '4'), to('add', 'v_amount00 * 2'))).value).toBe(12);
    expect((await run({}, to('add', '4'))).value).toBe(4);
    expect((await run({ type: 'text', first: '"a"' }, to('append', '"b"'), to('append', '"c"'))).value).toBe('abc');
    expect((await run({ first: '4' }, to('clear'))).value).toBeNull();
  });
  it('collects records', async () => {
    const { value } = await run(
      { type: 'link', several: true, link: { kind: 'picked', table: T.hives, backName: '' } },
      to('append', `all_${T.hives}[1]`),
      to('append', `all_${T.hives}[2]`),
    );
    expect(value).toBe('["bramble","clover"]');
  });
  it('says what it did, and stops in words where it cannot', async () => {
    expect((await run({}, to('set', '4'))).trace.steps[0]).toMatchObject({ said: 'Set amount00: 4', gave: '4' });
    expect((await run({}, to('set', '"much"'))).trace.error).toContain('“much” is not a number');
    expect((await run({ first: '1' }, to('add', '"much"'))).trace.error).toBe('much cannot be added to amount00.');
    expect((await run({}, step({ how: 'set', variable: 'v_gone0000', value: '1' }))).trace.error).toContain(
      'not chosen',
    );
  });
});
