import '../../core/fields/typed-texts.ts';
import type { Draft as ImmerDraft } from 'immer';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { App } from '../../core/app/schema.ts';
import { nameOfList } from '../../core/app/described.ts';
import { addFetchedTable, addPick } from '../../core/app/services.ts';
import { addScreensFor } from '../../core/app/screens-for.ts';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { shapeOfReply, typeOf } from '../../core/formats/shape-of-reply.ts';
import { nameOfPlace, pathOf } from '../../core/services/picks.ts';
import { goodSample, keepSample } from '../../core/services/samples.ts';
import type { Sample, ServiceRequest } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import type { Field, Table } from '../../core/tables/schema.ts';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { recordsAt, valueAt, type AnswerRow } from './answer-rows.ts';
import type { ChangeRequest } from './change-request.ts';

/** What can be done with something in an answer: its list becomes records, or it is picked as a value. */
export function PickCard({
  row,
  value,
  request,
  sample,
  change,
  close,
}: {
  row: AnswerRow;
  value: unknown;
  request: ServiceRequest;
  /** The answer as it would be kept with the app. */
  sample: Omit<Sample, 'id' | 'name'> | null;
  change: ChangeRequest;
  close(): void;
}) {
  const app = useApp();
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const records = recordsAt(value, row.at);
  const table = app.tables.find((t) => connected(t)?.request === request.id);
  const isPlain = row.inside === null;
  const suggested = records ? nameOfPlace(records.list) : '';
  const tableName =
    suggested === 'Answer' || suggested === 'Items' || suggested === 'Value' ? nameOfList(request.name) : suggested;

  /** What something is taken out of stands for the service when it is away. */
  const keepFirst = (a: ImmerDraft<App>): void => {
    const r = a.services?.flatMap((s) => s.requests).find((x) => x.id === request.id);
    if (r && sample && !goodSample(r)) keepSample(r as ServiceRequest, sample);
  };
  const makeTable = (): void => {
    const { list, items } = records!;
    const shape = shapeOfReply(items);
    let made: Table | null = null;
    void edit(`Made the table ${tableName} of what ${request.name} answers`, (a) => {
      keepFirst(a);
      made = addFetchedTable(a, request.id, `${pathOf(list)}[*]`, tableName, shape);
    }).then(() => {
      const { name, fields, id } = made!;
      const left = shape.leftOut.length ? ` Left out: ${shape.leftOut.join(', ')}.` : '';
      toast(`${name} are records now, with ${fields.length} fields. Lists and pages can show them.${left}`, {
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
  const addField = (): void => {
    const { within, items } = records!;
    const values = items
      .slice(0, 500)
      .map((i) => valueAt(i, within))
      .filter((v) => v !== null && v !== undefined && v !== '');
    const name = nameOfPlace(within);
    void edit(`Added the field ${name} to ${table!.name}`, (a) => {
      const t = a.tables.find((x) => x.id === table!.id)!;
      const field = {
        id: newId('f'),
        ...typeOf(values, name),
        name: freeName(
          name,
          t.fields.map((f) => f.name),
        ),
        pick: pathOf(within),
      };
      t.fields.push(field as Field);
    });
    close();
  };
  const pick = (): void => {
    const name = nameOfPlace(row.at);
    change(`Picked ${name} out of what ${request.name} answers`, (r) => {
      if (sample && !goodSample(r)) keepSample(r, sample);
      addPick(r, { name, path: row.path, ...typeOf(row.value === null ? [] : [row.value], name) } as never);
    });
    close();
  };
  const within = records?.within ?? [];
  const hasField = table?.fields.some((f) => f.pick === pathOf(within));
  return (
    <div className="px-4 py-3">
      <p className="font-mono text-xs break-all text-ink-soft">{row.path}</p>
      {isPlain && (
        <p className="mt-1 max-h-24 overflow-auto text-md break-words">
          {row.value === null ? 'nothing' : String(row.value)}
        </p>
      )}
      <div className="mt-2.5 flex flex-col items-start gap-1.5">
        {records && !table && (
          <>
            <Button look="main" onClick={makeTable}>
              Use its {records.items.length} as records
            </Button>
            <p className="text-sm text-ink-soft">
              They become the table {tableName}, whose fields you can rename. Lists, pages and links show it like your
              own.
            </p>
          </>
        )}
        {records && table && isPlain && within.length > 0 && !hasField && (
          <Button look="main" onClick={addField}>
            Add it as a field of {table.name}
          </Button>
        )}
        {records && table && (hasField || !isPlain) && (
          <p className="text-sm text-ink-soft">
            {hasField ? `It is a field of ${table.name} already.` : `The records are the table ${table.name}.`}
          </p>
        )}
        {isPlain && (
          <Button onClick={pick} {...(!records && { look: 'main' as const })}>
            Pick this one value
          </Button>
        )}
        {!isPlain && !records && (
          <p className="text-sm text-ink-soft">Open it and choose a value in it, or a list of records.</p>
        )}
      </div>
    </div>
  );
}
