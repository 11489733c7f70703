import type { DescribedAnswer } from '../services/openapi/answer.ts';
import type { Operation } from '../services/openapi/operations.ts';
import type { Service, ServiceRequest, Sign } from '../services/schema.ts';
import { USUAL_LIMITS } from '../services/schema.ts';
import { newId } from '../document/ids.ts';
import type { Field } from '../tables/schema.ts';
import type { App } from './schema.ts';
import { addFetchedTable, addRequest, addService, keyInput, removedBy, writesBy } from './services.ts';

/** An operation that was chosen from a description, as it becomes part of an app. */
export interface Chosen {
  operation: Operation;
  request: Omit<ServiceRequest, 'id'>;
  answer: DescribedAnswer;
}

const nameOfSign = (sign: Sign): string =>
  'name' in sign ? ` by ${sign.name}` : sign.how === 'basic' ? ' by name and password' : ' by token';

/**
 * Adds what was chosen from the description of a service. Operations that are signed in another way are those of a service
 * of their own, since a service has one key. With `tables`, lists become fetched tables, whose single records are asked for
 * by the operation behind the same path.
 */
export function addDescribed(
  app: App,
  described: { name: string; address: string },
  chosen: readonly Chosen[],
  tables: boolean,
): { services: string[]; requests: string[]; tables: string[] } {
  const made = { services: [] as string[], requests: [] as string[], tables: [] as string[] };
  const bySign = new Map<string, Service>();
  const ways = new Set(chosen.flatMap(({ operation: { sign } }) => (sign ? [JSON.stringify(sign)] : [])));
  const serviceFor = (sign: Sign | null): Service => {
    // What needs no key can be asked beside anything.
    const key = sign ? JSON.stringify(sign) : ([...ways][0] ?? '');
    const known = bySign.get(key);
    if (known) return known;
    const way = key ? (JSON.parse(key) as Sign) : null;
    const isFirst = bySign.size === 0;
    const service = addService(app, {
      name: described.name + (isFirst || !way ? '' : nameOfSign(way)),
      test: described.address,
      sign: way ?? { how: 'none' },
      limits: { ...USUAL_LIMITS },
    });
    bySign.set(key, service);
    made.services.push(service.id);
    return service;
  };
  const requests = new Map<string, ServiceRequest>();
  for (const { operation, request, answer } of chosen) {
    const service = serviceFor(operation.sign);
    const open = !operation.sign && service.sign.how !== 'none';
    const added = addRequest(service, {
      ...request,
      ...(open && { open: true as const }),
      // What is no record of a list is taken value by value.
      ...(operation.need === 'other' &&
        answer.holds === 'one' && { picks: answer.fields.slice(0, 30).flatMap(asPick) }),
      ...(answer.file && { picks: [{ id: newId('k'), name: FILE_NAMES[answer.file], path: '$', type: answer.file }] }),
    });
    requests.set(operation.key, added);
    made.requests.push(added.id);
  }
  if (!tables) return made;
  for (const { operation, request, answer } of chosen) {
    if (operation.need !== 'list' || answer.holds !== 'list' || !answer.key) continue;
    const one = chosen.find(
      (c) => c.operation.need === 'one' && c.operation.path.startsWith(`${operation.path.replace(/\/$/, '')}/{`),
    );
    const oneRequest = one && requests.get(one.operation.key);
    const table = addFetchedTable(app, requests.get(operation.key)!.id, answer.at, nameOfList(request.name), answer);
    if (oneRequest) {
      const input = keyInput(oneRequest);
      if (input) table.fetched!.one = { request: oneRequest.id, input: input.id, at: one.answer.at };
    }
    const path = operation.path.replace(/\/$/, '');
    const write = (need: 'add' | 'change' | 'remove', fits: (path: string) => boolean) =>
      chosen.find((c) => c.operation.need === need && fits(c.operation.path.replace(/\/$/, '')));
    const add = write('add', (p) => p === path);
    const change = write('change', (p) => p.startsWith(`${path}/{`));
    const at = (c: Chosen): string | undefined => (c.answer.holds === 'one' ? c.answer.at : undefined);
    if (add) table.fetched!.adds = writesBy(table, requests.get(add.operation.key)!, { adds: true, at: at(add) });
    if (change) table.fetched!.changes = writesBy(table, requests.get(change.operation.key)!, { at: at(change) });
    const remove = write('remove', (p) => p.startsWith(`${path}/{`));
    const removal = remove && requests.get(remove.operation.key);
    if (removal && removal.inputs.length > 0) table.fetched!.removes = removedBy(removal);
    made.tables.push(table.id);
  }
  return made;
}

/** “List all goods” lists Goods. */
export function nameOfList(request: string): string {
  const words =
    request
      .replace(
        /^(get|list|find|search|fetch|show|read|retrieve|returns?)\s+(all\s+|my\s+|the\s+|a\s+list\s+of\s+|list\s+of\s+)*/i,
        '',
      )
      .trim() || request;
  return words.charAt(0).toUpperCase() + words.slice(1);
}

const FILE_NAMES = { picture: 'Picture', sound: 'Sound', file: 'File' } as const;

/** A field of an answer as a value that is picked. */
const asPick = (f: Field): ServiceRequest['picks'] =>
  f.pick ? [{ id: newId('k'), name: f.name, path: f.pick, type: f.type === 'choice' ? 'text' : f.type }] : [];
