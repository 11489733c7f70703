import { aOrAn } from '../../../core/document/names.ts';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { CirclePlus, Gauge, Rows3, X } from 'lucide-react';
import { useNavigate } from 'react-router';
import { rowFor } from '../../../core/app/generate-screens.ts';
import { ElementMaker } from '../../../core/app/make.ts';
import type { ListElement } from '../../../core/app/schema.ts';
import type { Query } from '../../../core/document/pieces.ts';
import { noConditions } from '../../../core/document/queries.ts';
import { compile } from '../../../core/formula/compile.ts';
import { ChoiceChip } from '../../../studio/chips/ChoiceChip.tsx';
import { ValueChip } from '../../../studio/chips/ValueChip.tsx';
import { WhereSentence } from '../../../studio/chips/WhereSentence.tsx';
import { WordsField } from '../../../studio/chips/WordsField.tsx';
import { RecordsChip } from '../../../studio/chips/RecordsChip.tsx';
import { useModel } from '../../../studio/state/model.ts';
import { usePhone } from '../../../studio/state/phone.ts';
import { useApp, useEngine, useStudio } from '../../../studio/state/studio.ts';
import { useRevisions } from '../../../studio/state/revisions.ts';
import { Note } from '../../../studio/ui/controls.tsx';
import { ListLook } from '../../../studio/screens/BoxControls.tsx';
import { placeInside, usePlace } from '../../../studio/screens/places.ts';
import type { DeskProps } from '../../../studio/screens/ElementFrame.tsx';
import { TapSentence } from '../../../studio/screens/TapSentence.tsx';
import { useElementEdit } from '../../../studio/screens/useElementEdit.ts';

const LIMITS = [null, 3, 5, 10, 20, 50, 100].map((n) => ({
  value: n,
  label: n === null ? 'all of them' : `the first ${n}`,
}));

