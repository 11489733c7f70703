import '../../core/fields/typed-texts.ts';
import { addPick } from '../../core/app/services.ts';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { typeOf } from '../../core/formats/shape-of-reply.ts';
import { nameOfPlace, pathOf } from '../../core/services/picks.ts';
import { goodSample, keepSample } from '../../core/services/samples.ts';
import type { Sample, ServiceRequest } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import type { Field } from '../../core/tables/schema.ts';
import { useApp, useEdit } from '../state/studio.ts';
import { Button } from '../ui/controls.tsx';
import { recordsAt, valueAt, type AnswerRow } from './answer-rows.ts';
import type { ChangeRequest } from './change-request.ts';
import { tableNameFor, type ListInAnswer } from './ReviewRecords.tsx';

/** What can be done with something in an answer: its list becomes records, or it is picked as a value. */
export function PickCard({
  row,
  value,
  request,
  sample,
  change,
  review,
  close,
}: {
  row: AnswerRow;
  value: unknown;
  request: ServiceRequest;
  /** The answer as it would be kept with the app. */
  sample: Omit<Sample, 'id' | 'name'> | null;
  change: ChangeRequest;
  /** Shows what would become of a list, before it becomes a table. */
  review(records: ListInAnswer): void;
  close(): void;
}) {
  const app = useApp();
  const edit = useEdit();
  const records = recordsAt(value, row.at);
  const table = app.tables.find((t) => connected(t)?.request === request.id);
  const isPlain = row.inside === null;
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
            <Button
              look="main"
              onClick={() => {
                review(records);
                close();
              }}
            >
              Use its {records.items.length} as records
            </Button>
            <p className="text-sm text-ink-soft">
              They become the table {tableNameFor(records.list, request)}, once you have looked them over. Lists, pages
              and links show it like your own.
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
