import { describe, expect, it } from 'vitest';
import { inTodaysVersion } from './earlier-versions.ts';
import { VERSION } from './version.ts';
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

describe('an earlier version of the format', () => {
  it('has its kinds of element renamed, wherever they are, and nothing that is called the same', () => {
    const stored = {
      version: 1,
      screens: [
        { id: 's_home00000', root: { id: 'e_root00000', kind: 'box', children: [{ id: 'e_f', kind: 'figure' }] } },
      ],
      parts: [{ root: { id: 'e_part00000', kind: 'finder', children: [] } }],
      routines: [{ steps: [{ id: 'p_step00000', do: 'figure', kind: 'finder' }] }],
      tables: [{ id: 't_figure000', name: 'figure', kind: 'figure' }],
    };
    expect(inTodaysVersion(stored)).toEqual({
      version: VERSION,
      screens: [
        { id: 's_home00000', root: { id: 'e_root00000', kind: 'box', children: [{ id: 'e_f', kind: 'sprite' }] } },
      ],
      parts: [{ root: { id: 'e_part00000', kind: 'search', children: [] } }],
      routines: stored.routines,
      tables: stored.tables,
    });
  });
  it('of today stays what it is', () => {
    const today = { version: VERSION, screens: [{ root: { id: 'e_root00000', kind: 'figure' } }] };
    expect(inTodaysVersion(today)).toBe(today);
  });
});
