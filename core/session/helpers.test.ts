import { describe, expect, it } from 'vitest';
import { emptyApp } from '../app/document.ts';
import { helperOf } from '../app/helper-of.ts';
import { addHelperService } from '../app/helpers.ts';
import { AppSchema } from '../app/schema.ts';
import { removeRequest } from '../app/services.ts';
import '../fields/typed-texts.ts';
import { EMPTY, type AskedMessage, type ServiceAnswer } from '../services/answer.ts';
import { requestOf } from '../services/requests-of.ts';
import { askHelper } from './helpers.ts';

const app = emptyApp('Club');
addHelperService(app, 'https://words.example/v1');

/** A service that gives these values, by the names of its picks; keeps what it was given, by the names of its inputs. */
function service(gives: Record<string, unknown>, more: Partial<ServiceAnswer> = {}) {
  const given: Record<string, unknown>[] = [];
  const askService = async ({ request: id, inputs }: AskedMessage): Promise<ServiceAnswer> => {
    const { request } = requestOf(app, id)!;
    given.push(Object.fromEntries(request.inputs.flatMap((i) => (i.id in inputs ? [[i.name, inputs[i.id]]] : []))));
    const picks = Object.fromEntries(request.picks.map((p) => [p.id, gives[p.name.toLowerCase()] ?? null]));
    return { ...EMPTY, status: 200, picks: picks as ServiceAnswer['picks'], ...more };
  };
  const services = { askService, signOut: async () => {}, markOf: () => null, unmark: () => {} };
  return { ports: { services: () => services }, given };
}

const CHOICES = [
  { name: 'Complaint', words: 'broken, late' },
  { name: 'Order', words: '' },
];

describe('work that a service does', () => {
  it('fits the app, is given what it needs, and gives what the app’s own counting would', async () => {
    expect(AppSchema.parse(app)).toEqual(app);
    const summed = service({ words: 'Short.' });
    expect(await askHelper(app, summed.ports, { do: 'sum up', text: 'Long.', most: 2 })).toBe('Short.');
    expect(summed.given).toEqual([{ Text: 'Long.', Most: 2 }]);
    const judged = service({ choice: ' order ', why: 'it asks', sure: 0.8 });
    expect(await askHelper(app, judged.ports, { do: 'judge', text: 'Two veils', choices: CHOICES })).toEqual({
      context: { choice: 'Order', why: 'it asks', sure: 0.8 },
    });
    expect(judged.given[0]!['Choices']).toBe('Complaint: broken, late\nOrder');
    const drafted = service({ words: 'Dear Ann' });
    const facts = [{ name: 'Good', value: 'Veil' }];
    expect(await askHelper(app, drafted.ports, { do: 'draft', prompt: 'Thank', to: '', facts, from: 'Club' })).toBe(
      'Dear Ann',
    );
    expect(drafted.given).toEqual([{ Prompt: 'Thank', Facts: 'Good: Veil', From: 'Club' }]);
    const described = service({ words: 'A hive', sure: 7 });
    expect(await askHelper(app, described.ports, { do: 'describe', picture: 'data:image/png;base64,AA==' })).toEqual({
      context: { words: 'A hive', sure: 1 },
    });
  });

  it('is pulled out with its type, or refused', async () => {
    const pull = (kind: 'numbers' | 'dates' | 'names', found: unknown) =>
      askHelper(app, service({ found }).ports, { do: 'pull out', text: 'x', kind, year: 2026 });
    expect(await pull('numbers', ['12.5', 3])).toEqual({ list: [12.5, 3] });
    expect(await pull('names', 'Ann')).toEqual({ list: ['Ann'] });
    expect(await pull('names', null)).toEqual({ list: [] });
    expect(JSON.stringify(await pull('dates', ['2026-12-24']))).toContain('2026');
    await expect(pull('numbers', ['twelve'])).rejects.toThrow('“twelve”, which is none of the numbers');
    await expect(pull('dates', ['2026-02-31'])).rejects.toThrow('none of the dates');
  });

  it('is refused where the service gives nothing that can be used', async () => {
    const judge = (gives: object, more = {}) =>
      askHelper(app, service(gives as Record<string, unknown>, more).ports, {
        do: 'judge',
        text: 'x',
        choices: CHOICES,
      });
    await expect(judge({ choice: 'Something else' })).rejects.toThrow('none of the choices');
    await expect(judge({})).rejects.toThrow('no words');
    await expect(judge({}, { said: 'Asked too often.', failure: 'too often' })).rejects.toMatchObject({
      sort: 'too often',
    });
    const away = {
      services: () => ({ ...service({}).ports.services(), askService: () => Promise.reject(new Error('No way.')) }),
    };
    await expect(askHelper(app, away, { do: 'sum up', text: 'x', most: 1 })).rejects.toMatchObject({
      sort: 'no network',
    });
  });

  it('is the app’s own again where nothing is said of it, or its request is removed', async () => {
    const { ports } = service({ words: 'x' });
    expect(await askHelper(emptyApp('Other'), ports, { do: 'sum up', text: 'x', most: 1 })).toBeUndefined();
    const other = structuredClone(app);
    removeRequest(other, helperOf(other, 'sum up')!.request);
    expect(helperOf(other, 'sum up')).toBeUndefined();
    expect(other.helpers).not.toHaveProperty('sum up');
    expect(helperOf(other, 'judge')).toBeDefined();
    expect(await askHelper(other, ports, { do: 'sum up', text: 'x', most: 1 })).toBeUndefined();
  });
});
