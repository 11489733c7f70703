import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { ElementMaker } from '../core/app/make.ts';
import { ElementSchema, StepSchema, type ElementKind, type StepKind } from '../core/app/schema.ts';
import { rowFor } from '../core/app/generate-screens.ts';
import type { Properties } from '../core/document/meaning.ts';
import type { FieldDefinition } from '../core/fields/kind.ts';
import { hiveApp } from '../core/records/fixture.ts';
import { ANSWERED_BY } from '../core/routines/asks.ts';
import type { AnyStepDefinition } from '../core/routines/step.ts';
import { VARIABLE_KINDS } from '../core/app/variables.ts';
import { ELEMENTS } from './elements/index.ts';
import { FIELDS } from './fields/index.ts';
import { FORMATS } from './formats/index.ts';
import { NOTES } from './notes/index.ts';
import { PURPOSES, STEPS } from './steps/index.ts';
import { TRIGGERS } from './triggers/index.ts';

const here = fileURLToPath(new URL('.', import.meta.url));
const folders = (of: string): string[] =>
  readdirSync(join(here, of), { withFileTypes: true })
    .filter((d) => d.isDirectory())
    .map((d) => d.name)
    .sort();
const files = (of: string): string[] => readdirSync(join(here, of));

describe('every folder of a kind is in the index of its kind, and the other way round', () => {
  it.each<[string, string[]]>([
    ['elements', ELEMENTS.map((d) => d.kind)],
    ['steps', STEPS.map((d) => d.do.replace(/ /g, '-'))],
    ['triggers', TRIGGERS.map((d) => d.on.replace(/ /g, '-'))],
    ['fields', FIELDS.map((d) => d.type)],
    ['formats', FORMATS.map((d) => d.id)],
  ])('%s', (of, known) => expect(folders(of)).toEqual([...known].sort()));
  it('notes', () =>
    expect(NOTES).toHaveLength(files('notes').filter((f) => f !== 'index.ts' && !f.endsWith('.test.ts')).length));
  it('names are given once', () => {
    for (const names of [ELEMENTS.map((d) => d.kind), STEPS.map((d) => d.do), FIELDS.map((d) => d.type)])
      expect(new Set(names).size).toBe(names.length);
  });
  it('every element has its view and its thumbnail', () => {
    for (const d of ELEMENTS)
      expect(files(`elements/${d.kind}`), d.kind).toEqual(expect.arrayContaining(['view.tsx', 'thumbnail.ts']));
  });
});

describe('every kind begins as its own schema has it', () => {
  const [table] = hiveApp().tables;
  const make = new ElementMaker(undefined, rowFor);
  const at = { tables: [table!], table: table!, form: table! };
  it.each(ELEMENTS.map((d) => d.kind as ElementKind))('element %s', (kind) => {
    for (const hand of [at, { ...at, table: null, form: null }]) {
      const made = ElementSchema.safeParse({ ...make.make(kind, {}, hand) });
      // A list and a form without a table are not offered, and have no table to begin with.
      if (hand.table || !ELEMENTS.find((d) => d.kind === kind)!.needs) expect(made.error, kind).toBeUndefined();
    }
  });
  it.each(STEPS.map((d) => d.do as StepKind))('step %s', (kind) =>
    expect(StepSchema.safeParse(make.step(kind)).error).toBeUndefined(),
  );
  it('and says something of itself', () => {
    for (const d of [...ELEMENTS, ...STEPS]) expect(d.said.name.length).toBeGreaterThan(1);
    for (const d of FIELDS) expect(d.name.length).toBeGreaterThan(1);
  });
  it('and refuses what its properties do not allow', () => {
    const divider = make.make('divider');
    expect(ElementSchema.safeParse({ ...divider, look: 'wavy' }).success).toBe(false);
    expect(ElementSchema.safeParse({ ...make.box('down', []), gap: 65 }).success).toBe(false);
    expect(ElementSchema.safeParse({ ...divider, kind: 'wave' }).success).toBe(false);
    expect(StepSchema.safeParse({ ...make.step('if'), then: [{ id: 'p_x0000000', do: 'dance' }] }).success).toBe(false);
  });
});

it('properties refer to properties that are there', () => {
  for (const d of [...ELEMENTS, ...STEPS] as { properties: Properties }[])
    for (const p of Object.values(d.properties)) {
      if (p.inside) expect(d.properties[p.inside]?.is).toBe('elements');
      if (p.of && p.is === 'values') expect(Object.keys(d.properties)).toContain(p.of);
    }
});

