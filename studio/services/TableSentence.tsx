import '../../core/fields/typed-texts.ts';
import { Table2 } from 'lucide-react';
import { Link } from 'react-router';
import { fetchWhenShown, keepInStep, requestWithService } from '../../core/app/services.ts';
import { typedCell } from '../../core/records/cells.ts';
import type { ServiceRequest } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { TextBox } from '../ui/TypedBox.tsx';
import { OneChip, RemovesChip, WaitsChip, WritesChip, type ChangeTable } from './RequestChips.tsx';

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

/** After how many minutes what is kept in step is fetched again. */
const EVERY = [0, 5, 15, 60, 1440];
const everyWords = (minutes: number): string =>
  minutes === 0
    ? 'kept in the app, fetched when you say so'
    : minutes === 60
      ? 'kept in the app, fetched every hour'
      : minutes === 1440
        ? 'kept in the app, fetched every day'
        : `kept in the app, fetched every ${minutes} minutes`;
const SHOWN = 'shown';

/** What a request has to do with a table: its records are what it lists, or it answers or writes one of them. */
export function TableSentence({ table, request }: { table: Table; request: ServiceRequest }) {
  const home = useHome();
  const edit = useEdit();
  const change: ChangeTable = (label, recipe) =>
    void edit(label, (a) => recipe(a.tables.find((t) => t.id === table.id)! as Table));
  const source = connected(table)!;
  if (source.request === request.id) return <ListsIt table={table} request={request} change={change} />;
  return (
    <>
      {source.one?.request === request.id
        ? 'It answers a single one of '
        : source.adds?.request === request.id
          ? 'Forms for a new one ask it: '
          : source.changes?.request === request.id
            ? 'Forms that change one ask it: '
            : 'Removing one asks it: '}
      <Link to={`${home}/data/${table.id}`} className="font-semibold text-kelp hover:underline">
        {table.name}
      </Link>
      .
    </>
  );
}

function ListsIt({ table, request, change }: { table: Table; request: ServiceRequest; change: ChangeTable }) {
  const home = useHome();
  const { fetched, inStep } = table;
  const source = connected(table)!;
  return (
    <>
      Its records are{' '}
      <Link to={`${home}/data/${table.id}`} className="font-semibold text-kelp hover:underline">
        <Table2 size={14} className="mr-1 inline align-[-2px]" aria-hidden />
        {table.name}
      </Link>
      , told apart by{' '}
      <ChoiceChip
        name={`Key of ${table.name}`}
        tone="data"
        value={source.key}
        choices={table.fields.filter((f) => f.pick).map((f) => ({ value: f.id, label: f.name }))}
        onChange={(key) =>
          change(`${table.name} are told apart by another field`, (x) => void (connected(x)!.key = key))
        }
      />
      . They are <HowTheyCome table={table} request={request} change={change} />
      {fetched && (
        <>
          ; an answer counts as fresh{' '}
          <ChoiceChip
            name={`How long ${table.name} are fresh`}
            value={String(fetched.fresh)}
            choices={[...new Set([...FRESH, fetched.fresh])].map((s) => ({ value: String(s), label: span(s) }))}
            onChange={(s) =>
              change(`${table.name} are fresh for another time`, (x) => void (x.fetched!.fresh = Number(s)))
            }
          />
        </>
      )}
      . A single one is asked for by <OneChip table={table} change={change} />, a new one added by{' '}
      <WritesChip table={table} part="adds" change={change} />, one changed by{' '}
      <WritesChip table={table} part="changes" change={change} />, and one removed by{' '}
      <RemovesChip table={table} change={change} />.
      {fetched && (fetched.adds ?? fetched.changes) && (
        <>
          {' '}
          Without a network what is saved <WaitsChip table={table} change={change} />.
        </>
      )}
      {inStep && (
        <>
          {' '}
          What is added, changed and removed in the app is told to the service as soon as it can be.
          <InputsInStep table={table} request={request} change={change} />
        </>
      )}
    </>
  );
}

/** Whether the records are fetched when they are shown, or kept in the app and in step with the service. */
function HowTheyCome({ table, request, change }: { table: Table; request: ServiceRequest; change: ChangeTable }) {
  const app = useApp();
  const sign = requestWithService(app, request.id)?.service.sign;
  // The server asks without anybody being there, so it has nobody’s token.
  if (sign?.how === 'person' && !request.open && !table.inStep) return <>fetched for whoever has signed in</>;
  const now = table.inStep?.every;
  return (
    <ChoiceChip
      name={`How ${table.name} come`}
      value={now === undefined ? SHOWN : String(now)}
      choices={[
        { value: SHOWN, label: 'fetched when they are shown' },
        ...[...new Set([...EVERY, ...(now === undefined ? [] : [now])])].map((m) => ({
          value: String(m),
          label: everyWords(m),
        })),
      ]}
      onChange={(how) =>
        change(
          how === SHOWN ? `${table.name} are fetched when they are shown` : `${table.name} are kept in step`,
          (t) => (how === SHOWN ? fetchWhenShown(t) : keepInStep(t, Number(how))),
        )
      }
    />
  );
}

/** What the request is given each time the records are fetched. */
function InputsInStep({ table, request, change }: { table: Table; request: ServiceRequest; change: ChangeTable }) {
  const { paging } = request;
  const inputs = request.inputs.filter((i) => !(paging && 'input' in paging && paging.input === i.id));
  if (inputs.length === 0) return null;
  return (
    <>
      {' '}
      Asked with{' '}
      {inputs.map((i, n) => (
        <span key={i.id}>
          {n > 0 && ', '}
          {i.name} as{' '}
          <span className="inline-block w-28 align-middle">
            <TextBox
              label={`What ${i.name} is for ${table.name}`}
              placeholder={i.optional ? 'left out' : 'needed'}
              value={String(table.inStep!.inputs[i.id] ?? '')}
              onChange={(text) =>
                change(`${table.name} are asked for with another ${i.name}`, (t) => {
                  const cell = typedCell(i, text);
                  if (text === '') delete t.inStep!.inputs[i.id];
                  else t.inStep!.inputs[i.id] = cell ?? text;
                })
              }
            />
          </span>
        </span>
      ))}
      .
    </>
  );
}
