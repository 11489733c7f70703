import type { Table } from '../tables/schema.ts';
import type { Service, ServiceRequest } from './schema.ts';
import type { FromAnswer } from './taken.ts';

/** As much of an app as is needed to ask its services. */
export interface ServicesApp {
  readonly tables: readonly Table[];
  readonly services?: readonly Service[] | undefined;
}

/** A request of an app, with its service. */
export function requestOf(app: ServicesApp, id: string): { service: Service; request: ServiceRequest } | null {
  for (const service of app.services ?? []) {
    const request = service.requests.find((r) => r.id === id);
    if (request) return { service, request };
  }
  return null;
}

/** The fetched tables whose records a request answers, with where they are in the answer. */
export const tablesFrom = (app: ServicesApp, request: string): FromAnswer[] =>
  app.tables.flatMap((table) => {
    const { fetched } = table;
    if (fetched?.request === request) return [{ table, at: fetched.rows }];
    const one = [fetched?.one, fetched?.adds, fetched?.changes].find((r) => r?.request === request);
    return one?.at ? [{ table, at: one.at }] : [];
  });
