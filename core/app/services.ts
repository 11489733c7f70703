import { newId } from '../document/ids.ts';
import { freeName, singular } from '../document/names.ts';
import { pieces } from '../records/words.ts';
import type { FromPaste } from '../services/paste.ts';
import { USUAL_LIMITS, type Pick, type Service, type ServiceRequest } from '../services/schema.ts';
import { connected } from '../tables/names.ts';
import type { FetchedTable, Field, Table, Writes } from '../tables/schema.ts';
import type { App } from './schema.ts';

/** Edits of the services of an app. Each changes the draft it is given. */

export const serviceOf = (app: App, id: string): Service | undefined => app.services?.find((s) => s.id === id);

/** A request with the service that it is of. */
export function requestWithService(app: App, id: string): { service: Service; request: ServiceRequest } | undefined {
  for (const service of app.services ?? []) {
    const request = service.requests.find((r) => r.id === id);
    if (request) return { service, request };
  }
  return undefined;
}

/** Adds a service that nothing is known of yet. */
export function addService(app: App, more: Partial<Omit<Service, 'id'>> = {}): Service {
  const service: Service = {
    id: newId('w'),
    test: '',
    headers: [],
    sign: { how: 'none' },
    limits: USUAL_LIMITS,
    requests: [],
    ...more,
    name: freeName(more.name ?? 'New service', app.services?.map((s) => s.name) ?? []),
  };
  app.services = [...(app.services ?? []), service];
  return service;
}

export function addRequest(service: Service, more: Partial<Omit<ServiceRequest, 'id'>> = {}): ServiceRequest {
  const request: ServiceRequest = {
    id: newId('n'),
    method: 'GET',
    path: '/',
    query: [],
    headers: [],
    inputs: [],
    picks: [],
    ...more,
    name: freeName(
      more.name ?? 'New request',
      service.requests.map((r) => r.name),
    ),
  };
  service.requests.push(request);
  return request;
}

/** Adds what a pasted line tells of: to the service at its address where the app knows that, or as a new one. */
export function addPasted(app: App, { service, request }: FromPaste): { service: Service; request: ServiceRequest } {
  const known = app.services?.find(
    (s) => s.test === service.test && JSON.stringify(s.sign) === JSON.stringify(service.sign),
  );
  const at = known ?? addService(app, service);
  return { service: at, request: addRequest(at, request) };
}

/**
 * Makes a fetched table one of the app’s own that is kept in step with its service: every so many minutes, or where that
 * is 0 when the maker says so.
 */
export function keepInStep(table: Table, every: number): void {
  const { fresh: _fresh, ...source } = table.fetched ?? { ...table.inStep!, fresh: 0 };
  const { inputs = {} } = table.inStep ?? {};
  table.inStep = { ...source, every, inputs };
  delete table.fetched;
}

/** Makes a table that is kept in step one that is fetched when it is shown. */
export function fetchWhenShown(table: Table): void {
  if (!table.inStep) return;
  const { every: _every, inputs: _inputs, ...source } = table.inStep;
  table.fetched = { ...source, fresh: 60 };
  delete table.inStep;
}

/** Removes a request; what was fetched by it becomes a plain table of the app. */
export function removeRequest(app: App, id: string): void {
  for (const s of app.services ?? []) s.requests = s.requests.filter((r) => r.id !== id);
  for (const t of app.tables) {
    for (const part of ['one', 'adds', 'changes', 'removes'] as const)
      if (connected(t)?.[part]?.request === id) delete connected(t)![part];
    if (connected(t)?.request === id) makePlain(t);
  }
  // What it did with words the app does itself again.
  for (const [work, helper] of Object.entries(app.helpers ?? {}))
    if (helper.request === id) delete app.helpers![work as keyof typeof app.helpers];
}

export function removeService(app: App, id: string): void {
  for (const r of serviceOf(app, id)?.requests ?? []) removeRequest(app, r.id);
  app.services = app.services?.filter((s) => s.id !== id);
  if (!app.services?.length) delete app.services;
}

function makePlain(table: Table): void {
  delete table.fetched;
  delete table.inStep;
  for (const f of table.fields) delete f.pick;
}

export function addPick(request: ServiceRequest, pick: Omit<Pick, 'id'>): Pick {
  const made = {
    ...pick,
    id: newId('k'),
    name: freeName(
      pick.name,
      request.picks.map((p) => p.name),
    ),
  };
  request.picks.push(made);
  return made;
}

/** Makes a table of the records that a request answers. */
export function addFetchedTable(
  app: App,
  request: string,
  rows: string,
  name: string,
  shape: { fields: Field[]; key: string; titleField: string | null; pictureField: string | null },
): Table {
  const free = freeName(
    name,
    app.tables.map((t) => t.name),
  );
  const table: Table = {
    id: newId('t'),
    name: free,
    one: singular(free),
    fields: shape.fields,
    titleField: shape.titleField,
    pictureField: shape.pictureField,
    fetched: { request, rows, key: shape.key, fresh: 60 },
  };
  app.tables.push(table);
  return table;
}

/** A request as one that removes a record: its input in the path takes the key. */
export const removedBy = (request: ServiceRequest): NonNullable<FetchedTable['removes']> => ({
  request: request.id,
  input: (keyInput(request) ?? request.inputs[0]!).id,
});

/** The input whose value is in the path of a request, where the key of a record is. */
export const keyInput = ({ inputs, path }: ServiceRequest): ServiceRequest['inputs'][number] | undefined =>
  inputs.find((i) => pieces(path).some((p) => 'formula' in p && p.formula.includes(i.id)));

const normal = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/**
 * Which input of a request takes which field of a fetched table: those that are called the same; what is in the path takes
 * the key. With `adds`, inputs that no field is called like get fields of their own, so that forms can ask for them.
 */
export function writesBy(
  table: Table,
  request: ServiceRequest,
  { adds = false, at }: { adds?: boolean; at?: string | undefined } = {},
): Writes {
  const { key } = connected(table)!;
  const values = request.inputs.flatMap((i): Writes['values'] => {
    if (!adds && i === keyInput(request)) return [{ input: i.id, field: key }];
    const known = table.fields.find((f) => normal(f.name) === normal(i.name) && f.type !== 'formula');
    if (known) return [{ input: i.id, field: known.id }];
    if (!adds) return [];
    const { id: _id, optional, test: _test, ...rest } = i;
    const field: Field = { ...rest, id: newId('f'), ...(!optional && { required: true }) };
    table.fields.push(field);
    return [{ input: i.id, field: field.id }];
  });
  return { request: request.id, values, ...(at && { at }) };
}
