import type { Table, Variable } from '../tables/schema.ts';
import type { Claims, Service, ServiceRequest } from './schema.ts';
import type { FromAnswer } from './taken.ts';

/** As much of an app as is needed to ask its services. */
export interface ServicesApp {
  readonly tables: readonly Table[];
  readonly services?: readonly Service[] | undefined;
  readonly variables?: readonly Variable[] | undefined;
  /** How people sign in: whose answers have tokens, and how these are checked. */
  readonly signIn?:
    | {
        readonly enter: string;
        readonly token: string;
        readonly renew?: { readonly request: string; readonly token: string } | undefined;
        readonly claims?: Claims | undefined;
      }
    | undefined;
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
