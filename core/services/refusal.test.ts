import { describe, expect, it } from 'vitest';
import { fromRefusal } from './refusal.ts';

const input = (id: string, name: string) => ({ id, name, type: 'text' as const });
const request = {
  inputs: [input('v_quantity00', 'How many'), input('v_good000000', 'Good'), input('v_mail000000', 'E-mail')],
  query: [],
  body: {
    is: 'json' as const,
    json: '{"quantity":"{v_quantity00}","item":{"good_id":"{v_good000000}"},"e_mail":"{v_mail000000}"}',
  },
};
const of = (value: unknown) => fromRefusal({ is: 'json', value }, request);

describe('a refusal', () => {
  it.each([
    [
      'pointers of RFC 9457',
      { title: 'No', detail: 'Not right.', errors: [{ detail: 'Too many.', pointer: '#/quantity' }] },
      'Too many.',
    ],
    ['names of fields', { errors: [{ field: 'quantity', message: 'Too many.' }] }, 'Too many.'],
    ['lists by name', { errors: { quantity: ['Too many.', 'Whole ones.'] } }, 'Too many.'],
    ['places in lists', { detail: [{ loc: ['body', 'quantity'], msg: 'Too many.' }] }, 'Too many.'],
    ['a source', { errors: [{ source: { pointer: '/data/attributes/quantity' }, title: 'Too many.' }] }, 'Too many.'],
    ['lists at the top', { quantity: ['Too many.'] }, 'Too many.'],
  ])('says of which input by %s', (_what, value, said) => {
    expect(of(value).problems).toEqual({ v_quantity00: said });
  });
  it('finds places inside the body and inputs by their names', () => {
    expect(of({ errors: { 'item.good_id': 'Unknown.', eMail: 'No address.' } }).problems).toEqual({
      v_good000000: 'Unknown.',
      v_mail000000: 'No address.',
    });
  });
  it('says its words, and nothing of fields where it names none that is known', () => {
    expect(of({ error: { message: 'Closed.' } })).toEqual({ notes: ['Closed.'] });
    expect(of({ title: 'Odd', errors: { other: 'x' } })).toEqual({ notes: ['Odd'] });
    for (const odd of [
      null,
      1,
      'x',
      [],
      [null],
      { errors: [1, null, { pointer: 7 }] },
      { errors: { quantity: 7 } },
      { errors: { '': 'x', '/': 'y' } },
    ])
      expect(of(odd).problems).toBeUndefined();
    expect(fromRefusal({ is: 'text', text: 'no' }, request)).toEqual({ notes: [] });
  });
});
