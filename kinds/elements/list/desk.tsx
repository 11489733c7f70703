import type { ListElement } from '../../../core/app/schema.ts';
import type { Tap } from '../../../core/document/pieces.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { GapLine, SurfaceLine } from '../../../studio/screens/BoxControls.tsx';
import { ColumnsLine } from '../../../studio/screens/ColumnsLine.tsx';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { FieldChip } from '../../../studio/screens/FieldChips.tsx';
import { placeInside, usePlace } from '../../../studio/screens/places.ts';
import { SumChip, useFields } from '../../../studio/screens/RecordsCard.tsx';
import { RecordsDesk } from '../../../studio/screens/RecordsDesk.tsx';
import { RowSentence } from '../../../studio/screens/RowSentence.tsx';
import { TapSentence } from '../../../studio/screens/TapSentence.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useModel } from '../../../studio/state/model.ts';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';
import { list } from './definition.ts';

/** A list in sentences: which records, put together by what, what people may do with them. */
export default function ListDesk({ element, screen }: DeskProps<ListElement>) {
  const model = useModel();
  const set = useElementEdit<ListElement>(element);
  const fields = useFields(element.query.table);
  return (
    <RecordsDesk
      element={element}
      screen={screen}
      sentences={
        <>
          <RowSentence element={element} screen={screen} otherwise={<p>Each one shows {rowWords(element, model)}</p>} />
          {element.runs === 'down' && (
            <p>
              Grouped by{' '}
              <FieldChip
                name="Group by"
                value={element.by}
                fields={fields.all}
                none="nothing"
                onChange={(id) => set('by', id)}
              />
              {element.by && (
                <>
                  , with the sum of <SumChip element={element} />
                </>
              )}
            </p>
          )}
        </>
      }
      below={<DoingCard element={element} screen={screen} />}
      size={
        <>
          <ChoiceLine
            label="Runs"
            property={list.properties.runs}
            value={element.runs}
            onChange={(v) => set('runs', v)}
          />
          <ColumnsLine element={element} />
          <GapLine value={element.gap} onChange={(v) => set('gap', v)} />
        </>
      }
      look={<SurfaceLine label="Row surface" value={element.surface} onChange={(v) => set('surface', v)} />}
    />
  );
}

/** What people may do with the rows besides tapping one: swipe it, mark several, drag them into an order. */
function DoingCard({ element, screen }: DeskProps<ListElement>) {
  const model = useModel();
  const set = useElementEdit<ListElement>(element);
  const fields = useFields(element.query.table);
  const place = placeInside(model, usePlace(screen, element.id), element, 'children');
  const numbers = fields.figures.filter((f) => !f.formula);
  const ordered = element.ordered && element.query.order[0]?.by === element.ordered;
  const order = (id: string | undefined): void => {
    set('ordered', id);
    if (id)
      set('query', {
        ...element.query,
        order: [{ by: id, descending: false }, ...element.query.order.filter((o) => o.by !== id)].slice(0, 3),
      });
  };
  return (
    <section className="card sentence mb-3.5 px-4 py-3">
      {(
        [
          ['swipe', 'swipeWords', 'Swipe a row', 'Done'],
          ['several', 'severalWords', 'Select several', 'Remove'],
        ] as const
      ).map(([key, words, said, example]) => (
        <p key={key}>
          {said}:{' '}
          <ChoiceChip
            name={said}
            value={element[key] ? 'does' : 'no'}
            choices={[
              { value: 'no', label: 'off' },
              { value: 'does', label: 'on' },
            ]}
            onChange={(v) => {
              set(key, v === 'does' ? { do: 'nothing' } : undefined);
              set(words, v === 'does' ? (element[words] ?? example) : undefined);
            }}
          />
          {element[key] && (
            <>
              {', called '}
              <input
                aria-label={`Words: ${said}`}
                className="field !inline-block !h-[26px] !w-32"
                maxLength={40}
                value={element[words] ?? ''}
                placeholder={example}
                onChange={(e) => set(words, e.target.value)}
              />
              {'. '}
              <TapSentence
                tap={element[key]}
                onChange={(tap: Tap) => set(key, tap)}
                place={place}
                about={element[words] || example}
              />
            </>
          )}
        </p>
      ))}
      {element.runs === 'down' && !element.by && (
        <p>
          Dragged into an order kept in{' '}
          <FieldChip
            name="Order kept in"
            value={element.ordered}
            fields={numbers}
            none="nothing: it cannot be dragged"
            onChange={order}
          />
          {element.ordered && !ordered && ' (only while it stands in that order)'}
        </p>
      )}
    </section>
  );
}

/** The fields a row shows, in words. */
function rowWords(element: ListElement, model: ReturnType<typeof useModel>): string {
  const names: string[] = [];
  for (const id of JSON.stringify(element.children).match(/f_[a-z0-9]{6,}(?:_back)?/g) ?? []) {
    const name = model.nameOf(id);
    if (name && !names.includes(name)) names.push(name);
  }
  if (names.length === 0) return 'words of your own.';
  return `${names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names[0]}.`;
}
