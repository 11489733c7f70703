import { aOrAn } from '../../core/document/names.ts';
import { Plus } from 'lucide-react';
import { useNavigate } from 'react-router';
import { insertElement } from '../../core/app/edits.ts';
import { rowFor } from '../../core/app/generate-screens.ts';
import { ElementMaker } from '../../core/app/make.ts';
import { kindName } from '../../core/app/names.ts';
import type { Element, ElementKind, Screen } from '../../core/app/schema.ts';
import { reachInside } from '../../core/screens/reach.ts';
import { slotsOf } from '../../core/document/meaning.ts';
import { ELEMENTS, elementKinds } from '../../kinds/elements/index.ts';
import { nearestTable } from '../chips/place.ts';
import { useModel } from '../state/model.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { Menu } from '../ui/popover.tsx';
import { useReach } from './places.ts';
import { thumbnailOf } from './thumbnails.ts';

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
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const kept = useStudio((s) => s.kept);
  const navigate = useNavigate();
  const outer = useReach(screen, at.id);
  const [slot] = slotsOf(elementKinds.get(at.kind)?.properties ?? {}, 'elements');
  const reach = inside && slot ? reachInside(elementKinds, model, outer, at, slot) : outer;
  const tableOf = (id: string | null) => app.tables.find((t) => t.id === id) ?? null;
  const hand = {
    tables: app.tables,
    table: tableOf(nearestTable({ self: null, things: reach.things })) ?? app.tables[0] ?? null,
    form: tableOf(reach.form),
  };

  const add = (kind: ElementKind): void => {
    const element = new ElementMaker(undefined, rowFor).make(kind, {}, hand);
    void edit(`Added ${aOrAn(kindName(kind).toLowerCase())} to ${screen.name}`, (a) =>
      insertElement(a, element, at.id),
    ).then(() => navigate(`/app/${kept!.id}/screens/${screen.id}/${element.id}`));
  };
  const offered = ELEMENTS.filter(({ needs }) =>
    needs === 'table' ? hand.table : needs === 'form' ? hand.form : true,
  );
  return (
    <Menu
      align="end"
      trigger={
        <Button look={main ? 'main' : 'plain'} icon={Plus}>
          {inside ? 'Add inside' : 'Add after it'}
        </Button>
      }
      items={offered.map((d) => ({
        label: d.said.name,
        icon: thumbnailOf(d.kind),
        hint: d.said.hint,
        run: () => add(d.kind),
      }))}
    />
  );
}
