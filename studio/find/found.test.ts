import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ABOUT } from '../../core/formula/builtins/about.ts';
import { FUNCTION_WORDS } from '../../core/formula/builtins/search-words.ts';
import { SECTIONS } from '../../core/app/sections.ts';
import { ELEMENTS } from '../../kinds/elements/index.ts';
import { ELEMENT_WORDS } from '../../kinds/elements/search-words.ts';
import { FIELDS } from '../../kinds/fields/index.ts';
import { FIELD_WORDS } from '../../kinds/fields/search-words.ts';
import { STEPS } from '../../kinds/steps/index.ts';
import { STEP_WORDS } from '../../kinds/steps/search-words.ts';
import { THEMES } from '../../kinds/themes/index.ts';
import { THEME_WORDS } from '../../kinds/themes/search-words.ts';
import { TRIGGERS } from '../../kinds/triggers/index.ts';
import { TRIGGER_WORDS } from '../../kinds/triggers/search-words.ts';
import { COMMANDS } from './commands.ts';
import { searchOf, type Findable } from './search.ts';

type Thing = Findable & { id: string };
const PLACES: Record<string, Thing[]> = {
  element: [
    ...ELEMENTS.map((d) => ({ id: d.kind, ...d.said, words: ELEMENT_WORDS[d.kind] })),
    ...SECTIONS.map((s) => ({ id: `section ${s.id}`, ...s.said, words: s.words })),
  ],
  step: STEPS.map((d) => ({ id: d.do, ...d.said, words: STEP_WORDS[d.do] })),
  trigger: TRIGGERS.map((d) => ({ id: d.on, name: d.said.name, words: TRIGGER_WORDS[d.on] })),
  field: FIELDS.map((d) => ({ id: d.type, name: d.name, words: FIELD_WORDS[d.type] })),
  function: Object.entries(ABOUT).map(([id, { help }]) => ({ id, name: id, hint: help, words: FUNCTION_WORDS[id] })),
  theme: THEMES.map((t) => ({ id: t.id, name: t.name, words: THEME_WORDS[t.id] })),
  command: COMMANDS.map((c) => ({ id: c.id, name: c.name, words: c.words })),
};
const search = new Map(Object.entries(PLACES).map(([place, things]) => [place, searchOf(things)]));

/** `element | dropdown | input`: where it is typed, what, and what must be first, or among the first three behind a “~”. */
const LINES = readFileSync(new URL('./trade-words.txt', import.meta.url), 'utf8')
  .split('\n')
  .filter((l) => l && !l.startsWith('#'))
  .map((l) => l.split(' | ') as [place: string, typed: string, wanted: string]);

describe('what people look for is found by the words they use', () => {
  it('by at least 300 words', () => expect(LINES.length).toBeGreaterThanOrEqual(300));
  it.each(LINES)('%s: %s', (place, typed, wanted) => {
    const found = search.get(place)!(typed).map((f) => f.it.id);
    if (wanted.startsWith('~')) expect(found.slice(0, 3)).toContain(wanted.slice(1));
    else expect(found[0]).toBe(wanted);
  });
  it('by nothing that only has its letters somewhere', () => {
    for (const [place, find] of search)
      for (const nonsense of ['xqzw', 'bzpt', 'qqq', 'tlkq wvx'])
        expect(find(nonsense), `${place}: ${nonsense}`).toEqual([]);
  });
  it('and says what it needs, where it has a condition', () => {
    const [first] = search.get('element')!('dropdown');
    expect(first).toMatchObject({ it: { id: 'input' }, says: expect.stringContaining('field of choices') });
    expect(search.get('element')!('input')[0]!.says).toBeUndefined();
  });
  it('with a letter too many, too few or wrong', () => {
    for (const [typed, wanted] of [
      ['dropdwon', 'input'],
      ['buton', 'button'],
      ['calender', 'calendar'],
      ['galery', 'list'],
      ['chekbox', 'input'],
    ])
      expect(search.get('element')!(typed!)[0]?.it.id, typed).toBe(wanted);
  });
});
