import { newId } from '../document/ids.ts';
import type { ServiceRequest } from '../services/schema.ts';
import type { App, Helper, Work } from './schema.ts';
import { addRequest, addService } from './services.ts';

/** What is done with words and pictures, as makers read it. */
export const WORK_WORDS: Readonly<Record<Work, string>> = {
  'sum up': 'Texts are summed up by',
  judge: 'Which choice a text fits is judged by',
  draft: 'Answers are drafted by',
  'pull out': 'Dates, amounts and names are pulled out by',
  describe: 'Pictures are described by',
};

/** What a service is given for a work, and what it gives: the request that this project documents, in JSON. */
const ASKED: Readonly<
  Record<
    Work,
    { path: string; takes: Record<string, 'text' | 'number' | 'picture'>; gives: Record<string, 'text' | 'number'> }
  >
> = {
  'sum up': { path: '/sum-up', takes: { text: 'text', most: 'number' }, gives: { words: 'text' } },
  judge: {
    path: '/judge',
    takes: { text: 'text', choices: 'text' },
    gives: { choice: 'text', why: 'text', sure: 'number' },
  },
  draft: {
    path: '/draft',
    takes: { prompt: 'text', to: 'text', facts: 'text', from: 'text' },
    gives: { words: 'text' },
  },
  'pull out': { path: '/pull-out', takes: { text: 'text', kind: 'text', year: 'number' }, gives: { found: 'text' } },
  describe: { path: '/describe', takes: { picture: 'picture' }, gives: { words: 'text', sure: 'number' } },
};

const called = (name: string): string => name.charAt(0).toUpperCase() + name.slice(1);

/** Adds the request for a work to a service at which it is asked as this project documents it; gives how it is used. */
function addHelper(service: NonNullable<App['services']>[number], work: Work): Helper {
  const { path, takes, gives } = ASKED[work];
  const inputs = Object.entries(takes).map(([name, type]): [string, ServiceRequest['inputs'][number]] => [
    name,
    {
      id: newId('v'),
      name: called(name),
      type,
      ...(name !== 'text' && name !== 'picture' && { optional: true as const }),
    },
  ]);
  const picks = Object.entries(gives).map(([name, type]): [string, ServiceRequest['picks'][number]] => [
    name,
    { id: newId('k'), name: called(name), type, path: `$['${name}']${name === 'found' ? '[*]' : ''}` },
  ]);
  const request = addRequest(service, {
    name: called(work),
    method: 'POST',
    path,
    inputs: inputs.map(([, i]) => i),
    picks: picks.map(([, p]) => p),
    body:
      work === 'describe'
        ? { is: 'parts', parts: inputs.map(([name, i]) => ({ name, value: `{${i.id}}` })) }
        : {
            is: 'json',
            json: JSON.stringify(Object.fromEntries(inputs.map(([name, i]) => [name, `{${i.id}}`])), null, 2),
          },
  });
  return {
    request: request.id,
    takes: Object.fromEntries(inputs.map(([name, i]) => [name, i.id])),
    gives: Object.fromEntries(picks.map(([name, p]) => [name, p.id])),
  };
}

/** From now on a service at this address does all the work with words and pictures; gives the id of the service. */
export function addHelperService(app: App, address: string): string {
  const service = addService(app, { name: 'Words and pictures', test: address });
  app.helpers = Object.fromEntries((Object.keys(ASKED) as Work[]).map((work) => [work, addHelper(service, work)]));
  return service.id;
}
