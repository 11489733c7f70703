import { Plus } from 'lucide-react';
import { useNavigate } from 'react-router';
import { ElementMaker } from '../../core/app/elements.ts';
import { insertElement } from '../../core/app/edits.ts';
import { KIND_WORDS } from '../../core/app/uses.ts';
import { rowFor } from '../../core/app/generate-screens.ts';
import type { Element, ElementKind, Screen } from '../../core/app/schema.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Menu } from '../ui/popover.tsx';
import { formAround, placeOfElement } from './places.ts';
import { KIND_ICONS } from './ScreensView.tsx';

/** Puts a new element into a container, or behind any other element, with a sensible beginning. */
export function AddInside({
  screen,
  at,
  inside,
  main = false,
}: {
  screen: Screen;
  at: Element;
  inside: boolean;
  main?: boolean;
}) {
  const app = useApp();
  const { edit, kept } = useStudio();
  const navigate = useNavigate();
  const form = at.kind === 'form' ? at : formAround(screen, at.id);
  const place = placeOfElement(screen, at.id);
  const table = (at.kind === 'list' ? at.query.table : place.rowOf) ?? screen.given ?? app.tables[0]?.id ?? null;

  const add = (kind: ElementKind): void => {
    const make = new ElementMaker();
    const element = make.fresh(kind, table);
    if (element.kind === 'list') {
      const t = app.tables.find((x) => x.id === element.query.table) ?? app.tables[0];
      if (t) {
        element.query.table = t.id;
        element.children = [rowFor(t, make)];
      }
    }
    if (element.kind === 'form') {
      const t = app.tables.find((x) => x.id === element.table) ?? app.tables[0];
      if (t) {
        element.table = t.id;
        element.children = [
          ...t.fields
            .filter((f) => f.type !== 'formula')
            .slice(0, 6)
            .map((f) => make.input(f.id)),
          make.button('Save', { do: 'save' }),
        ];
      }
    }
    if (element.kind === 'input' && form)
      element.field = app.tables.find((t) => t.id === form.table)?.fields[0]?.id ?? '';
    void edit(`Added a ${KIND_WORDS[kind]!.toLowerCase()} to ${screen.name}`, (a) =>
      insertElement(a, element, at.id),
    ).then(() => navigate(`/app/${kept!.id}/screens/${screen.id}/${element.id}`));
  };
  const kinds: ElementKind[] = [
    'text',
    'picture',
    'button',
    'reading',
    'box',
    ...(app.tables.length ? (['list', 'form'] as const) : []),
    ...(form ? (['input'] as const) : []),
  ];
  return (
    <Menu
      align="end"
      trigger={
        <Button look={main ? 'main' : 'plain'} icon={Plus}>
          {inside ? 'Add inside' : 'Add after it'}
        </Button>
      }
      items={kinds.map((k) => ({ label: KIND_WORDS[k]!, icon: KIND_ICONS[k], hint: HINTS[k], run: () => add(k) }))}
    />
  );
}

const HINTS: Record<ElementKind, string> = {
  text: 'words and values',
  picture: '',
  button: '',
  reading: 'a label and a value',
  box: 'holds others',
  list: 'records',
  form: 'to fill in',
  input: 'one field',
};
