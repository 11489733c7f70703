import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { thisId } from '../core/document/ids.ts';
import { F, hiveApp, T } from '../core/records/fixture.ts';
import { make, routine } from '../core/runs/fixture.ts';
import type { OpenQuestion } from '../core/runs/questions.ts';
import { change, KEY, TestServer } from './fixture.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

/** A device that listens for somebody; what it was asked last. */
async function listens(person: string, device: string) {
  const end = new AbortController();
  const stream = await fetch(`${server.url}/api/apps/bees/live?person=${person}&device=${device}`, {
    signal: end.signal,
  });
  const reader = stream.body!.getReader();
  let text = '';
  void (async () => {
    for (;;) {
      const { value, done } = await reader.read().catch(() => ({ value: undefined, done: true }));
      if (done) return;
      text += new TextDecoder().decode(value);
    }
  })();
  await vi.waitFor(() => expect(text).toContain('event: hello'));
  return {
    end: () => end.abort(),
    get asked(): OpenQuestion[] | null {
      const all = [...text.matchAll(/event: asks\ndata: (.*)\n/g)];
      return all.length ? (JSON.parse(all.at(-1)![1]!) as OpenQuestion[]) : null;
    },
  };
}

it('somebody is asked on the devices that said who they are before, answers once, and nobody else can', async () => {
  const app = hiveApp();
  const ask = make.step('ask somebody', {
    to: '"Ines"',
    words: 'May it move?',
    as: 'choice',
    choices: 'Yes, No',
    time: '@"P1D"',
    result: 'v_answer000',
    resultName: 'answer',
    late: [],
  });
  const put = make.step('set', { record: thisId(T.hives), values: [{ field: F.tag, value: 'v_answer000' }] });
  app.routines.push(routine('Ask', 'record changed', { how: 'added' }, [ask, put]));
  await server.release('bees', KEY, app);
  const [phone, tom] = [await listens('Ines', 'own'), await listens('Tom', 'toms')];
  await new Promise((r) => setTimeout(r, 30));
  await server.push('bees', change({ [F.name]: 'Oak' }, 'oak'));
  await vi.waitFor(() => expect(phone.asked).toHaveLength(1), { timeout: 5000 });
  expect(tom.asked ?? []).toEqual([]);
  const { run, key, question } = phone.asked![0]!;
  expect(question.words).toBe('May it move?');
  // A device that says only now that Ines uses it is asked nothing of before, and cannot answer it.
  const stranger = await listens('Ines', 'strange');
  const answer = (more: object) =>
    server.call('/api/apps/bees/answers', { json: { run, key, value: 'Yes', person: 'Ines', device: 'own', ...more } });
  expect((await answer({ device: 'strange' })).status).toBe(409);
  expect((await answer({ device: '' })).status).toBe(422);
  expect((await answer({ person: 'Tom', device: 'toms' })).status).toBe(409);
  expect((await answer({ value: 'Perhaps' })).status).toBe(422);
  expect((await answer({ key: 'x'.repeat(200) })).status).toBe(422);
  expect(stranger.asked ?? []).toEqual([]);
  // What is asked of Ines from then on it hears, and nothing of before along with it.
  await server.push('bees', change({ [F.name]: 'Elm' }, 'elm'));
  await vi.waitFor(() => expect(phone.asked).toHaveLength(2), { timeout: 5000 });
  await vi.waitFor(() => expect(stranger.asked?.map((q) => q.run)).toEqual([phone.asked![1]!.run]), { timeout: 5000 });
  // Asked again after the server was away, and answered once.
  phone.end();
  await server.restart();
  const again = await listens('Ines', 'own');
  await vi.waitFor(() => expect(again.asked).toEqual(phone.asked), { timeout: 5000 });
  const both = await Promise.all([answer({}), answer({ value: 'No' })]);
  expect(both.map((a) => a.status).sort()).toEqual([200, 409]);
  await vi.waitFor(() => expect(again.asked).toHaveLength(1), { timeout: 5000 });
  expect(again.asked![0]!.run).not.toBe(run);
  const taken = both[0].status === 200 ? 'Yes' : 'No';
  await vi.waitFor(async () => {
    const { body } = await server.call('/api/apps/bees/changes?since=0');
    const { states } = body as unknown as { states: { id: string; cells: Record<string, unknown> }[] };
    expect(states.find((s) => s.id === 'oak')!.cells[F.tag]).toBe(taken);
  });
  for (const l of [tom, stranger, again]) l.end();
});
