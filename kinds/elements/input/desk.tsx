import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { useReach } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp } from '../../../studio/state/studio.ts';
import { Note } from '../../../studio/ui/controls.tsx';

export default function InputDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'input' }>>) {
  const app = useApp();
  const set = useElementEdit<Extract<Element, { kind: 'input' }>>(element);
  const { form } = useReach(screen, element.id);
  const table = app.tables.find((t) => t.id === form);
  return (
    <>
      {!form && (
        <div className="mb-3.5">
          <Note tone="bad">An input works inside a form. Drag it into one in the outline, or remove it.</Note>
        </div>
      )}
      <section className="card sentence mb-3.5 px-4 py-3">
        Fills in{' '}
        <ChoiceChip
          name="Field"
          tone="data"
          value={element.field || null}
          empty="choose a field"
          choices={(table?.fields ?? [])
            .filter((f) => f.type !== 'formula')
            .map((f) => ({ value: f.id, label: f.name }))}
          onChange={(v) => set('field', v)}
        />{' '}
        under the label{' '}
        <input
          aria-label="Label of the input"
          className="field mx-1 !inline !w-44"
          placeholder={table?.fields.find((f) => f.id === element.field)?.name}
          value={element.label ?? ''}
          onChange={(e) => set('label', e.target.value || undefined)}
        />
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}
