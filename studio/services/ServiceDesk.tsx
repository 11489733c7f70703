import { ChevronRight, Plus, Trash2 } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import { addRequest, removeService } from '../../core/app/services.ts';
import { usesInWords, usesOf } from '../../core/app/uses.ts';
import { freeName } from '../../core/document/names.ts';
import type { Service, Sign, Where } from '../../core/services/schema.ts';
import { connected } from '../../core/tables/names.ts';
import { ChoiceChip } from '../chips/ChoiceChip.tsx';
import { useApp, useEdit, useHome } from '../state/studio.ts';
import { toastWithUndo } from '../state/undo-toast.ts';
import { Button, IconButton, Line } from '../ui/controls.tsx';
import { NameField } from '../ui/NameField.tsx';
import { NumberBox, TextBox } from '../ui/TypedBox.tsx';
import { AddLine } from './AddLine.tsx';
import { PartsTable } from './PartsTable.tsx';
import { SecretBox } from './SecretBox.tsx';
import { originOf } from './secrets.ts';

const WAYS: Record<Sign['how'], string> = {
  none: 'needs no key',
  header: 'wants a key in a header',
  query: 'wants a key in the address',
  basic: 'wants a name and password',
  bearer: 'wants a token',
  client: 'gives the app itself a token (OAuth 2)',
  person: 'wants the token of whoever has signed in',
};

/** What a way to sign begins with. */
const begun = (how: Sign['how']): Sign =>
  how === 'header'
    ? { how, name: 'X-Api-Key' }
    : how === 'client'
      ? { how, tokens: '' }
      : how === 'query'
        ? { how, name: 'key' }
        : { how };

