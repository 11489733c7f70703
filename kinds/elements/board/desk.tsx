import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { SurfaceLine } from '../../../studio/screens/BoxControls.tsx';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChip } from '../../../studio/screens/FieldChips.tsx';
import { SumChip, useFields } from '../../../studio/screens/RecordsCard.tsx';
import { RecordsDesk } from '../../../studio/screens/RecordsDesk.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { board } from './definition.ts';

type BoardElement = Extract<Element, { kind: 'board' }>;

/** A board in sentences: which records, what its columns go by, what dragging does. */
export default function BoardDesk({ element, screen }: DeskProps<BoardElement>) {
  const set = useElementEdit<BoardElement>(element);
  const fields = useFields(element.query.table);
  const { drags } = board.properties;
  return (
    <RecordsDesk
      element={element}
      screen={screen}
      rows="cards"
      sentences={
        <p>
          A column for each{' '}
          <FieldChip
            name="Columns by"
            value={element.by}
            fields={fields.filterable}
            onChange={(id) => set('by', id ?? '')}
          />
          , with the sum of <SumChip element={element} />. Dragging a card{' '}
          <ChoiceChip
            name="Dragging"
            value={element.drags}
            choices={[true, false].map((value) => ({ value, label: drags.labels![String(value)]! }))}
            onChange={(v) => set('drags', v)}
          />
        </p>
      }
      look={<SurfaceLine label="Card surface" value={element.surface} onChange={(v) => set('surface', v)} />}
    />
  );
}
