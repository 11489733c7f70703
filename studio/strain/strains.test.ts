import { describe, expect, it } from 'vitest';
import type { DrawnNode } from '../../core/screens/element.ts';
import { strainedPatch } from './strains.ts';

const node = (id: string, row: string | null, more: Record<string, unknown>): DrawnNode => ({
  id,
  key: row ? `list/${row}/${id}` : id,
  kind: 'text',
  ...more,
});
const patch = (set: DrawnNode[]) => ({ root: 'r', title: 'T', missing: null, set, gone: [] });
const strain = (set: DrawnNode[], values: 'longest' | 'missing' | 'no records', longest = new Map<string, string>()) =>
  strainedPatch(patch(set), values, longest).set;

describe('a screen under strain', () => {
  it('shows the longest text of each element in all its rows, also of those that came before', () => {
    const longest = new Map<string, string>();
    strain([node('a', '1', { words: 'a long one that came first' })], 'longest', longest);
    const now = strain([node('a', '2', { words: 'short' }), node('b', '2', { words: 'other' })], 'longest', longest);
    expect(now.map((n) => n['words'])).toEqual(['a long one that came first', 'other']);
  });
  it('has no values where records have them, and keeps the maker’s own words', () => {
    const now = strain(
      [
        node('t', null, { words: 'Hives' }),
        node('a', '1', { words: 'Clover' }),
        node('v', null, { value: '3 kg', label: 'Weight' }),
      ],
      'missing',
    );
    expect(now.map((n) => n['words'] ?? n['value'])).toEqual(['Hives', '', '']);
    expect(now[2]!['label']).toBe('Weight');
  });
  it('has lists without records', () => {
    const rows = [{ key: 'k', record: 'r', children: [] }];
    const [list, text] = strain(
      [node('l', null, { rows, total: 9, from: 0 }), node('t', null, { words: 'x' })],
      'no records',
    );
    expect(list).toMatchObject({ rows: [], total: 0 });
    expect(text!['words']).toBe('x');
  });
});
