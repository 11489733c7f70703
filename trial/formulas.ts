import { hiveApp } from '../core/records/fixture.ts';
import { accepted, call, chance, change, push, release, onVictim, type Findings } from './server.ts';

const COUNT = 60;

/** Apps with formulas that are deep, long, endless or rubbish, released one after the other beside an app that goes on. */
export const formulas = (): Promise<Findings> =>
  onVictim('formulas', async (victim, wrong) => {
    await release(victim.url, 'calm');
    const random = chance(11);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    const atoms = ['1', '"a"', 'null', 'Weight', 'all Hives', 'true', '1..1000000000', '[1,2]', '{a: 1}', 'today()'];
    const grow = (f: string): string =>
      pick([
        (x: string) => `(${x})`.repeat(1),
        (x: string) => `[${x}, ${x}]`,
        (x: string) => `if ${x} = null then ${x} else 1`,
        (x: string) => `for i in ${x} return ${pick(atoms)}`,
        (x: string) => `some i in ${x}, j in 1..100000 satisfies i = j`,
        (x: string) => `count(${x})`,
        (x: string) => `concatenate(${x}, ${x})`,
        (x: string) => `string join(${x}, "x")`,
        (x: string) => `${x} + ${x}`,
        (x: string) => `${x} = matches("${'a'.repeat(40)}!", "(a+)+${pick(['$', 'b', '*'])}")`,
        (x: string) => '('.repeat(1 + Math.floor(random() * 300)) + x,
        (x: string) => x.slice(0, Math.floor(random() * x.length)),
      ])(f);
    let slowest = 0;
    for (let i = 0; i < COUNT && victim.isUp; i++) {
      let formula = pick(atoms);
      for (let k = 0; k < 12 && formula.length < 9000; k++) formula = grow(formula);
      const app = { ...hiveApp(), id: `a_hard${i}`.padEnd(11, '0') };
      app.tables[0]!.fields.push(
        { id: 'f_hard0000', name: 'Hard', type: 'formula', formula },
        { id: 'f_check000', name: 'Check', type: 'text', check: { formula, words: 'No.' } },
      );
      app.tables[0]!.titleField = 'f_hard0000';
      const released = await release(victim.url, `hard${i}`, app);
      if (released.status !== 200 && released.status !== 422)
        wrong.push(`released with ${released.status}: ${formula.slice(0, 100)}`);
      const started = performance.now();
      const hard = push(victim.url, `hard${i}`, [change('h', { f_name000: 'x', f_check000: 'y' })]);
      const calm = push(victim.url, 'calm', [change(`h${i}`)]);
      if ((await hard).status >= 500) wrong.push(`a push is answered with 500 beside ${formula.slice(0, 100)}`);
      if (!accepted(await calm).length) wrong.push('the other app does not go on');
      slowest = Math.max(slowest, performance.now() - started);
    }
    await victim.kill('SIGKILL');
    await victim.start();
    for (let i = 0; i < COUNT; i += 7)
      if ((await call(victim.url, `/api/apps/hard${i}/app`)).status >= 500) wrong.push(`hard${i} does not open again`);
    if (victim.ended > 1) wrong.push('the server ended by itself');
    return { apps: COUNT, 'slowest answer beside one, ms': Math.round(slowest) };
  });
