import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { useNavigate } from 'react-router';
import { nameOfList } from '../../core/app/described.ts';
import { addFetchedTable } from '../../core/app/services.ts';
import { addScreensFor } from '../../core/app/screens-for.ts';
import type { ColumnType } from '../../core/formats/infer.ts';
import { asTaken, keptShape, retyped, type ReviewedReply } from '../../core/formats/reviewed-reply.ts';
import { shapeOfReply } from '../../core/formats/shape-of-reply.ts';
import { onDevice } from '../../core/formula/wall-clock.ts';
import { nameOfPlace, pathOf, type Location } from '../../core/services/picks.ts';
import { goodSample, keepSample } from '../../core/services/samples.ts';
import type { Sample, ServiceRequest } from '../../core/services/schema.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ReviewedColumns } from '../bring/ReviewedColumns.tsx';
import { counted } from '../bring/counted.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useEdit, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';

/** A list in an answer, of which records are to be made. */
export interface ListInAnswer {
  list: Location;
  items: readonly unknown[];
}

const NO_NAMES = new Set(['Answer', 'Items', 'Value', 'Data', 'Results']);

/** What a table is called that is made of a list in an answer. */
export function tableNameFor(list: Location, request: ServiceRequest): string {
  const name = nameOfPlace(list);
  return NO_NAMES.has(name) ? nameOfList(request.name) : name;
}

/** The records of a list as they will be, with names, types and key to correct, before they become a table. */
export function ReviewRecords({
  of: { list, items },
  request,
  sample,
  close,
}: {
  of: ListInAnswer;
  request: ServiceRequest;
  /** The answer as it would be kept with the app. */
  sample: Omit<Sample, 'id' | 'name'> | null;
  close(): void;
}) {
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const [reviewed, setReviewed] = useState<ReviewedReply>(() => ({
    name: tableNameFor(list, request),
    shape: shapeOfReply(items),
    left: [],
  }));
  const { shape, left, name } = reviewed;
  const seen = useMemo(() => asTaken(reviewed, items, { toLocal: onDevice }), [reviewed, items]);
  const key = shape.fields.find((f) => f.id === shape.key);
  const change = (at: number, to: { name: string } | { skip: true } | { type: ColumnType; skip: false }): void => {
    const { id } = shape.fields[at]!;
    if ('name' in to)
      setReviewed({
        ...reviewed,
        shape: { ...shape, fields: shape.fields.map((f) => (f.id === id ? { ...f, name: to.name } : f)) },
      });
    else if (to.skip) setReviewed({ ...reviewed, left: [...left, id] });
    else setReviewed(retyped({ ...reviewed, left: left.filter((x) => x !== id) }, id, to.type, items));
  };
  const make = (): void => {
    let made: Table | null = null;
    void edit(`Made the table ${name} of what ${request.name} answers`, (a) => {
      // What something is taken out of stands for the service when it is away.
      const r = a.services?.flatMap((s) => s.requests).find((x) => x.id === request.id);
      if (r && sample && !goodSample(r)) keepSample(r as ServiceRequest, sample);
      made = addFetchedTable(a, request.id, `${pathOf(list)}[*]`, name, keptShape(reviewed));
    }).then(() => {
      const { id } = made!;
      toast(`${made!.name} are records now, with ${counted(made!.fields.length, 'field', 'fields')}.`, {
        action: {
          label: 'Make screens for it',
          onClick: () => {
            let first = '';
            void edit(`Made screens for ${name}`, (a) => {
              first = addScreensFor(a, id)[0]?.id ?? '';
            }).then(() => navigate(`${home}/screens/${first}`));
          },
        },
      });
    });
    close();
  };
  const notes = [
    ...seen.notes,
    ...(shape.leftOut.length ? [`Not taken over: ${shape.leftOut.join(', ')}.`] : []),
    ...(key ? [] : ['Nothing in them tells them apart, so they cannot become records.']),
  ];
  return (
    <section aria-label="Records to be made">
      <div className="flex items-baseline gap-3 px-5 pt-3 pb-2">
        <h2 className="min-w-0 shrink text-[17px]">
          <NameField label="Name of the table" value={name} onChange={(n) => setReviewed({ ...reviewed, name: n })} />
        </h2>
        <span className="min-w-0 flex-1 truncate text-ink-soft">
          {counted(seen.count, 'record', 'records')}, told apart by{' '}
          <ChoiceChip
            name="Key"
            tone="data"
            value={shape.key}
            choices={shape.fields.map((f) => ({ value: f.id, label: f.name }))}
            onChange={(to) =>
              setReviewed({ ...reviewed, left: left.filter((x) => x !== to), shape: { ...shape, key: to } })
            }
          />
        </span>
        <Button small onClick={close}>
          Back to the answer
        </Button>
        <Button small look="main" disabled={!key || seen.count === 0} onClick={make}>
          Make the table
        </Button>
      </div>
      {notes.map((n) => (
        <p key={n} className="px-5 pb-1.5 text-sm text-saffron">
          {n}
        </p>
      ))}
      <ReviewedColumns
        columns={shape.fields.map((f) => ({
          name: f.name,
          type: f.type as ColumnType,
          skip: left.includes(f.id) && f.id !== shape.key,
        }))}
        rows={seen.rows.map((r) => r.map((v) => ({ text: v.text, misfit: !v.fits })))}
        change={change}
      />
    </section>
  );
}
