import type { Element } from '../../../core/app/schema.ts';
import { GapLine, SurfaceLine } from '../../../studio/screens/BoxControls.tsx';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChip } from '../../../studio/screens/FieldChips.tsx';
import { useFields } from '../../../studio/screens/RecordsCard.tsx';
import { RecordsDesk } from '../../../studio/screens/RecordsDesk.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';

type CalendarElement = Extract<Element, { kind: 'calendar' }>;

/** A calendar in sentences: which records, and at which day each stands. */
export default function CalendarDesk({ element, screen }: DeskProps<CalendarElement>) {
  const set = useElementEdit<CalendarElement>(element);
  const { days } = useFields(element.query.table);
  return (
    <RecordsDesk
      element={element}
      screen={screen}
      sentences={
        <p>
          On the day of its{' '}
          <FieldChip name="Day" value={element.by} fields={days} onChange={(id) => set('by', id ?? '')} />
          {', until '}
          <FieldChip
            name="Last day"
            value={element.until}
            fields={days}
            none="the same day"
            onChange={(id) => set('until', id)}
          />
        </p>
      }
      size={<GapLine value={element.gap} onChange={(v) => set('gap', v)} />}
      look={<SurfaceLine label="Row surface" value={element.surface} onChange={(v) => set('surface', v)} />}
    />
  );
}
