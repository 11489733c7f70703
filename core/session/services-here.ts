import type { App } from '../app/schema.ts';
import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import { Failed, type Ask, type DeviceAsk, type WordsAsk } from '../routines/asks.ts';
import type { KeptValue } from '../records/kept-value.ts';
import { ownContent } from './own-files.ts';
import type { SessionPorts } from './ports.ts';

/** Asks a service for a routine. Rejects in words, with the sort of failure. */
export async function askFor(
  app: App,
  ports: Pick<SessionPorts, 'services'>,
  { ask: _service, onceAtMost: _once, ...asked }: Extract<Ask, { ask: 'service' }>,
): Promise<KeptValue> {
  const services = await ports.services?.();
  if (!services) throw new Error('Services cannot be asked here.');
  const { keptAnswer } = await import('./answers.ts');
  const answer = await services.askService(asked).catch((e: Error) => {
    throw new Failed(e.message, 'no network');
  });
  return keptAnswer(app, asked.request, answer);
}

/** Has a service do some work with words or a picture, where the app says that one does; undefined for anything else. */
export async function helped(
  app: App,
  ports: Pick<SessionPorts, 'services'>,
  what: WordsAsk | DeviceAsk,
): Promise<KeptValue | undefined> {
  if (!app.helpers || !(what.do in app.helpers)) return undefined;
  const { askHelper } = await import('./helpers.ts');
  const asked = what as Parameters<typeof askHelper>[2];
  return askHelper(app, ports, asked.do === 'describe' ? { ...asked, picture: ownContent(app, asked.picture) } : asked);
}

/** Has services write what changes in fetched tables. Undefined where nothing of it is in one; rejects in words. */
export async function writeToServices(
  records: Records,
  ports: Pick<SessionPorts, 'services'>,
  drafts: readonly Draft[],
  together: boolean,
): Promise<KeptValue | null | undefined> {
  const isOutside = (d: Draft): boolean => records.model.tables.get(d.table)?.table.fetched !== undefined;
  if (!drafts.some(isOutside)) return undefined;
  if (!drafts.every(isOutside))
    throw new Error('Records of a service and of the app itself cannot be changed all or none.');
  const { writeOutside } = await import('./outside-writes.ts');
  return writeOutside(records, drafts, together, await ports.services?.());
}
