import { Table2, X } from 'lucide-react';
import { Link } from 'react-router';
import { VARIABLE_KINDS, type VariableKind } from '../../core/app/variables.ts';
import { removedBy, writesBy } from '../../core/app/services.ts';
import { freeName } from '../../core/document/names.ts';
import type { ServiceRequest } from '../../core/services/schema.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import type { ChangeRequest } from './change-request.ts';

const KINDS: readonly VariableKind[] = [
  'text',
  'number',
  'yesno',
  'date',
  'time',
  'datetime',
  'money',
  'percent',
  'longtext',
  'picture',
];
const FRESH = [0, 10, 60, 300, 3600, 86_400];
const span = (s: number): string =>
  s === 0
    ? 'never: it is fetched at each opening'
    : s < 60
      ? `for ${s} seconds`
      : s < 3600
        ? s === 60
          ? 'for a minute'
          : `for ${s / 60} minutes`
        : s === 3600
          ? 'for an hour'
          : 'for a day';

/** What is taken out of the answers of a request: records of a table, and single values. */
export function TakenFrom({ request, change }: { request: ServiceRequest; change: ChangeRequest }) {
  const app = useApp();
  const home = useHome();
  const edit = useEdit();
  const tables = app.tables.filter((t) => {
    const { fetched: f } = t;
    return (
      f && [f.request, f.one?.request, f.adds?.request, f.changes?.request, f.removes?.request].includes(request.id)
    );
  });
  if (tables.length + request.picks.length === 0) return null;
  const changeTable = (id: string, label: string, recipe: (t: Table) => void): void =>
    void edit(label, (a) => recipe(a.tables.find((t) => t.id === id)! as Table));
  return (
    <section aria-label="What is taken out of the answer" className="card sentence mb-3.5 px-5 py-3">
      {tables.map((t) => (
        <p key={t.id}>
          {t.fetched!.request === request.id ? (
            <>
              Its records are{' '}
              <Link to={`${home}/data/${t.id}`} className="font-semibold text-kelp hover:underline">
                <Table2 size={14} className="mr-1 inline align-[-2px]" aria-hidden />
                {t.name}
              </Link>
              , told apart by{' '}
              <ChoiceChip
                name={`Key of ${t.name}`}
                tone="data"
                value={t.fetched!.key}
                choices={t.fields.filter((f) => f.pick).map((f) => ({ value: f.id, label: f.name }))}
                onChange={(key) =>
                  changeTable(t.id, `${t.name} are told apart by another field`, (x) => void (x.fetched!.key = key))
                }
              />
              . An answer counts as fresh{' '}
              <ChoiceChip
                name={`How long ${t.name} are fresh`}
                value={String(t.fetched!.fresh)}
                choices={[...new Set([...FRESH, t.fetched!.fresh])].map((s) => ({ value: String(s), label: span(s) }))}
                onChange={(s) =>
                  changeTable(t.id, `${t.name} are fresh for another time`, (x) => void (x.fetched!.fresh = Number(s)))
                }
              />
              . A single one is asked for by <OneChip table={t} change={changeTable} />, a new one added by{' '}
              <WritesChip table={t} part="adds" change={changeTable} />, one changed by{' '}
              <WritesChip table={t} part="changes" change={changeTable} />, and one removed by{' '}
              <RemovesChip table={t} change={changeTable} />.
              {(t.fetched!.adds ?? t.fetched!.changes) && (
                <>
                  {' '}
                  Without a network what is saved <WaitsChip table={t} change={changeTable} />.
                </>
              )}
            </>
          ) : (
            <>
              {t.fetched!.one?.request === request.id
                ? 'It answers a single one of '
                : t.fetched!.adds?.request === request.id
                  ? 'Forms for a new one ask it: '
                  : t.fetched!.changes?.request === request.id
                    ? 'Forms that change one ask it: '
                    : 'Removing one asks it: '}
              <Link to={`${home}/data/${t.id}`} className="font-semibold text-kelp hover:underline">
                {t.name}
              </Link>
              .
            </>
          )}
        </p>
      ))}
      {request.picks.map((p) => (
        <p key={p.id}>
          Picks{' '}
          <b className="font-semibold text-ink">
            <NameField
              value={p.name}
              label="Name of the pick"
              onChange={(n) =>
                change(`Renamed ${p.name} to ${n}`, (r) => {
                  r.picks.find((x) => x.id === p.id)!.name = freeName(
                    n,
                    r.picks.flatMap((x) => (x.id === p.id ? [] : [x.name])),
                  );
                })
              }
            />
          </b>
          ,{' '}
          <ChoiceChip
            name={`Kind of ${p.name}`}
            value={p.type as VariableKind}
            choices={KINDS.map((value) => ({ value, label: VARIABLE_KINDS[value] }))}
            onChange={(type) =>
              change(`${p.name} is ${VARIABLE_KINDS[type]}`, (r) => {
                r.picks.find((x) => x.id === p.id)!.type = type as typeof p.type;
              })
            }
          />
          , at <code className="rounded bg-sunk px-1 font-mono text-xs">{p.path}</code>{' '}
          <IconButton
            icon={X}
            size={14}
            className="!inline-grid align-middle"
            label={`Remove the pick ${p.name}`}
            onClick={() =>
              change(`Removed the pick ${p.name}`, (r) => {
                r.picks = r.picks.filter((x) => x.id !== p.id);
              })
            }
          />
        </p>
      ))}
    </section>
  );
}