/** A list in sentences: which records, in what order, how many, what a tap does. */
export default function ListDesk({ element, screen }: DeskProps<ListElement>) {
  const app = useApp();
  const model = useModel();
  const engine = useEngine();
  const navigate = useNavigate();
  const revision = useRevisions((s) => s.revision);
  const kept = useStudio((s) => s.kept);
  const place = usePhone((s) => s.place);
  const set = useElementEdit<ListElement>(element);
  const { query } = element;
  const table = app.tables.find((t) => t.id === query.table);
  const outer = usePlace(screen, element.id);
  const inQuery = { self: query.table, things: outer.things };
  const inRow = placeInside(model, outer, element, 'children');
  const setQuery = (change: Partial<Query>): void => set('query', { ...query, ...change });
  const record = place?.screen === screen.id ? place.record : null;
  const { data: figures } = useQuery({
    queryKey: ['figures', element.id, query, record, revision],
    queryFn: () => engine.queryFigures(query, screen.id, record),
    placeholderData: keepPreviousData,
  });

  const choose = (id: string, via: string | undefined): void => {
    const sameTable = id === query.table;
    setQuery({ table: id, via, ...(!sameTable && { where: noConditions(), order: [] }) });
    const t = app.tables.find((x) => x.id === id);
    if (!sameTable && t) {
      set('children', [rowFor(t, new ElementMaker())]);
      set('tap', { do: 'nothing' });
    }
  };
  return (
    <>
      <section className="card mb-3.5 px-4 pt-3 pb-2.5">
        <div className="sentence">
          <p>
            Shows records of <RecordsChip query={query} place={outer} onChange={choose} />{' '}
            <WhereSentence where={query.where} onChange={(where) => setQuery({ where })} place={inQuery} grouped />
          </p>
          <p>
            {query.order.length === 0
              ? 'in the order they came in'
              : query.order.map((o, i) => (
                  <span key={i}>
                    {i > 0 ? ', then ' : 'in the order of '}
                    <ValueChip
                      name="Order"
                      value={o.by}
                      empty="choose a field"
                      literals={false}
                      place={inQuery}
                      onChange={(by) => setQuery({ order: query.order.map((x, k) => (k === i ? { ...x, by } : x)) })}
                    />
                    {', '}
                    <ChoiceChip
                      name="Direction"
                      value={o.descending}
                      choices={directions(compileType(model, query.table, o.by))}
                      onChange={(descending) =>
                        setQuery({ order: query.order.map((x, k) => (k === i ? { ...x, descending } : x)) })
                      }
                    />
                    <button
                      type="button"
                      aria-label="Remove this order"
                      onClick={() => setQuery({ order: query.order.filter((_, k) => k !== i) })}
                      className="ml-0.5 inline-grid size-5 place-items-center rounded align-middle text-ink-faint hover:bg-sunk"
                    >
                      <X size={12} aria-hidden />
                    </button>
                  </span>
                ))}
            {query.order.length < 3 && (
              <button
                type="button"
                aria-label="Add an order"
                onClick={() =>
                  setQuery({ order: [...query.order, { by: table?.titleField ?? '', descending: false }] })
                }
                className="mx-1 inline-grid size-5 place-items-center rounded-full align-middle text-ink-soft hover:bg-sunk"
              >
                <CirclePlus size={15} aria-hidden />
              </button>
            )}
            ,{' '}
            <ChoiceChip
              name="How many"
              value={query.limit}
              choices={LIMITS}
              onChange={(limit) => setQuery({ limit })}
            />
          </p>
          <p>Each one shows {rowWords(element, model)}</p>
          <p>
            <TapSentence
              tap={element.tap}
              onChange={(tap) => set('tap', tap)}
              place={inRow}
              about={`Tap on ${aOrAn(table?.one ?? 'record')}`}
            />
          </p>
          <div className="flex items-start gap-2">
            <span className="shrink-0">When there are none, say</span>
            <span className="max-w-96 flex-1">
              <WordsField
                name="Words for an empty list"
                value={element.empty}
                onChange={(v) => set('empty', v)}
                place={outer}
                placeholder="Nothing here yet."
              />
            </span>
          </div>
        </div>
        {figures && (
          <div className="mt-2 flex items-center gap-5 border-t border-dashed border-line-strong pt-2 text-ink-soft">
            <span className="flex items-center gap-1.5">
              <Rows3 size={14} aria-hidden /> {figures.shown.toLocaleString('en-GB')} of{' '}
              {figures.of.toLocaleString('en-GB')} records
            </span>
            <span className="flex items-center gap-1.5">
              <Gauge size={14} aria-hidden /> {figures.ms.toFixed(1)} ms
            </span>
            <button
              type="button"
              className="ml-auto font-semibold text-kelp hover:underline"
              onClick={() => void navigate(`/app/${kept!.id}/data/${query.table}`)}
            >
              See the records
            </button>
          </div>
        )}
      </section>
      <ListLook element={element} screen={screen} />
      {!element.empty.trim() && (
        <div className="mt-3.5">
          <Note>
            <b className="font-semibold">Words for an empty list are missing.</b> Someone without{' '}
            {table?.name.toLowerCase()} would see a blank place.
          </Note>
        </div>
      )}
      {element.children.length === 0 && (
        <div className="mt-3.5">
          <Note
            action={
              <button
                type="button"
                className="font-semibold text-saffron hover:underline"
                onClick={() => table && set('children', [rowFor(table, new ElementMaker())])}
              >
                Make a row for it
              </button>
            }
          >
            <b className="font-semibold">Its rows show nothing yet.</b> Add texts and pictures inside the list.
          </Note>
        </div>
      )}
    </>
  );
}

/** The type of what a list is ordered by. */
function compileType(model: ReturnType<typeof useModel>, table: string, by: string): string {
  return by ? compile(by, model.optionsFor(table)).type.k : 'text';
}

/** What the two directions are called for a type. */
function directions(type: string): { value: boolean; label: string }[] {
  const [up, down] =
    type === 'text' || type === 'record'
      ? ['A to Z', 'Z to A']
      : type === 'date' || type === 'datetime'
        ? ['earliest first', 'latest first']
        : type === 'boolean'
          ? ['no first', 'yes first']
          : ['lowest first', 'highest first'];
  return [
    { value: false, label: up! },
    { value: true, label: down! },
  ];
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
