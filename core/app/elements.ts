import { newId } from './ids.ts';
import type {
  BoxElement,
  ButtonElement,
  Element,
  ElementKind,
  ListElement,
  ReadingElement,
  Step,
  StepKind,
  TextElement,
  Where,
} from './schema.ts';

export type MakeId = (letter: string) => string;

export const noConditions = (): Where => ({ match: 'all', conditions: [] });

/** Makes elements with sensible beginnings; ids come from the maker given. */
export class ElementMaker {
  constructor(readonly id: MakeId = newId) {}

  text(words: string, style: TextElement['style'] = 'body', more: Partial<TextElement> = {}): TextElement {
    return { id: this.id('e'), kind: 'text', words, style, colour: 'ink', ...more };
  }
  box(runs: BoxElement['runs'], children: Element[], more: Partial<BoxElement> = {}): BoxElement {
    return { id: this.id('e'), kind: 'box', runs, gap: 8, inside: 0, surface: 'none', children, ...more };
  }
  button(words: string, tap: ButtonElement['tap'], more: Partial<ButtonElement> = {}): ButtonElement {
    return { id: this.id('e'), kind: 'button', words, look: 'main', tap, ...more };
  }
  reading(label: string, value: string, more: Partial<ReadingElement> = {}): ReadingElement {
    return { id: this.id('e'), kind: 'reading', label, value, ...more };
  }
  picture(source: string, shape: 'wide' | 'square' | 'round', more: Partial<Element> = {}): Element {
    return { id: this.id('e'), kind: 'picture', source, shape, ...more } as Element;
  }
  list(table: string, children: Element[], more: Partial<ListElement> = {}): ListElement {
    return {
      id: this.id('e'),
      kind: 'list',
      query: { table, where: noConditions(), order: [], limit: null },
      runs: 'down',
      gap: 8,
      surface: 'card',
      search: false,
      empty: 'Nothing here yet.',
      tap: { do: 'nothing' },
      children,
      ...more,
    };
  }
  form(table: string, record: string, children: Element[]): Element {
    return { id: this.id('e'), kind: 'form', table, record, children };
  }
  input(field: string): Element {
    return { id: this.id('e'), kind: 'input', field };
  }

  /** A new element of a kind, as the studio adds it. */
  fresh(kind: ElementKind, table: string | null): Element {
    switch (kind) {
      case 'text':
        return this.text('New text');
      case 'picture':
        return this.picture('', 'wide');
      case 'button':
        return this.button('New button', { do: 'nothing' });
      case 'reading':
        return this.reading('Label', '');
      case 'box':
        return this.box('down', [], { inside: 12, surface: 'tint' });
      case 'list':
        return this.list(table ?? '', []);
      case 'form':
        return this.form(table ?? '', '', []);
      case 'input':
        return this.input('');
    }
  }

  /** A new step of a kind, with nothing filled in. */
  step(kind: StepKind): Step {
    const id = this.id('p');
    switch (kind) {
      case 'set':
        return { id, do: 'set', record: '', values: [] };
      case 'add':
        return { id, do: 'add', table: '', values: [], result: this.id('v'), resultName: 'new record' };
      case 'remove':
        return { id, do: 'remove', record: '' };
      case 'open':
        return { id, do: 'open', screen: '', give: '' };
      case 'back':
        return { id, do: 'back' };
      case 'message':
        return { id, do: 'message', words: '' };
      case 'mail':
        return { id, do: 'mail', to: '', subject: '', body: '' };
      case 'if':
        return {
          id,
          do: 'if',
          when: { match: 'all', conditions: [{ left: '', op: 'is', right: '' }] },
          then: [],
          otherwise: [],
        };
    }
  }
}

/** A deep copy by way of JSON: it takes the drafts of an edit too, which a structured clone refuses. */
export const cloned = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** A copy of an element with new ids throughout. */
export function copyElement<E extends Element>(e: E, id: MakeId = newId): E {
  const copy = { ...cloned(e), id: id('e') };
  if ('children' in copy) copy.children = copy.children.map((c: Element) => copyElement(c, id));
  return copy;
}