/** The request that answers one record of a table. */
function OneChip({
  table,
  change,
}: {
  table: Table;
  change(id: string, label: string, recipe: (t: Table) => void): void;
}) {
  const app = useApp();
  const requests = (app.services ?? [])
    .filter((s) => s.requests.some((r) => r.id === table.fetched!.request))
    .flatMap((s) =>
      s.requests.filter((r) => r.id !== table.fetched!.request && r.inputs.length > 0 && r.method === 'GET'),
    );
  const value = requests.find((r) => r.id === table.fetched!.one?.request)?.id ?? '';
  return (
    <ChoiceChip
      name={`Request for one of ${table.name}`}
      value={value}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(table.id, `Another request answers one of ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) t.fetched!.one = { request: id, input: request.inputs[0]!.id, at: '$' };
          else delete t.fetched!.one;
        })
      }
    />
  );
}

type ChangeTable = (id: string, label: string, recipe: (t: Table) => void) => void;

/** What becomes of a form that is saved without a network. */
function WaitsChip({ table, change }: { table: Table; change: ChangeTable }) {
  const { adds, changes } = table.fetched!;
  return (
    <ChoiceChip
      name={`${table.name} without a network`}
      value={(adds ?? changes)!.waits ? 'waits' : 'stays'}
      choices={[
        { value: 'stays', label: 'is not taken, and says so' },
        { value: 'waits', label: 'waits on the phone until it can be sent' },
      ]}
      onChange={(how) =>
        change(table.id, `${table.name} ${how === 'waits' ? 'wait' : 'do not wait'} for a network`, (t) => {
          for (const part of ['adds', 'changes'] as const) {
            const writes = t.fetched![part];
            if (writes && how === 'waits') writes.waits = true;
            else delete writes?.waits;
          }
        })
      }
    />
  );
}

/** The request that removes a record of a table. */
function RemovesChip({ table, change }: { table: Table; change: ChangeTable }) {
  const app = useApp();
  const requests = (app.services ?? []).flatMap((s) =>
    s.requests.filter((r) => r.inputs.length > 0 && r.method !== 'GET'),
  );
  return (
    <ChoiceChip
      name={`Request that removes one of ${table.name}`}
      value={table.fetched!.removes?.request ?? ''}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(table.id, `Another request removes one of ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) t.fetched!.removes = removedBy(request);
          else delete t.fetched!.removes;
        })
      }
    />
  );
}

/** The request by which forms add a record of a table, or change one. */
function WritesChip({
  table,
  part,
  change,
}: {
  table: Table;
  part: 'adds' | 'changes';
  change(id: string, label: string, recipe: (t: Table) => void): void;
}) {
  const app = useApp();
  const requests = (app.services ?? []).flatMap((s) =>
    s.requests.filter((r) => r.inputs.length > 0 && r.method !== 'GET' && r.method !== 'DELETE'),
  );
  const value = table.fetched![part]?.request ?? '';
  return (
    <ChoiceChip
      name={part === 'adds' ? `Request that adds to ${table.name}` : `Request that changes ${table.name}`}
      value={value}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(table.id, `Another request ${part === 'adds' ? 'adds to' : 'changes'} ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) t.fetched![part] = writesBy(t, request, { adds: part === 'adds', at: '$' });
          else delete t.fetched![part];
        })
      }
    />
  );
}
