import type { Element } from '../../../core/app/schema.ts';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';

export default function ReadingDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'reading' }>>) {
  const set = useElementEdit<Extract<Element, { kind: 'reading' }>>(element);
  const place = usePlace(screen, element.id);
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <div className="flex items-start gap-2">
          <span className="shrink-0">Under the label</span>
          <span className="max-w-72 flex-1">
            <WordsField name="Label" value={element.label} onChange={(v) => set('label', v)} place={place} />
          </span>
        </div>
        <p>
          it shows{' '}
          <ValueChip name="Value" value={element.value} wanted="any" place={place} onChange={(v) => set('value', v)} />
        </p>
      </section>
      <SizeAndLook element={element} screen={screen} />
    </>
  );
}
