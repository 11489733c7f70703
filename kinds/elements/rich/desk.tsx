import type { Element } from '../../../core/app/schema.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { Line } from '../../../studio/ui/controls.tsx';
import { rich } from './definition.ts';

type RichElement = Extract<Element, { kind: 'rich' }>;

/** What is typed for headings and the like, next to what it means. */
const SIGNS: [sign: string, means: string][] = [
  ['# words', 'a heading; ## a smaller one'],
  ['- words', 'a line of a list; 1. a numbered one'],
  ['**words**', 'strong; *words* slanted'],
  ['[words](https://…)', 'a link'],
  ['![words](https://…)', 'a picture'],
];

/** Rich words in a large field, with the few signs they are written by. */
export default function RichDesk({ element, screen }: DeskProps<RichElement>) {
  const set = useElementEdit<RichElement>(element);
  const place = usePlace(screen, element.id);
  const { select } = rich.properties;
  return (
    <>
      <section className="card mb-3.5 px-4 py-3">
        <WordsField name="Words" value={element.words} rows={10} place={place} onChange={(v) => set('words', v)} />
        <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-sm text-ink-soft">
          {SIGNS.map(([sign, means]) => (
            <div key={sign} className="contents">
              <dt className="font-mono text-xs leading-5 text-ink">{sign}</dt>
              <dd>{means}</dd>
            </div>
          ))}
        </dl>
      </section>
      <SizeAndLook element={element} screen={screen}>
        <Line label="Selecting">
          <ChoiceChip
            name="Selecting"
            value={element.select}
            choices={[true, false].map((value) => ({ value, label: select.labels![String(value)]! }))}
            onChange={(v) => set('select', v)}
          />
        </Line>
      </SizeAndLook>
    </>
  );
}
