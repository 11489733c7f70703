import { elementKinds } from '../screens/kinds.ts';
import { stepKinds } from '../routines/kinds.ts';
import { newId, thisId } from '../document/ids.ts';
import { untitled } from '../document/names.ts';
import type { AnyElement } from '../document/meaning.ts';
import { allOf } from '../document/queries.ts';
import type { Table } from '../tables/schema.ts';
import type { BoxElement, Element, ElementKind, ListElement, Step, StepKind } from './schema.ts';

export type MakeId = (letter: string) => string;
type Of<K extends ElementKind> = Extract<Element, { kind: K }>;

/** What is at hand where a new element is put. */
export interface At {
  tables?: readonly Table[];
  table?: Table | null;
  form?: Table | null;
}

/** Makes elements and steps, each beginning as its kind says; ids come from the maker given. */
export class ElementMaker {
  constructor(
    readonly id: MakeId = newId,
    /** An element that shows one record of a table; an empty box when nobody says better. */
    private readonly row: (table: Table, make: ElementMaker) => Element = (_table, make) => make.box('down', []),
  ) {}

  /** A new element of a kind with its beginnings, and more where that is known. */
  make<K extends ElementKind>(kind: K, more: Partial<Of<K>> = {}, at: At = {}): Of<K> {
    const definition = elementKinds.get(kind)!;
    const begun = definition.begin({
      id: this.id,
      tables: at.tables ?? [],
      table: at.table ?? null,
      form: at.form ?? null,
      row: (table) => this.row(table, this),
      fresh: (k, more = {}) => ({ ...this.make(k as ElementKind, {}, at), ...more }) as AnyElement,
    }) as object;
    return { id: this.id('e'), kind, ...begun, ...more } as Of<K>;
  }

  text(words: string, style: Of<'text'>['style'] = 'body', more: Partial<Of<'text'>> = {}): Of<'text'> {
    return this.make('text', { words, style, ...more });
  }
  box(runs: BoxElement['runs'], children: Element[], more: Partial<BoxElement> = {}): BoxElement {
    return this.make('box', { runs, inside: 0, surface: 'none', children, ...more });
  }
  button(words: string, tap: Of<'button'>['tap'], more: Partial<Of<'button'>> = {}): Of<'button'> {
    return this.make('button', { words, tap, ...more });
  }
  reading(label: string, value: string, more: Partial<Of<'reading'>> = {}): Of<'reading'> {
    return this.make('reading', { label, value, ...more });
  }
  picture(source: string, shape: Of<'picture'>['shape'], more: Partial<Of<'picture'>> = {}): Of<'picture'> {
    return this.make('picture', { source, shape, ...more });
  }
  list(table: string, children: Element[], more: Partial<ListElement> = {}): ListElement {
    return this.make('list', { query: allOf(table), children, ...more });
  }
  /** One figure of all records of a table, beside others of its kind. */
  tile(table: string, title: string, more: Partial<Of<'chart'>> = {}): Of<'chart'> {
    return this.make('chart', { title, query: allOf(table), look: 'number', width: 'fill', ...more });
  }
  form(table: string, record: string, children: Element[]): Of<'form'> {
    return this.make('form', { table, record, children });
  }
  input(field: string): Of<'input'> {
    return this.make('input', { field });
  }

  /** A new step of a kind, with nothing filled in. */
  step<K extends StepKind>(kind: K, more: Partial<Extract<Step, { do: K }>> = {}): Extract<Step, { do: K }> {
    const definition = stepKinds.get(kind)!;
    const begun = definition.begin({ id: this.id }) as object;
    return { id: this.id('p'), do: kind, ...begun, ...more } as Extract<Step, { do: K }>;
  }
}

/** What a record is called, also where nobody has given it a name yet. */
export function titleWords(t: Table): string {
  const me = thisId(t.id);
  return t.titleField ? `{${me}.${t.titleField} | ${JSON.stringify(untitled(t.one))}}` : `{${me}}`;
}
