import { requestOf } from '../services/requests-of.ts';
import type { App, Helper, Work } from './schema.ts';

/** How a service does a work in place of the app itself; undefined where none does, or its request is not there any more. */
export function helperOf(app: Pick<App, 'helpers' | 'services' | 'tables'>, work: Work): Helper | undefined {
  const helper = app.helpers?.[work];
  return helper && requestOf(app, helper.request) ? helper : undefined;
}
