import { CirclePlus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { rowFor } from '../../core/app/generate-screens.ts';
import { ElementMaker } from '../../core/app/make.ts';
import type { Element, Screen } from '../../core/app/schema.ts';
import { showAs, SHOWN_AS, type ShownAs } from '../../core/app/shown-as.ts';
import { ownerField } from '../../core/app/people.ts';
import { aOrAn } from '../../core/document/names.ts';
import type { Query } from '../../core/document/pieces.ts';
import { noConditions } from '../../core/document/queries.ts';
import { compile } from '../../core/formula/compile.ts';
import { filterAs } from '../../core/records/narrow.ts';
import type { Model } from '../../core/records/model.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { AsksSentence } from '../chips/AsksSentence.tsx';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { LimitChip } from '../chips/LimitChip.tsx';
import { RecordsChip } from '../chips/RecordsChip.tsx';
import { ValueChip } from '../chips/ValueChip.tsx';
import { WhereSentence } from '../chips/WhereSentence.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useModel } from '../state/model.ts';
import { useApp, useStudio } from '../state/studio.ts';
import { Line, Note, Segmented } from '../ui/controls.tsx';
import { FieldChip, FieldChips } from './FieldChips.tsx';
import { NoneButton } from './NoneButton.tsx';
import { placeInside, usePlace } from './places.ts';
import { QueryFigures } from './QueryFigures.tsx';
import { TapSentence } from './TapSentence.tsx';
import { useElementEdit } from './useElementEdit.ts';

/** An element that shows the records of a query. */
export type RecordsElement = Extract<Element, { kind: ShownAs }>;

/** Properties that name fields of the table: with another table they mean nothing. */
const OF_TABLE = ['at', 'by', 'until', 'sum', 'filters', 'columns', 'ordered', 'swipe', 'several'] as const;

/** Which records an element shows, in what order, how many, what a tap does; what its kind adds stands between. */
export function RecordsCard({
  element,
  screen,
  order = true,
  children,
}: {
  element: RecordsElement;
  screen: Screen;
  /** Its records have an order that is seen. */
  order?: boolean;
  children?: ReactNode;
}) {
  const app = useApp();
  const model = useModel();
  const edit = useStudio((s) => s.edit);
  const set = useElementEdit<RecordsElement>(element);
  const { query } = element;
  const table = app.tables.find((t) => t.id === query.table);
  const outer = usePlace(screen, element.id);
  const inQuery = { self: query.table, things: outer.things };
  const inRow = placeInside(model, outer, element, 'children');
  const setQuery = (change: Partial<Query>): void => set('query', { ...query, ...change });
  const make = (): ElementMaker => new ElementMaker(undefined, rowFor);

  const owner = table && !query.via ? ownerField(app, table) : undefined;
  const mine = query.where.conditions.findIndex((c) => c.left === owner?.id && c.op === 'is' && c.right === 'person()');
  const limit = <LimitChip limit={query.limit} place={outer} onChange={(limit) => setQuery({ limit })} />;
  const choose = (id: string, via: string | undefined): void => {
    const sameTable = id === query.table;
    setQuery({ table: id, via, ...(!sameTable && { where: noConditions(), order: [], asks: undefined }) });
    const t = app.tables.find((x) => x.id === id);
    if (sameTable || !t) return;
    const begun = make().make(element.kind, {}, { tables: app.tables, table: t }) as unknown as Record<string, unknown>;
    const setAny = set as (key: string, value: unknown) => void;
    const { properties } = elementKinds.get(element.kind)!;
    for (const key of [...OF_TABLE, 'children', 'tap']) if (properties[key]) setAny(key, begun[key]);
  };
  const become = (kind: ShownAs): void =>
    void edit(`Showed ${table?.name ?? 'records'} as ${aOrAn(kind)}`, (a) =>
      showAs(a as typeof app, element.id, kind, make()),
    );
  return (
    <section className="card mb-3.5 px-4 pt-3 pb-2.5">
      <div className="mb-2 max-w-96">
        <Segmented
          label="Shown as"
          value={element.kind}
          options={SHOWN_AS.map((k) => [k, k === 'plan' ? 'Plan' : elementKinds.get(k)!.said.name])}
          onChange={become}
        />
      </div>
      <div className="sentence">
        <p>
          Shows{' '}
          {owner && (
            <ChoiceChip
              name="Whose"
              value={mine >= 0}
              choices={[
                { value: false, label: 'all' },
                { value: true, label: 'only my own', hint: owner.name },
              ]}
              onChange={(v) =>
                setQuery({
                  where: {
                    ...query.where,
                    conditions: v
                      ? [...query.where.conditions, { left: owner.id, op: 'is', right: 'person()' }]
                      : query.where.conditions.filter((_, i) => i !== mine),
                  },
                })
              }
            />
          )}{' '}
          records of <RecordsChip query={query} place={outer} onChange={choose} />{' '}
          <WhereSentence where={query.where} onChange={(where) => setQuery({ where })} place={inQuery} grouped />
          {!order && <>, {limit}</>}
        </p>
        {order && (
          <p>
            <OrderSentence query={query} table={table} place={inQuery} model={model} onChange={setQuery} />, {limit}
          </p>
        )}
        <AsksSentence
          query={query}
          place={outer}
          searches={'search' in element && element.search}
          onChange={(next) => set('query', next)}
        />
        {children}
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
            <NoneButton element={element} screen={screen} />
          </span>
        </div>
      </div>
      <QueryFigures of={element.id} query={query} screen={screen} />
    </section>
  );
}

/** By what records are ordered, each with its direction. */
function OrderSentence({
  query,
  table,
  place,
  model,
  onChange,
}: {
  query: Query;
  table: Table | undefined;
  place: Parameters<typeof ValueChip>[0]['place'];
  model: Model;
  onChange(change: Partial<Query>): void;
}) {
  return (
    <>
      {query.order.length === 0
        ? 'sorted as they were added'
        : query.order.map((o, i) => (
            <span key={i}>
              {i > 0 ? ', then ' : 'sorted by '}
              <ValueChip
                name="Sort by"
                value={o.by}
                empty="choose a field"
                literals={false}
                place={place}
                onChange={(by) => onChange({ order: query.order.map((x, k) => (k === i ? { ...x, by } : x)) })}
              />
              {', '}
              <ChoiceChip
                name="Direction"
                value={o.descending}
                choices={directions(o.by ? compile(o.by, model.optionsFor(query.table)).type.k : 'text')}
                onChange={(descending) =>
                  onChange({ order: query.order.map((x, k) => (k === i ? { ...x, descending } : x)) })
                }
              />
              <button
                type="button"
                aria-label="Do not sort by this"
                onClick={() => onChange({ order: query.order.filter((_, k) => k !== i) })}
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
          onClick={() => onChange({ order: [...query.order, { by: table?.titleField ?? '', descending: false }] })}
          className="mx-1 inline-grid size-5 place-items-center rounded-full align-middle text-ink-soft hover:bg-sunk"
        >
          <CirclePlus size={15} aria-hidden />
        </button>
      )}
    </>
  );
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

/** The fields of a table that are of some use here. */
export function useFields(table: string): {
  all: readonly Field[];
  filterable: readonly Field[];
  days: readonly Field[];
  figures: readonly Field[];
} {
  const app = useApp();
  const model = useModel();
  const all = app.tables.find((t) => t.id === table)?.fields ?? [];
  const typeOf = (f: Field): string => model.member(table, f.id)?.type.k ?? 'any';
  return {
    all,
    filterable: all.filter((f) => {
      const type = model.member(table, f.id)?.type;
      return type && filterAs(f, type);
    }),
    days: all.filter((f) => ['date', 'datetime'].includes(typeOf(f))),
    figures: all.filter((f) => ['number', 'days'].includes(typeOf(f))),
  };
}

/** The field whose sum is told, within a sentence. */
export function SumChip({ element }: { element: Extract<RecordsElement, { kind: 'list' | 'board' | 'table' }> }) {
  const set = useElementEdit<typeof element>(element);
  const { figures } = useFields(element.query.table);
  return <FieldChip name="Sum" value={element.sum} fields={figures} none="nothing" onChange={(id) => set('sum', id)} />;
}

/** Which fields people may filter by. */
export function FiltersSentence({ element }: { element: RecordsElement }) {
  const set = useElementEdit<RecordsElement>(element);
  const { filterable } = useFields(element.query.table);
  const filters = element.filters ?? [];
  return (
    <p>
      People filter by{' '}
      <FieldChips
        name="Filters"
        value={filters}
        fields={filterable}
        add={filters.length ? 'one more' : 'nothing'}
        onChange={(ids) => set('filters', ids.length ? ids : undefined)}
      />
    </p>
  );
}

export function SearchLine({ element }: { element: Exclude<RecordsElement, { kind: 'plan' }> }) {
  const set = useElementEdit<typeof element>(element);
  return (
    <Line label="Search box">
      <ChoiceChip
        name="Search box"
        value={element.search}
        choices={[
          { value: true, label: 'above it' },
          { value: false, label: 'none' },
        ]}
        onChange={(v) => set('search', v)}
      />
    </Line>
  );
}

/** Says that words for emptiness or a row are missing, and offers the row. */
export function RecordsNotes({ element, rows = 'rows' }: { element: RecordsElement; rows?: string }) {
  const app = useApp();
  const set = useElementEdit<RecordsElement>(element);
  const table = app.tables.find((t) => t.id === element.query.table);
  return (
    <>
      {!element.empty.trim() && (
        <div className="mt-3.5">
          <Note>
            <b className="font-semibold">Words for an empty list are missing.</b> Someone without{' '}
            {table?.name.toLowerCase()} would see a blank place.
          </Note>
        </div>
      )}
      {element.kind !== 'table' && element.children.length === 0 && (
        <div className="mt-3.5">
          <Note
            action={
              <button
                type="button"
                className="font-semibold text-saffron hover:underline"
                onClick={() => table && set('children', [rowFor(table, new ElementMaker())])}
              >
                Make one
              </button>
            }
          >
            <b className="font-semibold">Its {rows} show nothing yet.</b> Add texts and pictures inside.
          </Note>
        </div>
      )}
    </>
  );
}
