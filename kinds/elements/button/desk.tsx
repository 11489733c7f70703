import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace, useReach } from '../../../studio/screens/places.ts';
import { ICON_CHOICES } from '../../../studio/screens/properties.ts';
import { NEVER_OR_ALWAYS } from '../../../studio/chips/ValueChip.tsx';
import { WhenSentence } from '../../../studio/chips/WhenSentence.tsx';
import { OtherTaps } from '../../../studio/screens/OtherTaps.tsx';
import { TapSentence } from '../../../studio/screens/TapSentence.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { Line, Note, Segmented } from '../../../studio/ui/controls.tsx';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';
import { button } from './definition.ts';

export default function ButtonDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'button' }>>) {
  const set = useElementEdit<Extract<Element, { kind: 'button' }>>(element);
  const place = usePlace(screen, element.id);
  const inForm = useReach(screen, element.id).form !== null;
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <div className="flex items-start gap-2">
          <span className="shrink-0">Says</span>
          <WordsField
            name="Words on the button"
            value={element.words}
            onChange={(v) => set('words', v)}
            place={place}
          />
        </div>
        <p className="mt-1">
          <TapSentence
            tap={element.tap}
            onChange={(tap) => set('tap', tap)}
            place={place}
            inForm={inForm}
            about={element.words.replace(/[{}]/g, '')}
          />
        </p>
        <OtherTaps element={element} screen={screen} />
        <p>
          Disabled when{' '}
          <WhenSentence
            key={element.id}
            name="Disabled when"
            none="never"
            formula={element.off}
            fixed={NEVER_OR_ALWAYS}
            place={place}
            onChange={(v) => set('off', v)}
          />
        </p>
      </section>
      {element.tap.do === 'nothing' && (
        <div className="mb-3.5">
          <Note>
            <b className="font-semibold">A tap does nothing yet.</b> Choose above what happens, or run a routine.
          </Note>
        </div>
      )}
      <SizeAndLook element={element} screen={screen}>
        <ChoiceLine
          label="Look"
          property={button.properties.look}
          value={element.look}
          onChange={(v) => set('look', v)}
        />
        <Line label="Icon">
          <ChoiceChip
            name="Icon"
            value={element.icon ?? ''}
            choices={[{ value: '', label: 'none' }, ...ICON_CHOICES]}
            onChange={(v) => set('icon', v || undefined)}
          />
          {element.icon && (
            <Segmented
              label="Where the icon is"
              value={element.iconAt ?? 'start'}
              options={[
                ['start', 'Before'],
                ['end', 'Behind'],
              ]}
              onChange={(v) => set('iconAt', v === 'start' ? undefined : v)}
            />
          )}
        </Line>
        <Line label="It stands">
          <Segmented
            label="It stands"
            value={element.floats ? 'floats' : 'stays'}
            options={[
              ['stays', 'In its place'],
              ['floats', 'Floating'],
            ]}
            onChange={(v) => set('floats', v === 'floats' || undefined)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}
