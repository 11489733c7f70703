import '../fields/typed-texts.ts';
import { describe, expect, it } from 'vitest';
import { asTaken, keptShape, retyped, type ReviewedReply } from './reviewed-reply.ts';
import { shapeOfReply } from './shape-of-reply.ts';

const ITEMS = [
  { sku: 1, name: 'Veil', price: '12.5', kind: 'clothing', photo: 'https://a.example/1.png' },
  { sku: 2, name: 'Smoker', price: 'on request', kind: 'tool', photo: 'https://a.example/2.png' },
  { sku: 3, name: 'Gloves', price: '7', kind: 'clothing', photo: null },
];
const begun = (items: unknown[] = ITEMS): ReviewedReply => ({ name: 'Goods', shape: shapeOfReply(items), left: [] });
const fieldOf = (r: ReviewedReply, name: string) => r.shape.fields.find((f) => f.name === name)!;
const here = { toLocal: (ms: number) => ms };

describe('records of an answer in review', () => {
  it('are shown as they are written, and taken as they would be in the app', () => {
    const seen = asTaken(begun(), ITEMS, here);
    expect(seen.rows[1]!.map((v) => v.text)).toEqual(['2', 'Smoker', 'on request', 'tool', 'https://a.example/2.png']);
    expect(seen.rows.flat().every((v) => v.fits)).toBe(true);
    expect(seen).toMatchObject({ notes: [], count: 3 });
    expect(asTaken(begun(), ITEMS, { ...here, first: 2 }).rows).toHaveLength(2);
  });

  it('say what does not fit when a type is corrected', () => {
    const first = begun();
    const price = fieldOf(first, 'Price');
    const now = retyped(first, price.id, 'number', ITEMS);
    expect(fieldOf(now, 'Price')).toEqual({ id: price.id, name: 'Price', pick: price.pick, type: 'number' });
    const seen = asTaken(now, ITEMS, here);
    expect(seen.rows.map((r) => r[2]!.fits)).toEqual([true, false, true]);
    expect(seen.notes).toEqual(['1 value of Price does not fit its type and is left empty.']);
  });

  it('have the choices that are there when a field becomes one', () => {
    const first = begun();
    const chosen = retyped(first, fieldOf(first, 'Kind').id, 'choice', ITEMS);
    expect(fieldOf(chosen, 'Kind').choices?.map((c) => c.name)).toEqual(['clothing', 'tool']);
    expect(asTaken(chosen, ITEMS, here).notes).toEqual([]);
  });

  it('keep what is left out out, but never the key', () => {
    const first = begun();
    const all = first.shape.fields.map((f) => f.id);
    const none = keptShape({ ...first, left: all });
    expect(none.fields.map((f) => f.name)).toEqual(['Sku']);
    expect(none).toMatchObject({ titleField: first.shape.key, pictureField: null });
    expect(none.leftOut).toEqual(['Name', 'Price', 'Kind', 'Photo']);
    const noName = keptShape({ ...first, left: [fieldOf(first, 'Name').id] });
    expect(noName.titleField).toBe(fieldOf(first, 'Price').id);
    expect(noName.pictureField).toBe(fieldOf(first, 'Photo').id);
  });

  it('say where the key that is chosen does not tell them apart', () => {
    const first = begun();
    const byKind = { ...first, shape: { ...first.shape, key: fieldOf(first, 'Kind').id } };
    const seen = asTaken(byKind, ITEMS, here);
    expect(seen.count).toBe(2);
    expect(seen.notes).toEqual(['1 record has a key that another one has, too.']);
  });
});