/** One service: where it is, how one signs, what it may take, and what it can be asked. */
export function ServiceDesk({ service }: { service: Service }) {
  const app = useApp();
  const edit = useEdit();
  const home = useHome();
  const navigate = useNavigate();
  const change = (label: string, recipe: (s: Service) => void, merge?: string): void =>
    void edit(
      label,
      (a) => {
        const found = a.services?.find((s) => s.id === service.id);
        if (found) recipe(found as Service);
      },
      merge ? { merge: `${service.id} ${merge}` } : {},
    );
  const remove = (): void => {
    const ids = service.requests.map((r) => r.id);
    const tables = app.tables.filter((t) => ids.includes(connected(t)?.request ?? ''));
    const used = [...usesOf(app, ids).map((u) => u.said), ...tables.map((t) => `the table ${t.name}`)];
    void edit(`Removed the service ${service.name}`, (a) => removeService(a, service.id));
    toastWithUndo(`Removed ${service.name}.${used.length ? ` It was used by ${used.slice(0, 4).join(', ')}.` : ''}`);
    void navigate(`${home}/services`);
  };
  const add = (): void => {
    let id = '';
    void edit(`Added a request to ${service.name}`, (a) => {
      id = addRequest(a.services!.find((s) => s.id === service.id)! as Service).id;
    }).then(() => navigate(`${home}/services/${id}`));
  };
  const address = (where: Where) => {
    const value = (where === 'live' ? service.live : service.test) ?? '';
    const isOdd = value !== '' && originOf(value) === null;
    return (
      <div className="min-w-0 flex-1">
        <TextBox
          label={where === 'live' ? 'Address for the people who use the app' : 'Address to try with'}
          className="font-mono text-sm"
          placeholder={where === 'live' ? 'the same' : 'https://…'}
          value={value}
          onChange={(text) =>
            change(
              `Changed an address of ${service.name}`,
              (s) => {
                if (where === 'test') s.test = text.trim();
                else if (text.trim()) s.live = text.trim();
                else delete s.live;
              },
              where,
            )
          }
        />
        {isOdd && <p className="mt-1 text-sm text-persimmon-deep">An address begins with https://.</p>}
      </div>
    );
  };
  const { sign } = service;
  return (
    <>
      <header className="mb-3 flex items-center gap-2">
        <h1 className="min-w-0 flex-1 text-xl">
          <NameField
            value={service.name}
            label="Name of the service"
            className="truncate"
            onChange={(n) =>
              change(`Renamed ${service.name} to ${n}`, (s) => {
                s.name = freeName(
                  n,
                  app.services!.flatMap((o) => (o.id === s.id ? [] : [o.name])),
                );
              })
            }
          />
        </h1>
        <IconButton icon={Trash2} label="Remove this service" onClick={remove} />
        <Button look="main" icon={Plus} onClick={add}>
          Add a request
        </Button>
      </header>
      <section className="card mb-3.5 px-5 py-3.5">
        <Line label="To try">{address('test')}</Line>
        <Line label="For people">{address('live')}</Line>
        <div className="sentence mt-1">
          <p>
            It{' '}
            <ChoiceChip
              name="How it knows who asks"
              value={sign.how}
              choices={(Object.keys(WAYS) as Sign['how'][]).map((value) => ({ value, label: WAYS[value] }))}
              onChange={(how) =>
                change(`${service.name} ${WAYS[how]}`, (s) => {
                  s.sign = begun(how);
                })
              }
            />
            {sign.how === 'client' && (
              <>
                {' at '}
                <span className="inline-block w-72 align-middle">
                  <TextBox
                    label="Address of its tokens"
                    className="font-mono text-sm"
                    placeholder="https://…/token"
                    value={sign.tokens}
                    onChange={(tokens) =>
                      change(
                        `Changed how ${service.name} is signed`,
                        (s) => void (s.sign = { ...sign, tokens: tokens.trim() }),
                        'sign',
                      )
                    }
                  />
                </span>
                {', for '}
                <span className="inline-block w-40 align-middle">
                  <TextBox
                    label="Scope"
                    className="font-mono text-sm"
                    placeholder="no scope"
                    value={sign.scope ?? ''}
                    onChange={(scope) =>
                      change(
                        `Changed how ${service.name} is signed`,
                        (s) => {
                          const { scope: _before, ...rest } = sign;
                          s.sign = { ...rest, ...(scope.trim() && { scope: scope.trim() }) };
                        },
                        'scope',
                      )
                    }
                  />
                </span>
              </>
            )}
            {'name' in sign && (
              <>
                {' called '}
                <span className="inline-block w-44 align-middle">
                  <TextBox
                    label="Name of the header or part"
                    className="font-mono text-sm"
                    value={sign.name}
                    onChange={(name) =>
                      /^[!#$%&'*+.^_`|~0-9A-Za-z-]{1,100}$/.test(name) &&
                      change(`Changed how ${service.name} is signed`, (s) => void (s.sign = { ...sign, name }), 'sign')
                    }
                  />
                </span>
              </>
            )}
            .
          </p>
        </div>
        {sign.how !== 'none' && sign.how !== 'person' && (
          <div className="mt-1">
            <SecretBox service={service} where="test" />
            {service.live && <SecretBox service={service} where="live" />}
          </div>
        )}
        <div className="sentence mt-1">
          <p>
            An answer may take{' '}
            <span className="inline-block w-16 align-middle">
              <NumberBox
                label="Seconds that an answer may take"
                value={service.limits.seconds}
                least={1}
                most={60}
                onChange={(n) =>
                  change(`Changed the limits of ${service.name}`, (s) => void (s.limits.seconds = n ?? 15), 'seconds')
                }
              />
            </span>{' '}
            seconds and have{' '}
            <span className="inline-block w-16 align-middle">
              <NumberBox
                label="Megabytes that an answer may have"
                value={service.limits.megabytes}
                least={0.01}
                most={20}
                onChange={(n) =>
                  change(
                    `Changed the limits of ${service.name}`,
                    (s) => void (s.limits.megabytes = n ?? 5),
                    'megabytes',
                  )
                }
              />
            </span>{' '}
            MB. All people together ask it{' '}
            <span className="inline-block w-20 align-middle">
              <NumberBox
                label="How often it is asked in a minute"
                placeholder="as often"
                value={service.limits.aMinute}
                optional
                whole
                least={1}
                most={1200}
                onChange={(n) =>
                  change(
                    `Changed the limits of ${service.name}`,
                    (s) => {
                      const { aMinute: _before, ...rest } = s.limits;
                      s.limits = { ...rest, ...(n !== undefined && { aMinute: n }) };
                    },
                    'a minute',
                  )
                }
              />
            </span>{' '}
            {service.limits.aMinute ? 'times a minute at most.' : 'as they like.'}
          </p>
        </div>
        <PartsTable
          title="Headers of every request"
          parts={service.headers}
          isHeader
          place={{ self: null, things: [], alone: true }}
          onChange={(headers, merge) =>
            change(`Changed the headers of ${service.name}`, (s) => void (s.headers = headers), merge)
          }
        />
        <AddLine
          adds={[
            [
              'Add a header to every request',
              () =>
                change(`Added a header to ${service.name}`, (s) => {
                  s.headers.push({ name: 'X-Name', value: '' });
                }),
            ],
          ]}
        />
      </section>
      <h2 className="mb-1.5 text-[14px]">What it can be asked</h2>
      <ul className="card divide-y divide-line">
        {service.requests.map((r) => (
          <li key={r.id}>
            <Link
              to={`${home}/services/${r.id}`}
              className="flex min-h-[44px] items-center gap-3 px-4 py-1.5 first:rounded-t-card last:rounded-b-card hover:bg-paper"
            >
              <span className="w-14 font-mono text-xs text-ink-faint">{r.method}</span>
              <span className="min-w-0 flex-1">
                <span className="block truncate font-semibold">{r.name}</span>
                <span className="block truncate text-sm text-ink-soft">{usedBy(app, r.id)}</span>
              </span>
              <ChevronRight size={15} className="text-ink-faint" aria-hidden />
            </Link>
          </li>
        ))}
        {service.requests.length === 0 && <li className="px-4 py-3 text-ink-soft">Nothing yet. Add a request.</li>}
      </ul>
    </>
  );
}

/** What uses a request, in words. */
function usedBy(app: ReturnType<typeof useApp>, request: string): string {
  const tables = app.tables.filter((t) => connected(t)?.request === request || connected(t)?.one?.request === request);
  const uses = usesOf(app, [request]);
  const all = [tables.length ? `records of ${tables.map((t) => t.name).join(', ')}` : '', usesInWords(uses)].filter(
    Boolean,
  );
  return all.length ? `Used for ${all.join(' and ')}` : 'Not used yet';
}
