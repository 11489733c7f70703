import { describe, expect, it } from 'vitest';
import { STEPS } from '../../kinds/steps/index.ts';
import { ELEMENTS } from '../../kinds/elements/index.ts';
import { TRIGGERS } from '../../kinds/triggers/index.ts';
import { allId, backId, thisId } from '../document/ids.ts';
import type { Properties } from '../document/meaning.ts';
import { F, hiveApp, T } from '../records/fixture.ts';
import { ElementMaker } from './make.ts';
import type { App, Element, Routine } from './schema.ts';
import { idsOfField, idsOfTable, usesInWords, usesOf } from './uses.ts';

let n = 0;
const make = new ElementMaker((letter) => `${letter}_used${String(n++).padStart(4, '0')}`);
const withElements = (...children: Element[]): App => {
  const app = hiveApp();
  app.screens[0]!.name = 'Home';
  app.screens[0]!.root = { ...app.screens[0]!.root, children } as App['screens'][number]['root'];
  return app;
};
const placesOf = (app: App, ids: Iterable<string>): string[] => usesOf(app, ids).flatMap((u) => u.places);

describe('uses are found from what properties mean', () => {
  it('in the places of words, and not in the words around them', () => {
    const app = withElements(make.text(`It weighs {${thisId(T.hives)}.${F.weight}}`), make.text(`not ${F.weight}`));
    expect(usesOf(app, [F.weight]).filter((u) => u.screen)).toMatchObject([{ places: ['the words'] }]);
  });
  it('in formulas, but not in their texts', () => {
    const shown = (value: string): App => withElements({ ...make.text('x'), seenWhen: value } as Element);
    expect(placesOf(shown(`${F.weight} > 3`), [F.weight])).toEqual(['when it is seen']);
    expect(placesOf(shown(`"${F.weight}" = "a \\"${F.weight}"`), [F.weight])).toEqual([]);
    expect(placesOf(shown(`count(${allId(T.hives)}) > ${F.hive}_back`), [allId(T.hives)])).toEqual(['when it is seen']);
    expect(placesOf(shown(`${backId(F.hive)} = null`), idsOfField(F.hive))).toEqual(['when it is seen']);
    // A name that only begins like another.
    expect(placesOf(shown(`${F.weight}x > 3`), [F.weight])).toEqual([]);
  });
  it('in the steps of scenes, by what they do and by the fields of their values', () => {
    const app = hiveApp();
    const at = { screen: app.screens[0]!.id, element: 'e_place00000.e_inner00000', words: '' };
    const save = { id: 'c_save000000', do: 'save', who: 'k_one0000000', at, table: T.hives, values: { [F.weight]: 3 } };
    app.scenes = [
      { id: 'z_one0000000', name: 'Weighed', at: 0, cast: [], steps: [save as never], made: [], records: [] },
    ];
    const scenes = (...ids: string[]): unknown[] =>
      usesOf(app, ids)
        .filter((u) => u.scene)
        .map((u) => u.said);
    for (const id of [F.weight, T.hives, at.screen, 'e_place00000']) expect(scenes(id)).toEqual(['the scene Weighed']);
    expect(scenes(F.name, 'e_inner00000')).toEqual([]);
  });
  it('in fields of tables by their formulas, defaults, checks and links', () => {
    const app = hiveApp({
      hives: [
        { id: 'f_check000', name: 'Checked', type: 'text', check: { formula: `${F.weight} > 1`, words: '' } },
        { id: 'f_begin000', name: 'Begun', type: 'number', default: F.weight },
      ],
    });
    expect(usesOf(app, [F.weight]).map((u) => u.said)).toEqual([
      'the field Checked of Hives',
      'the field Begun of Hives',
    ]);
    expect(usesOf(app, idsOfTable(app, T.keepers)).map((u) => u.said)).toContain('the field Keeper of Hives');
  });
  it('in routines by their steps and what starts them, and in the tab bar', () => {
    const app = hiveApp();
    const screen = app.screens[0]!.id;
    app.tabs = [{ screen } as App['tabs'][number]];
    app.routines = [
      {
        id: 'p_routine00',
        name: 'Weigh',
        given: null,
        starts: [{ on: 'screen opened', screen }],
        steps: [
          {
            id: 'p_if000000',
            do: 'if',
            when: 'true',
            then: [
              {
                id: 'p_set00000',
                do: 'set',
                record: `${allId(T.hives)}[1]`,
                values: [{ field: F.weight, value: '1' }],
              },
            ],
            otherwise: [],
          },
        ],
      } as unknown as Routine,
    ];
    expect(usesOf(app, [F.weight])).toMatchObject([{ said: 'the routine Weigh', places: ['a value'] }]);
    expect(usesOf(app, [allId(T.hives)])).toMatchObject([{ places: ['the record to set'] }]);
    expect(usesInWords(usesOf(app, [screen]))).toBe('the routine Weigh and the tab bar');
  });
  it('wherever a kind says that a property names something (law over all kinds)', () => {
    const kinds: [string, Properties][] = [
      ...ELEMENTS.map((d): [string, Properties] => [d.kind, d.properties]),
      ...STEPS.map((d): [string, Properties] => [d.do, d.properties]),
      ...TRIGGERS.map((d): [string, Properties] => [d.on, d.properties]),
    ];
    const naming = new Set(['words', 'formula', 'query', 'where', 'values', 'tap', 'table', 'field', 'screen']);
    const value: Record<string, unknown> = {
      words: `{${F.tag}}`,
      formula: F.tag,
      query: { table: T.hives, where: { match: 'all', conditions: [{ left: F.tag, op: 'is', right: '' }] } },
      where: { match: 'all', conditions: [{ left: F.tag, op: 'is', right: '' }] },
      values: [{ field: F.tag, value: '' }],
      tap: { do: 'open', screen: 's_x0000000', give: F.tag },
      table: F.tag,
      field: F.tag,
      screen: F.tag,
      oneOf: F.tag,
      text: F.tag,
    };
    for (const [kind, properties] of kinds)
      for (const [name, p] of Object.entries(properties)) {
        const app = hiveApp();
        const held = { [name]: value[p.is] };
        const { id, children } = { id: 'e_probe0000', children: [] };
        if (ELEMENTS.some((d) => d.kind === kind))
          app.screens[0]!.root = { ...app.screens[0]!.root, children: [{ id, kind, ...held }] } as never;
        else
          app.routines = [
            {
              id: 'p_probe000',
              name: 'R',
              given: null,
              starts: TRIGGERS.some((d) => d.on === kind) ? [{ on: kind, ...held }] : [],
              steps: STEPS.some((d) => d.do === kind) ? [{ id: 'p_step0000', do: kind, ...held }] : children,
            },
          ] as never;
        const found = usesOf(app, [F.tag]).some((u) => u.element === id || u.routine);
        expect([kind, name, found]).toEqual([kind, name, naming.has(p.is)]);
      }
  });
});
