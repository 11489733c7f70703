import { describe, expect, it } from 'vitest';
import { shapeOfReply } from './shape-of-reply.ts';

const shape = (items: unknown[]) => {
  let n = 0;
  const made = shapeOfReply(items, (letter) => `${letter}_${String(n++).padStart(6, '0')}`);
  const name = (id: string | null): string | undefined => made.fields.find((f) => f.id === id)?.name;
  return {
    fields: made.fields.map((f) => [f.name, f.type, f.pick]),
    key: name(made.key),
    title: name(made.titleField),
    picture: name(made.pictureField),
    leftOut: made.leftOut,
  };
};

describe('the shape of records in an answer', () => {
  it('has a key that will last: one that is called so, never an amount or a moment while there is anything else', () => {
    const rows = [1, 2, 3].map((n) => ({ at: `2026-01-0${n}`, price: `${n}.50`, what: `Thing ${n}` }));
    expect(shape(rows).key).toBe('What');
    expect(shape(rows.map((r) => ({ ...r, ref: r.what }))).key).toBe('Ref');
    expect(shape(rows.map(({ at, price }) => ({ at, price }))).key).toBe('At');
  });

  it('is guessed from what is there, also in objects in them', () => {
    const goods = [
      {
        id: 'G-1',
        name: 'Veil',
        price: { amount: 12.5, currency: 'EUR' },
        inStock: true,
        since: '2024-05-01',
        photo: 'https://a.example/1.png',
        tags: ['a', 'b'],
        parts: [{ n: 1 }],
      },
      {
        id: 'G-2',
        name: 'Smoker',
        price: { amount: 30, currency: 'EUR' },
        inStock: false,
        since: '2025-05-01',
        photo: 'https://a.example/2.png',
        tags: [],
        parts: [],
      },
    ];
    expect(shape(goods)).toEqual({
      fields: [
        ['Id', 'text', "$['id']"],
        ['Name', 'text', "$['name']"],
        ['Price amount', 'number', "$['price']['amount']"],
        ['Price currency', expect.any(String), "$['price']['currency']"],
        ['In stock', 'yesno', "$['inStock']"],
        ['Since', 'date', "$['since']"],
        ['Photo', 'picture', "$['photo']"],
        ['Tags', 'text', "$['tags']"],
      ],
      key: 'Id',
      title: 'Name',
      picture: 'Photo',
      leftOut: ['the list Parts'],
    });
  });
  it('keeps texts of digits as texts, and numbers as numbers', () => {
    expect(
      shape([
        { zip: '01067', year: '2024', n: 7 },
        { zip: '80331', year: '2025', n: 8 },
      ]).fields,
    ).toEqual([
      ['Zip', 'text', "$['zip']"],
      ['Year', 'text', "$['year']"],
      ['N', 'number', "$['n']"],
    ]);
  });
  it('takes values that are no objects as records of one value, and a key that is called so', () => {
    expect(shape(['a', 'b'])).toMatchObject({ fields: [['Value', expect.any(String), '$']], key: 'Value' });
    const twice = [
      { kind: 'x', good_id: 1 },
      { kind: 'y', good_id: 2 },
    ];
    expect(shape(twice).key).toBe('Good id');
  });
});
