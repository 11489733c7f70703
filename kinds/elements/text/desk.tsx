import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { choicesOf } from '../../../studio/screens/properties.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { Line } from '../../../studio/ui/controls.tsx';
import { NumberBox } from '../../../studio/ui/TypedBox.tsx';
import { text } from './definition.ts';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';

export default function TextDesk({ element, screen }: DeskProps<Extract<Element, { kind: 'text' }>>) {
  const set = useElementEdit<Extract<Element, { kind: 'text' }>>(element);
  return (
    <>
      <section className="card sentence mb-3.5 flex items-start gap-2 px-4 py-3">
        <span className="shrink-0">Says</span>
        <WordsField
          name="Words"
          value={element.words}
          onChange={(v) => set('words', v)}
          place={usePlace(screen, element.id)}
          placeholder="Words, with values in them"
        />
      </section>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Style">
          <ChoiceChip
            name="Style"
            value={element.style}
            choices={choicesOf(text.properties.style)}
            onChange={(v) => set('style', v)}
          />
        </Line>
        <Line label="Colour">
          <ChoiceChip
            name="Colour"
            value={element.colour}
            choices={choicesOf(text.properties.colour)}
            onChange={(v) => set('colour', v)}
          />
        </Line>
        <Line label="Lines at most">
          <NumberBox
            label="Lines at most"
            className="!w-16"
            optional
            whole
            least={1}
            most={20}
            placeholder="all"
            value={element.lines}
            onChange={(n) => set('lines', n)}
          />
        </Line>
        <Line label="Selecting">
          <ChoiceChip
            name="Selecting"
            value={element.select ?? false}
            choices={[
              { value: true, label: 'people may select it' },
              { value: false, label: 'as on other screens' },
            ]}
            onChange={(v) => set('select', v || undefined)}
          />
        </Line>
        <ChoiceLine
          label="Lined up"
          property={text.properties.align}
          value={element.align ?? 'start'}
          onChange={(v) => set('align', v)}
        />
      </SizeAndLook>
    </>
  );
}