it('no property has a name that every element, or every step, has for itself', () => {
  const own = {
    steps: ['id', 'do', 'off', 'note', 'again', 'ifFails', 'reason', 'sort'],
    elements: ['id', 'kind', 'name', 'seenWhen', 'worked', 'width', 'height', 'stands'],
  };
  const taken = [
    ...STEPS.flatMap((d) => Object.keys(d.properties).filter((k) => own.steps.includes(k))),
    ...ELEMENTS.flatMap((d) => Object.keys(d.properties).filter((k) => own.elements.includes(k))),
  ];
  expect(taken).toEqual([]);
});

it('contact cards that kept a field where notes are have it in its own place', () => {
  const kind = STEPS.find((d) => d.do === 'contacts') as {
    upgrade?(s: Record<string, unknown>): Record<string, unknown>;
  };
  expect(kind.upgrade!({ id: 'p_x', note: 'f_role00000' })).toEqual({ id: 'p_x', remark: 'f_role00000' });
  expect(kind.upgrade!({ id: 'p_x', note: 'for the office' })).toEqual({ id: 'p_x', note: 'for the office' });
});

describe('a rating', () => {
  const rating = FIELDS.find((d) => d.type === 'rating') as FieldDefinition;
  const field = { id: 'f_rating00', name: 'Temper', type: 'rating' };
  const typed = (text: string): unknown => rating.typed(text, { order: 'day first', decimal: '.' }, field);
  it('is a whole number from 1 to 5, typed as one or as stars', () => {
    expect(['3', '★★★☆☆', ' 5 ', '0', '6', '2.5', 'good'].map(typed)).toEqual([
      3,
      3,
      5,
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
    expect([rating.read(4, field), rating.read(7, field), rating.read('4', field)]).toEqual([4, null, null]);
  });
  it('is read as stars, and goes into files as its number', () => {
    expect([rating.display!(2, {}), rating.fileText!(2)]).toEqual(['★★☆☆☆', '2']);
  });
});

describe('routines that start when a screen opens', () => {
  const opened = TRIGGERS.find((t) => t.on === 'screen opened')!;
  const app = hiveApp();
  const screen = app.screens[0]!;
  app.routines.push({
    id: 'q_opened000',
    name: 'Greet',
    given: null,
    starts: [{ on: 'screen opened', screen: screen.id }],
    steps: [],
  });
  it('answer that screen alone, with its record', () => {
    const trigger = { on: 'screen opened' as const, screen: screen.id };
    expect(app.routines[0]!.starts).toEqual([trigger]);
    const happening = { on: 'screen opened' as const, screen: screen.id, record: 'bramble' };
    expect(opened.answers!(trigger, happening)).toEqual({ record: 'bramble' });
    expect(opened.answers!(trigger, { ...happening, screen: 's_other0000' })).toBe(false);
  });
  it('are found by what starts them', () => {
    expect(opened.starters(app, 'q_opened000', () => '')).toEqual([
      { said: `${screen.name} opens`, screen: screen.id },
    ]);
    expect(opened.starters(app, 'q_none00000', () => '')).toEqual([]);
  });
});

describe('a kind is known everywhere that lists kinds', () => {
  /** Steps that stand in others alone, and are never offered by themselves. */
  const INSIDE = ['choice', 'case', 'otherwise if'];
  it('every step is offered for one purpose', () => {
    const offered = PURPOSES.flatMap(([, kinds]) => kinds);
    expect([...offered, ...INSIDE].sort()).toEqual(STEPS.map((d) => d.do).sort());
  });
  it('every type of field can be kept in a variable, or it is said why not', () => {
    const why: Partial<Record<string, string>> = {
      link: 'kept as a record or several',
      formula: 'worked out, and not kept',
      mail: 'a text to a variable',
      phone: 'a text to a variable',
      web: 'a text to a variable',
      code: 'a text to a variable',
      person: 'whoever uses the app is known without one',
      id: 'written by the app itself',
      created: 'written by the app itself',
      changed: 'written by the app itself',
      plan: 'means something on the plan of a list alone',
      file: 'a picture, a drawing or a sound is kept; other files belong to records',
    };
    const kept = new Set(Object.keys(VARIABLE_KINDS));
    expect(FIELDS.map((f) => f.type as string).filter((t) => !kept.has(t) && !why[t])).toEqual([]);
  });
});

describe('where a routine can run', () => {
  const source = (kind: string): string =>
    readFileSync(join(here, 'steps', kind.replace(/ /g, '-'), 'definition.ts'), 'utf8');
  it.each(STEPS.map((d) => [d.do, d] as const))('step %s says it', (kind, { only }: AnyStepDefinition) => {
    const asks = [...source(kind).matchAll(/ask: '([a-z ]+)'/g)].map(([, ask]) => ask as keyof typeof ANSWERED_BY);
    const needsPhone = asks.some((ask) => ANSWERED_BY[ask] === 'phone');
    expect(only === 'phone').toBe(needsPhone);
  });
});
