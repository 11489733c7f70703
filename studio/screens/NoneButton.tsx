import { useNavigate } from 'react-router';
import { elementOf } from '../../core/app/edits.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import { isShownAs, type ShownAs } from '../../core/app/shown-as.ts';
import { useHome, useStudio } from '../state/studio.ts';

/** Makes something of the maker's own stand where there are no records, or leads to it. */
export function NoneButton({ element, screen }: { element: Extract<Element, { kind: ShownAs }>; screen: Screen }) {
  const edit = useStudio((s) => s.edit);
  const home = useHome();
  const navigate = useNavigate();
  const there = element.none?.[0];
  const go = (id: string): void => void navigate(`${home}/screens/${screen.id}/${id}`);
  const make = (): void => {
    const maker = new ElementMaker();
    const box = maker.box(
      'down',
      [maker.make('icon', { icon: 'sprout' }), maker.text('Nothing here yet', 'heading', { align: 'middle' })],
      {
        inside: 24,
        gap: 8,
        name: 'When there are none',
      },
    );
    void edit('Made something for when there are none', (a) => {
      const e = elementOf(a, element.id);
      if (e && isShownAs(e)) e.none = [box];
    }).then(() => go(box.id));
  };
  return (
    <button
      type="button"
      className="mt-1 block text-sm font-semibold text-kelp hover:underline"
      onClick={() => (there ? go(there.id) : make())}
    >
      {there ? 'Look at what is shown then' : 'Show something else instead'}
    </button>
  );
}
