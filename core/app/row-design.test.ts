import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { F, T, hiveApp } from '../records/fixture.ts';
import { thisId } from '../document/ids.ts';
import { rowFor } from './generate-screens.ts';
import { ElementMaker } from './make.ts';
import { design, designOf, type RowDesign } from './row-design.ts';
import { ElementSchema, type Element } from './schema.ts';

const make = new ElementMaker();
const hives = hiveApp().tables[0]!;
const of = (f: string): string => `${thisId(T.hives)}.${f}`;

describe('what stands where in a row', () => {
  it('is read of every row that is made for a table', () => {
    for (const t of hiveApp().tables) expect(designOf([rowFor(t, make)])).not.toBeNull();
    expect(designOf([rowFor(hives, make)])).toMatchObject({ title: of(F.name) });
  });

  it('is as it was chosen, in whatever order, and what else stands in the row stays (property)', () => {
    const field = fc.constantFrom(F.name, F.status, F.weight, F.tag, F.keeper).map(of);
    const change: fc.Arbitrary<Partial<RowDesign>> = fc.oneof(
      field.map((title) => ({ title })),
      fc.array(field, { maxLength: 4 }).map((below) => ({ below })),
      fc.option(field, { nil: '' }).map((end) => ({ end })),
      fc.option(field, { nil: '' }).map((picture) => ({ picture })),
    );
    fc.assert(
      fc.property(fc.array(change, { maxLength: 10 }), (changes) => {
        const row = rowFor(hives, make) as Extract<Element, { kind: 'box' }>;
        const button = make.button('Done', { do: 'nothing' });
        row.children.push(button);
        const children: Element[] = [row];
        const wanted = { ...designOf(children)! };
        for (const c of changes) {
          design(children, c, hives, make);
          Object.assign(wanted, c);
          expect(designOf(children)).toEqual(wanted);
          expect(row.children).toContainEqual(button);
          expect(ElementSchema.safeParse(row).success).toBe(true);
        }
      }),
    );
  });

  it('leaves words of one’s own alone, and says what stands for a missing title as before', () => {
    const row = rowFor(hives, make) as Extract<Element, { kind: 'box' }>;
    const words = row.children.find((e) => e.kind === 'box') as Extract<Element, { kind: 'box' }>;
    const [title, below] = words.children as Extract<Element, { kind: 'text' }>[];
    below!.words = `Tag {${of(F.tag)}}`;
    title!.words = `{${of(F.name)} | "No name yet"}`;
    expect(designOf([row])).toMatchObject({ below: null, title: of(F.name) });
    design([row], { title: of(F.tag) }, hives, make);
    expect(title!.words).toBe(`{${of(F.tag)} | "No name yet"}`);
    title!.words = `{${of(F.weight)} | in words}`;
    expect(designOf([row])!.title).toBeNull();
    expect(designOf([make.text('Hello')])).toBeNull();
    expect(designOf([row, make.text('Hello')])).toBeNull();
  });
});
