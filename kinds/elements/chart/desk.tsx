import type { Element } from '../../../core/app/schema.ts';
import { allOf, noConditions } from '../../../core/document/queries.ts';
import { fieldKind } from '../../../core/fields/kinds.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { RecordsChip } from '../../../studio/chips/RecordsChip.tsx';
import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { SizeAndLook, type DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { usePlace } from '../../../studio/screens/places.ts';
import { choicesOf } from '../../../studio/screens/properties.ts';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';
import { useApp } from '../../../studio/state/studio.ts';
import { chart } from './definition.ts';
import { ChoiceLine } from '../../../studio/screens/ChoiceLine.tsx';

type ChartElement = Extract<Element, { kind: 'chart' }>;

/** A chart in a sentence: which figure, of what, of which records, put together by what. */
export default function ChartDesk({ element, screen }: DeskProps<ChartElement>) {
  const app = useApp();
  const set = useElementEdit<ChartElement>(element);
  const place = usePlace(screen, element.id);
  const { query, figure, look } = element;
  const table = app.tables.find((t) => t.id === query.table);
  const fields = table?.fields ?? [];
  const measured = fields.filter((f) => figure === 'filled' || isMeasure(f.type));
  const choose = (id: string, via: string | undefined): void => {
    const isSame = id === query.table;
    if (!isSame) {
      set('by', undefined);
      set('of', undefined);
    }
    set('query', { ...allOf(id), via, where: isSame ? query.where : noConditions() });
  };
  return (
    <>
      <section className="card sentence mb-3.5 px-4 py-3">
        <div className="flex items-start gap-2">
          <span className="shrink-0">Under the title</span>
          <span className="max-w-72 flex-1">
            <WordsField name="Title" value={element.title} onChange={(v) => set('title', v)} place={place} />
          </span>
        </div>
        <p>
          it shows{' '}
          <ChoiceChip
            name="Figure"
            value={figure}
            choices={choicesOf(chart.properties.figure)}
            onChange={(v) => set('figure', v)}
          />
          {figure !== 'count' && (
            <>
              {' of '}
              <ChoiceChip
                name="What is measured"
                tone="data"
                value={element.of ?? null}
                empty="choose a field"
                choices={measured.map((f) => ({ value: f.id, label: f.name }))}
                onChange={(v) => set('of', v)}
              />
            </>
          )}
          {' for '}
          <RecordsChip query={query} place={place} onChange={choose} />{' '}
          <WhereSentence
            grouped
            where={query.where}
            onChange={(where) => set('query', { ...query, where })}
            place={{ self: query.table, things: place.things }}
          />
        </p>
        {look !== 'number' && (
          <p>
            grouped by{' '}
            <ChoiceChip
              name="Group by"
              tone="data"
              value={element.by ?? null}
              empty="choose a field"
              choices={fields.map((f) => ({ value: f.id, label: f.name }))}
              onChange={(v) => set('by', v)}
            />
          </p>
        )}
      </section>
      <SizeAndLook element={element} screen={screen}>
        <ChoiceLine label="Look" property={chart.properties.look} value={look} onChange={(v) => set('look', v)} />
      </SizeAndLook>
    </>
  );
}

/** Numbers and durations can be summed; a formula field may give either. */
const isMeasure = (type: Parameters<typeof fieldKind>[0]): boolean =>
  type === 'formula' || type === 'duration' || fieldKind(type).range !== undefined || type === 'rating';
