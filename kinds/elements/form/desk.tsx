import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp } from '../../../studio/state/studio.ts';

export default function FormDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'form' }>>) {
  const app = useApp();
  const set = useElementEdit<Extract<Element, { kind: 'form' }>>(element);
  const table = app.tables.find((t) => t.id === element.table);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        Writes a record of{' '}
        <ChoiceChip
          name="Table"
          tone="data"
          value={element.table}
          choices={app.tables.map((t) => ({ value: t.id, label: t.name }))}
          onChange={(v) => set('table', v)}
        />
        :{' '}
        <ValueChip
          name="Record"
          value={element.record || 'null'}
          literals={false}
          wanted={{ record: element.table }}
          place={usePlace(screen, element.id)}
          onChange={(v) => set('record', v === 'null' ? '' : v)}
        />{' '}
        when it is given, otherwise a new {table?.one ?? 'record'}.
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}
