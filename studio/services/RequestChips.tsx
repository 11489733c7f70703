import { removedBy, writesBy } from '../../core/app/services.ts';
import { connected } from '../../core/tables/names.ts';
import type { Table } from '../../core/tables/schema.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp } from '../state/studio.ts';

/** Changes the table as one named edit. */
export type ChangeTable = (label: string, recipe: (t: Table) => void) => void;

/** The request that answers one record of a table. */
export function OneChip({ table, change }: { table: Table; change: ChangeTable }) {
  const app = useApp();
  const requests = (app.services ?? [])
    .filter((s) => s.requests.some((r) => r.id === connected(table)!.request))
    .flatMap((s) =>
      s.requests.filter((r) => r.id !== connected(table)!.request && r.inputs.length > 0 && r.method === 'GET'),
    );
  const value = requests.find((r) => r.id === connected(table)!.one?.request)?.id ?? '';
  return (
    <ChoiceChip
      name={`Request for one of ${table.name}`}
      value={value}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(`Another request answers one of ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) connected(t)!.one = { request: id, input: request.inputs[0]!.id, at: '$' };
          else delete connected(t)!.one;
        })
      }
    />
  );
}

/** What becomes of a form that is saved without a network. */
export function WaitsChip({ table, change }: { table: Table; change: ChangeTable }) {
  const { adds, changes } = connected(table)!;
  return (
    <ChoiceChip
      name={`${table.name} without a network`}
      value={(adds ?? changes)!.waits ? 'waits' : 'stays'}
      choices={[
        { value: 'stays', label: 'is not taken, and says so' },
        { value: 'waits', label: 'waits on the phone until it can be sent' },
      ]}
      onChange={(how) =>
        change(`${table.name} ${how === 'waits' ? 'wait' : 'do not wait'} for a network`, (t) => {
          for (const part of ['adds', 'changes'] as const) {
            const writes = connected(t)![part];
            if (writes && how === 'waits') writes.waits = true;
            else delete writes?.waits;
          }
        })
      }
    />
  );
}

/** The request that removes a record of a table. */
export function RemovesChip({ table, change }: { table: Table; change: ChangeTable }) {
  const app = useApp();
  const requests = (app.services ?? []).flatMap((s) =>
    s.requests.filter((r) => r.inputs.length > 0 && r.method !== 'GET'),
  );
  return (
    <ChoiceChip
      name={`Request that removes one of ${table.name}`}
      value={connected(table)!.removes?.request ?? ''}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(`Another request removes one of ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) connected(t)!.removes = removedBy(request);
          else delete connected(t)!.removes;
        })
      }
    />
  );
}

/** The request by which forms add a record of a table, or change one. */
export function WritesChip({ table, part, change }: { table: Table; part: 'adds' | 'changes'; change: ChangeTable }) {
  const app = useApp();
  const requests = (app.services ?? []).flatMap((s) =>
    s.requests.filter((r) => r.inputs.length > 0 && r.method !== 'GET' && r.method !== 'DELETE'),
  );
  const value = connected(table)![part]?.request ?? '';
  return (
    <ChoiceChip
      name={part === 'adds' ? `Request that adds to ${table.name}` : `Request that changes ${table.name}`}
      value={value}
      choices={[{ value: '', label: 'nothing' }, ...requests.map((r) => ({ value: r.id, label: r.name }))]}
      onChange={(id) =>
        change(`Another request ${part === 'adds' ? 'adds to' : 'changes'} ${table.name}`, (t) => {
          const request = requests.find((r) => r.id === id);
          if (request) connected(t)![part] = writesBy(t, request, { adds: part === 'adds', at: '$' });
          else delete connected(t)![part];
        })
      }
    />
  );
}
