import { Trash2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import { removeRequest } from '../../core/app/services.ts';
import { usesInWords, usesOf } from '../../core/app/uses.ts';
import { newId } from '../../core/document/ids.ts';
import { freeName } from '../../core/document/names.ts';
import { inputsAtHand } from '../../core/services/given.ts';
import { METHODS, type RequestBody, type Service, type ServiceRequest } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { WordsField } from '../chips/WordsField.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { IconButton } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { TextBox } from '../ui/TypedBox.tsx';
import { AddLine } from './AddLine.tsx';
import type { ChangeRequest } from './change-request.ts';
import { JsonBody } from './JsonBody.tsx';
import { PagingSentence } from './PagingSentence.tsx';
import { PartsTable } from './PartsTable.tsx';
import { RequestInputs } from './RequestInputs.tsx';
import { SamplesKept } from './SamplesKept.tsx';
import { StraightSentence } from './StraightSentence.tsx';
import { TakenFrom } from './TakenFrom.tsx';
import { TryPanel } from './TryPanel.tsx';

const SAYS: Record<ServiceRequest['method'], string> = {
  GET: 'get',
  POST: 'add to',
  PUT: 'put',
  PATCH: 'change',
  DELETE: 'remove',
};
const BODIES = {
  none: 'nothing else',
  json: 'JSON',
  form: 'a form',
  parts: 'parts, with files',
  text: 'a text',
} as const;

const begunBody = (is: keyof typeof BODIES): RequestBody | undefined => {
  if (is === 'none') return undefined;
  if (is === 'json') return { is, json: '{}' };
  return is === 'form' || is === 'parts' ? { is, parts: [] } : { is, type: 'text/plain', text: '' };
};

/** One request: what is asked and with what, trying it, and what is taken out of its answer. */
export function RequestDesk({ service, request }: { service: Service; request: ServiceRequest }) {
  const app = useApp();
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const change: ChangeRequest = (label, recipe, merge) =>
    void edit(
      label,
      (a) => {
        const found = a.services?.flatMap((s) => s.requests).find((r) => r.id === request.id);
        if (found) recipe(found as ServiceRequest);
      },
      merge ? { merge: `${request.id} ${merge}` } : {},
    );
  const place = { self: null, things: inputsAtHand(request), alone: true as const };
  const remove = (): void => {
    const uses = usesOf(app, [request.id]);
    const tables = app.tables.filter((t) => connected(t)?.request === request.id);
    void edit(`Removed the request ${request.name}`, (a) => removeRequest(a, request.id));
    const said = [
      uses.length ? ` It was used by ${usesInWords(uses)}.` : '',
      tables.length ? ` ${tables.map((t) => t.name).join(', ')} will not be fetched any more.` : '',
    ];
    toastWithUndo(`Removed ${request.name}.${said.join('')}`);
    void navigate(`${home}/services/${service.id}`);
  };
  const { body } = request;
  const hasBody = request.method !== 'GET' && request.method !== 'DELETE';
  return (
    <>
      <header className="mb-3 flex items-center gap-2">
        <h1 className="min-w-0 flex-1 text-xl">
          <NameField
            value={request.name}
            label="Name of the request"
            className="truncate"
            onChange={(n) =>
              change(`Renamed ${request.name} to ${n}`, (r) => {
                r.name = freeName(
                  n,
                  service.requests.flatMap((o) => (o.id === r.id ? [] : [o.name])),
                );
              })
            }
          />
        </h1>
        <IconButton icon={Trash2} label="Remove this request" onClick={remove} />
      </header>
      <section className="card mb-3.5 px-5 py-3.5">
        <div className="flex items-center gap-2">
          <ChoiceChip
            name="Method"
            value={request.method}
            choices={METHODS.map((value) => ({ value, label: value, hint: SAYS[value] }))}
            onChange={(method) => change(`${request.name} is ${method}`, (r) => void (r.method = method))}
          />
          <span className="max-w-56 truncate font-mono text-sm text-ink-faint" title={service.test}>
            {service.test || 'the address of the service'}
          </span>
          <span className="min-w-0 flex-1">
            <WordsField
              plain
              name="Path"
              placeholder="/"
              value={request.path}
              place={place}
              onChange={(path) => change(`Changed the path of ${request.name}`, (r) => void (r.path = path), 'path')}
            />
          </span>
        </div>
        {request.about && <p className="mt-2 max-h-24 overflow-auto text-sm text-ink-soft">{request.about}</p>}
        <RequestInputs
          inputs={request.inputs}
          onChange={(label, inputs, merge) => change(label, (r) => void (r.inputs = inputs), merge)}
        />
        <PartsTable
          title="Behind the path"
          parts={request.query}
          place={place}
          onChange={(query, merge) =>
            change(`Changed what ${request.name} asks for`, (r) => void (r.query = query), merge)
          }
        />
        <PartsTable
          title="Headers"
          isHeader
          parts={request.headers}
          place={place}
          onChange={(headers, merge) =>
            change(`Changed the headers of ${request.name}`, (r) => void (r.headers = headers), merge)
          }
        />
        <AddLine
          adds={[
            [
              'Give it a value',
              () =>
                change('Gave the request an input', (r) => {
                  const name = freeName(
                    'value',
                    r.inputs.map((x) => x.name),
                  );
                  r.inputs.push({ id: newId('v'), name, type: 'text' });
                }),
            ],
            [
              'Add a part behind the path',
              () =>
                change(`Added a part to ${request.name}`, (r) => {
                  r.query.push({ name: 'name', value: '' });
                }),
            ],
            [
              'Add a header',
              () =>
                change(`Added a header to ${request.name}`, (r) => {
                  r.headers.push({ name: 'X-Name', value: '' });
                }),
            ],
          ]}
        />
        {(hasBody || body) && (
          <div className="mt-2">
            <p className="sentence">
              It sends{' '}
              <ChoiceChip
                name="What it sends"
                value={(body?.is ?? 'none') as keyof typeof BODIES}
                choices={(Object.keys(BODIES) as (keyof typeof BODIES)[]).map((value) => ({
                  value,
                  label: BODIES[value],
                }))}
                onChange={(is) =>
                  change(`${request.name} sends ${BODIES[is]}`, (r) => {
                    const next = begunBody(is);
                    if (next) r.body = next;
                    else delete r.body;
                  })
                }
              />
              .
            </p>
            {body?.is === 'json' && (
              <JsonBody
                key={request.id}
                json={body.json}
                place={place}
                onChange={(json) =>
                  change(`Changed what ${request.name} sends`, (r) => void (r.body = { is: 'json', json }), 'body')
                }
              />
            )}
            {(body?.is === 'form' || body?.is === 'parts') && (
              <PartsTable
                title={body.is === 'form' ? 'Parts of the form' : 'Parts that are sent'}
                parts={body.parts}
                place={place}
                onChange={(parts, merge) =>
                  change(`Changed what ${request.name} sends`, (r) => void (r.body = { is: body.is, parts }), merge)
                }
              />
            )}
            {(body?.is === 'form' || body?.is === 'parts') && (
              <AddLine
                adds={[
                  [
                    'Add a part',
                    () =>
                      change(`Added a part to what ${request.name} sends`, (r) => {
                        r.body = { is: body.is, parts: [...body.parts, { name: 'name', value: '' }] };
                      }),
                  ],
                ]}
              />
            )}
            {body?.is === 'text' && (
              <div className="space-y-1.5">
                <TextBox
                  label="Type of the text"
                  className="!w-56 font-mono text-sm"
                  value={body.type}
                  onChange={(type) =>
                    type.trim() &&
                    change(`Changed what ${request.name} sends`, (r) => void (r.body = { ...body, type }), 'type')
                  }
                />
                <WordsField
                  plain
                  rows={3}
                  name="Text that is sent"
                  value={body.text}
                  place={place}
                  onChange={(text) =>
                    change(`Changed what ${request.name} sends`, (r) => void (r.body = { ...body, text }), 'body')
                  }
                />
              </div>
            )}
          </div>
        )}
        <StraightSentence service={service} request={request} change={change} />
        <PagingSentence request={request} change={change} />
      </section>
      <TakenFrom request={request} change={change} />
      <TryPanel service={service} request={request} change={change} />
      <SamplesKept key={request.id} request={request} change={change} />
    </>
  );
}
