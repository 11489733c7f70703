import { X } from 'lucide-react';
import { freeName } from '../../core/document/names.ts';
import { FILES, type Pick, type ServiceRequest } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp } from '../state/studio.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import type { ChangeRequest } from './change-request.ts';
import { INPUT_CHOICES, INPUT_KINDS, type InputKind } from './input-kinds.ts';
import { TableSentence } from './TableSentence.tsx';

/** What is taken out of the answers of a request: records of a table, and single values. */
export function TakenFrom({ request, change }: { request: ServiceRequest; change: ChangeRequest }) {
  const app = useApp();
  const tables = app.tables.filter((t) => {
    const f = connected(t);
    return (
      f && [f.request, f.one?.request, f.adds?.request, f.changes?.request, f.removes?.request].includes(request.id)
    );
  });
  if (tables.length + request.picks.length === 0) return null;
  return (
    <section aria-label="What is taken out of the answer" className="card sentence mb-3.5 px-5 py-3">
      {tables.map((t) => (
        <p key={t.id}>
          <TableSentence table={t} request={request} />
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
            value={p.type as InputKind}
            choices={INPUT_CHOICES}
            onChange={(type) =>
              change(`${p.name} is ${INPUT_KINDS[type]}`, (r) => {
                r.picks.find((x) => x.id === p.id)!.type = type as typeof p.type;
              })
            }
          />
          ,{' '}
          {isWhole(p) ? (
            'which is the answer as it is'
          ) : (
            <>
              at <code className="rounded bg-sunk px-1 font-mono text-xs">{p.path}</code>
            </>
          )}{' '}
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

const isWhole = ({ path, type }: Pick): boolean => path === '$' && FILES.has(type);
