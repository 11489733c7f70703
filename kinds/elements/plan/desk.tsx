import type { Element } from '../../../core/app/schema.ts';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChip } from '../../../studio/screens/FieldChips.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { FiltersSentence, RecordsCard, RecordsNotes, useFields } from '../../../studio/screens/RecordsCard.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { Line } from '../../../studio/ui/controls.tsx';

type PlanElement = Extract<Element, { kind: 'plan' }>;
const PICTURE = { type: 'picture' as const, group: 'Pictures' };

/** A plan or map in sentences: which records, where each is, on what ground. */
export default function PlanDesk({ element, screen }: DeskProps<PlanElement>) {
  const set = useElementEdit<PlanElement>(element);
  const place = usePlace(screen, element.id);
  const { all } = useFields(element.query.table);
  const places = all.filter((f) => f.type === 'plan' || f.type === 'place');
  return (
    <>
      <RecordsCard element={element} screen={screen} order={false}>
        <p>
          Each is where its{' '}
          <FieldChip name="Where" value={element.at} fields={places} onChange={(id) => set('at', id ?? '')} /> says
        </p>
        <FiltersSentence element={element} />
      </RecordsCard>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Ground">
          <ValueChip
            name="Picture of the ground"
            value={element.ground ?? ''}
            empty="the field’s own"
            optional
            place={place}
            prefer={PICTURE}
            onChange={(v) => set('ground', v || undefined)}
          />
        </Line>
      </SizeAndLook>
      <RecordsNotes element={element} />
    </>
  );
}
