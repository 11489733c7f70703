import { describe, expect, it } from 'vitest';
import { upgraded, type Upgrade, type Upgrades } from './upgrade.ts';

/** A box that was once told its gap in words, and a step that was once called by another name. */
const kinds: Upgrades = {
  elements: new Map<string, { upgrade?: Upgrade }>([
    [
      'box',
      { upgrade: ({ spacing, ...e }) => (spacing === undefined ? e : { ...e, gap: spacing === 'wide' ? 24 : 8 }) },
    ],
    ['text', {}],
  ]),
  steps: new Map<string, { upgrade?: Upgrade }>([
    ['pause', { upgrade: ({ seconds, ...s }) => ({ ...s, do: 'wait', time: `@"PT${Number(seconds)}S"` }) }],
  ]),
};

describe('an earlier form of a kind', () => {
  it('comes in today’s, wherever it stands', () => {
    const stored = {
      screens: [
        {
          id: 's_home00000',
          root: {
            id: 'e_root00000',
            kind: 'box',
            spacing: 'wide',
            children: [
              { id: 'e_in000000', kind: 'box', spacing: 'tight', children: [] },
              { id: 'e_t0000000', kind: 'text', words: 'spacing' },
            ],
          },
        },
      ],
      routines: [{ id: 'q_r0000000', steps: [{ id: 'p_p0000000', do: 'pause', seconds: 5 }] }],
    };
    expect(upgraded(stored, kinds)).toEqual({
      screens: [
        {
          id: 's_home00000',
          root: {
            id: 'e_root00000',
            kind: 'box',
            gap: 24,
            children: [
              { id: 'e_in000000', kind: 'box', gap: 8, children: [] },
              { id: 'e_t0000000', kind: 'text', words: 'spacing' },
            ],
          },
        },
      ],
      routines: [{ id: 'q_r0000000', steps: [{ id: 'p_p0000000', do: 'wait', time: '@"PT5S"' }] }],
    });
  });
  it('is told by its id, not by what a record of data is called', () => {
    const data = { files: [{ id: 'x_file0000', kind: 'box', spacing: 'wide' }], note: [1, null, { kind: 'box' }] };
    expect(upgraded(data, kinds)).toEqual(data);
    const strange = { id: 'e_odd000000', kind: 'unheard of', spacing: 'wide', do: 'pause' };
    expect(upgraded(strange, kinds)).toEqual(strange);
  });
  it('stays as it is when it is in today’s form already', () => {
    const once = upgraded({ id: 'e_root00000', kind: 'box', spacing: 'wide' }, kinds);
    expect(upgraded(once, kinds)).toEqual(once);
  });
});
