import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { OwnChanges } from './own-changes.ts';

describe('a box that is typed into while the desk is behind', () => {
  it('takes over what was changed elsewhere, and not what it told itself', () => {
    const own = new OwnChanges<string>();
    for (const told of ['a', 'ab', 'abc']) own.tell(told);
    expect([own.latest(''), own.isOwn('ab'), own.isOwn('abc'), own.latest('abc!')]).toEqual([
      'abc',
      true,
      true,
      'abc!',
    ]);
    // By undo, and done again.
    expect([own.isOwn('a'), own.isOwn('abc')]).toEqual([false, false]);
  });
  it('takes over everything once it was left', () => {
    const own = new OwnChanges<string>();
    own.tell('refused');
    own.forget();
    expect(own.isOwn('refused')).toBe(false);
  });
  it('never loses a letter, however the desk follows (property)', () => {
    // Each step types a letter, or lets the desk show the document as it is or was a moment ago.
    const step = fc.oneof(fc.constantFrom('a', 'b', 'c'), fc.nat(2));
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const own = new OwnChanges<string>();
        const documents = [''];
        let shown = 0;
        let box = '';
        let typed = '';
        for (const s of steps) {
          if (typeof s === 'string') {
            typed += s;
            box += s;
            own.tell(box);
            documents.push(box);
            continue;
          }
          const next = Math.max(shown, documents.length - 1 - s);
          if (next === shown) continue;
          shown = next;
          const value = documents[shown]!;
          if (!own.isOwn(value) && value !== box) box = value;
        }
        expect(box).toBe(typed);
      }),
    );
  });
});
