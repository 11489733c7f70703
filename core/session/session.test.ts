import { describe, expect, it } from 'vitest';
import { addScreensFor } from '../app/screens-for.ts';
import type { App } from '../app/schema.ts';
import type { Field, FieldType } from '../tables/schema.ts';
import { F, T, hiveApp } from '../records/fixture.ts';
import { drawn, openSession } from './fixture.ts';

const field = (id: string, name: string, type: FieldType, more: Partial<Field> = {}): Field => ({
  id,
  name,
  type,
  ...more,
});

function open(change: (app: App) => void = () => {}) {
  const app = hiveApp();
  change(app);
  const screens = addScreensFor(app, T.hives);
  const remembered: string[] = [];
  const { session, records } = openSession(app, { remember: async (person) => void remembered.push(person) });
  const form = screens[2]!;
  const page = (record: string | null = null) => drawn(app, records, form.id, record);
  const drawnForm = (record: string | null = null) => page(record).find('form')[0]!;
  const inputs = () => page().find('input');
  const input = (id: string) => inputs().find((e) => e.field === id)!;
  return { app, records, session, remembered, drawnForm, inputs, input };
}
const hive = (app: App, id: string): Field => app.tables[0]!.fields.find((f) => f.id === id)!;

describe('a form for a new record', () => {
  it('begins with what its fields begin with, links by their record', () => {
    const { drawnForm } = open((app) => {
      hive(app, F.status).default = '"Active"';
      hive(app, F.keeper).default = `all_${T.keepers}[1]`;
      app.tables[0]!.fields.push(field('f_day00000', 'Day', 'date', { default: 'today()' }));
    });
    expect(drawnForm().values).toMatchObject({
      [F.status]: 'Active',
      [F.keeper]: 'odile',
      f_day00000: '2026-11-25',
    });
    expect(drawnForm('clover').values[F.status]).toBe('Retired');
  });
  it('has no inputs for what the app fills in itself, and knows what its inputs take', () => {
    const { inputs, input } = open((app) => {
      app.files.push({ id: 'x_plan0000', name: 'Plan', type: 'image/svg+xml', data: btoa('<svg/>') });
      app.tables[0]!.fields.push(
        field('f_uid00000', 'Id', 'id'),
        field('f_made0000', 'Made', 'created'),
        field('f_many0000', 'Skills', 'choice', { several: true, choices: [{ name: 'wax', colour: 1 }] }),
        field('f_spot0000', 'Spot', 'plan', { plan: 'file:x_plan0000' }),
      );
    });
    const fields = inputs().map((e) => e.field);
    expect(fields).not.toContain('f_uid00000');
    expect(fields).not.toContain('f_made0000');
    expect(input('f_many0000')).toMatchObject({ several: true, choices: ['wax'], writable: true });
    expect(input('f_spot0000').plan).toBe(`data:image/svg+xml;base64,${btoa('<svg/>')}`);
  });
});

describe('saving a form', () => {
  it('of a record that was removed meanwhile says so, and makes no new one of it', async () => {
    const { session, records } = open();
    records.remove(T.hives, 'clover');
    expect(await (await session.actions()).saveForm(T.hives, 'clover', { [F.name]: 'Heather' })).toEqual({
      problems: { '': expect.stringContaining('This hive was removed meanwhile') },
    });
    expect(records.row(T.hives, 'clover')).toBeUndefined();
  });
  it('reads what people type by the type of its field', async () => {
    const { session, records } = open((app) =>
      app.tables[0]!.fields.push(
        field('f_long0000', 'Took', 'duration'),
        field('f_place000', 'Place', 'place'),
        field('f_many0000', 'Skills', 'choice', { several: true }),
      ),
    );
    const answer = await (
      await session.actions()
    ).saveForm(T.hives, 'bramble', {
      f_long0000: '1 h 30 min',
      f_place000: '54.1, -2.25',
      f_many0000: '["wax","queens"]',
    });
    expect(answer).toEqual({ saved: 'bramble', created: false });
    expect(records.row(T.hives, 'bramble')!.cells).toMatchObject({
      f_long0000: 'PT1H30M',
      f_place000: '54.1,-2.25',
      f_many0000: '["wax","queens"]',
    });
    expect(await (await session.actions()).saveForm(T.hives, 'bramble', { f_long0000: 'long' })).toEqual({
      problems: { f_long0000: '“long” is not a duration.' },
    });
  });
  it('is refused with the maker’s words at the field, and by a key at its first field', async () => {
    const { session } = open((app) => {
      hive(app, F.weight).check = { formula: `${F.weight} < 50`, words: 'Too heavy.' };
      app.tables[0]!.key = [F.name, F.tag];
    });
    expect(await (await session.actions()).saveForm(T.hives, null, { [F.weight]: 60 })).toEqual({
      problems: { [F.weight]: 'Too heavy.' },
    });
    const twice = await (await session.actions()).saveForm(T.hives, null, { [F.name]: 'Bramble', [F.tag]: 'HB-1' });
    expect(twice).toEqual({
      problems: { [F.name]: 'There is a hive with Name “Bramble” and Tag code “HB-1” already.' },
    });
  });
  it('cannot write what the app keeps itself', async () => {
    const { session, records } = open((app) =>
      app.tables[0]!.fields.push(field('f_uid00000', 'Id', 'id'), field('f_last0000', 'Last', 'changed')),
    );
    const answer = await (
      await session.actions()
    ).saveForm(T.hives, null, { [F.name]: 'Fern', f_uid00000: 'mine', f_last0000: 'never' });
    const row = records.row(T.hives, 'saved' in answer ? answer.saved : '')!;
    expect(row.cells['f_uid00000']).toMatch(/^[A-Z2-9]{8}$/);
    expect(row.cells['f_last0000']).toBe('2026-11-25T12:00:00');
  });
  it('remembers who was written into a person field, once', async () => {
    const { session, records, remembered, drawnForm } = open((app) =>
      app.tables[0]!.fields.push(field('f_who00000', 'Who', 'person', { default: 'person()' })),
    );
    expect(drawnForm().values['f_who00000']).toBeUndefined();
    await (await session.actions()).saveForm(T.hives, null, { [F.name]: 'Fern', f_who00000: 'Odile' });
    await (await session.actions()).saveForm(T.hives, null, { [F.name]: 'Moss', f_who00000: 'Odile' });
    expect([records.person, remembered]).toEqual(['Odile', ['Odile']]);
    expect(drawnForm().values['f_who00000']).toBe('Odile');
  });
  it('gives titles for several chosen records, also for one that is gone', async () => {
    const { session } = open();
    expect(await (await session.actions()).titles(T.hives, ['bramble', 'nobody'])).toEqual({
      bramble: 'Bramble',
      nobody: 'gone',
    });
  });
});
