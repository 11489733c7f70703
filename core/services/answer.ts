import { z } from 'zod';
import type { Cell } from '../fields/lists.ts';
import { Id } from '../document/pieces.ts';
import { answered, mayRepeat, type AskedService } from './asking.ts';
import type { ToLocal } from './cell-of.ts';
import { NoAnswer } from './failures.ts';
import { CannotBeAsked, fill, type Filled } from './fill.ts';
import { givenTo } from './given.ts';
import type { OutsideReply } from './outside.ts';
import { pageAddress, pageAfter, withPage, type Page } from './paging.ts';
import { contentAddress, isContent, MOST_SENT_BYTES, nameOfAnswer } from './parts.ts';
import { fromRefusal } from './refusal.ts';
import { FILES, USUAL_LIMITS, type Service, type ServiceRequest, type Sign, type Where } from './schema.ts';
import { requestOf, tablesFrom, type ServicesApp } from './requests-of.ts';
import { isMark, taken, type Taken } from './taken.ts';

const CellSchema = z.union([z.string().max(100_000), z.number(), z.boolean(), z.null()]);

/** A file in base 64, with what is said of it. */
const MOST_SENT_TEXT = Math.ceil(MOST_SENT_BYTES / 3) * 4 + 1000;

/** What a phone says when it asks a request of a service. */
export const AskedMessage = z.object({
  request: Id,
  inputs: z.record(Id, CellSchema),
  /** The files of inputs, as addresses with their content (RFC 2397). */
  files: z.record(Id, z.string().max(MOST_SENT_TEXT).refine(isContent)).optional(),
  /** Of a long list: which page, and how many records came before. */
  page: z.union([z.string().max(4000), z.number()]).optional(),
  before: z.number().int().min(0).optional(),
  /** The token of whoever uses the app, where the service wants it. It is passed on and kept nowhere. */
  token: z.string().max(16_000).optional(),
  /** It is written only where the record is still as it was with this mark, and read only where the answer is another. */
  match: z.string().refine(isMark).optional(),
  unless: z.string().refine(isMark).optional(),
  /** What writes is done once under this name, however often it comes. */
  once: z
    .string()
    .regex(/^[\w-]{8,60}$/)
    .optional(),
});
export type AskedMessage = z.infer<typeof AskedMessage>;

/** Why a service gave no answer that can be used. */
export type AnswerFailure =
  | 'not asked'
  | 'no network'
  | 'no answer'
  /** It was sent, and nobody knows whether it was taken. */
  | 'unknown'
  | 'not signed in'
  | 'not allowed'
  | 'not found'
  | 'refused'
  | 'changed'
  | 'too often'
  | 'broken';

/** What came of asking, as phones hear it. Nothing of a secret is in it. */
export interface ServiceAnswer extends Taken {
  /** The status (RFC 9110, 15); 0 where no answer came. */
  status: number;
  /** What went wrong, with what to do; null where nothing did. */
  said: string | null;
  failure?: AnswerFailure;
  /** What is wrong with what was given, by input, where the service says so. */
  problems?: Record<string, string>;
  /** With what the next page is asked for; null where there is none. */
  next: Page | null;
  /** How the service marks this answer (RFC 9110, 8.8.3: ETag). */
  mark?: string;
  /** What a token in it says of whoever has signed in, checked; by the ids of variables. */
  facts?: Record<string, Cell>;
}

/** A request as it is sent out by whoever has the secrets. */
export interface Outgoing {
  service: AskedService;
  filled: Filled;
  where: Where;
  mayRepeat: boolean;
  /** The token of whoever uses the app. */
  token?: string | undefined;
}
/** What came back: an answer of any status, or why there is none. */
export type CameBack = { reply: OutsideReply; tries: number } | { failed: { sort: NoAnswer['sort']; words: string } };

/** What answering needs of where it is done. */
export interface AnswerPorts {
  send(asked: Outgoing): Promise<CameBack>;
  /** What the clocks of the app show at an instant, and now. */
  toLocal: ToLocal;
  now(): number;
  /** The instant that it is, in ms since 1970; the device’s own where that is absent. */
  instant?(): number;
}

/** After these the service has nothing of what was sent. */
const NEVER_SENT: ReadonlySet<NoAnswer['sort']> = new Set([
  'no address',
  'unsigned',
  'no token',
  'blocked',
  'not found',
  'refused',
  'certificate',
]);

/** An answer that has nothing. */
export const EMPTY: ServiceAnswer = { status: 0, said: null, picks: {}, rows: {}, notes: [], next: null };

const nothing = (failure: AnswerFailure, said: string, status = 0): ServiceAnswer => ({
  ...EMPTY,
  status,
  said,
  failure,
});

/** Where a service is asked in fact: where it has one address, that is the one of trying, with its key. */
export const placeOf = (service: Pick<Service, 'live'>, where: Where): Where => (service.live ? where : 'test');

/** Asks a request that the app describes, and takes out of the answer what the app wants. Never rejects. */
export async function serviceAnswer(
  app: ServicesApp,
  asked: AskedMessage,
  where: Where,
  ports: AnswerPorts,
): Promise<ServiceAnswer> {
  const { request: id, files, page, before = 0, token } = asked;
  const inputs = files ? { ...asked.inputs, ...files } : asked.inputs;
  const found = requestOf(app, id);
  if (!found) return nothing('not asked', 'The app does not ask this any more.');
  const { service, request } = found;
  let filled: Filled;
  try {
    filled = fill(service, request, where, givenTo(request, withPage(request, inputs, page), ports.now));
    if (page !== undefined && (request.paging?.by === 'link' || request.paging?.by === 'address')) {
      const url = pageAddress(filled.url, String(page), fixedParts(request));
      if (!url)
        return nothing('not asked', 'The service leads to its next page at another address, where it is not followed.');
      filled = { ...filled, url };
    }
  } catch (e) {
    if (e instanceof CannotBeAsked)
      return { ...nothing('not asked', e.message), ...(e.input && { problems: { [e.input]: e.message } }) };
    throw e;
  }
  filled = { ...filled, headers: [...filled.headers, ...conditions(asked, request, filled)] };
  const { limits } = service;
  const sign: Sign = request.open ? { how: 'none' } : service.sign;
  const came = await ports.send({
    service: { id: service.id, sign, limits },
    filled,
    where: placeOf(service, where),
    mayRepeat: mayRepeat(request),
    ...(sign.how === 'person' && token && { token }),
  });
  if ('failed' in came) {
    const { sort, words } = came.failed;
    if (sort === 'signed out') return nothing('not signed in', words);
    return NEVER_SENT.has(sort) || mayRepeat(request)
      ? nothing('no answer', words)
      : nothing(
          'unknown',
          `${words} It is not known whether the service has taken it: look there before you send it again.`,
        );
  }
  const answer = answered(came);
  if (answer.said)
    return { ...nothing(failureOf(answer.status), answer.said, answer.status), ...fromRefusal(answer.read, request) };
  const tables = tablesFrom(app, id);
  if (answer.status === 304) return { ...EMPTY, status: 304 };
  const isRead = answer.read.is === 'json';
  const whole = wholeFile(request, came.reply);
  if (!isRead && (request.picks.length > Object.keys(whole).length || tables.length))
    return nothing(
      'broken',
      'The service answered with something that is no JSON, so nothing can be taken out of it.',
      answer.status,
    );
  const out = taken(
    answer.read.is === 'json' ? answer.read.value : null,
    request.picks.filter((p) => !(p.id in whole)),
    tables,
    ports.toLocal,
  );
  Object.assign(out.picks, whole);
  const rows = tables[0] ? out.rows[tables[0].table.id]!.length : 0;
  const mark = answer.headers.find(([name]) => name.toLowerCase() === 'etag')?.[1];
  const marked = mark !== undefined && isMark(mark) ? { mark } : {};
  // The mark of an answer that is one record is the mark of the record.
  for (const { table, at } of tables) {
    const [first, ...others] = out.rows[table.id] ?? [];
    if (first && others.length === 0 && at !== table.fetched!.rows) out.rows[table.id] = [{ ...marked, ...first }];
  }
  const next = pageAfter(request.paging, answer, page, rows, before);
  const vouched = await vouchedFor(app, found, out, ports);
  if ('said' in vouched) return nothing(vouched.failure, vouched.said, answer.status);
  out.notes.push(...vouched.notes);
  return {
    status: answer.status,
    said: null,
    ...out,
    next,
    ...(request.method === 'GET' && marked),
    ...(vouched.facts && { facts: vouched.facts }),
  };
}

/** What a token in an answer says, where the app gives the keys to check it with; or why nobody is signed in by it. */
async function vouchedFor(
  { signIn, variables = [] }: ServicesApp,
  { service, request }: { service: Service; request: ServiceRequest },
  { picks }: Taken,
  ports: AnswerPorts,
): Promise<{ facts?: Record<string, Cell>; notes: string[] } | { said: string; failure: AnswerFailure }> {
  const { id } = request;
  const pick = id === signIn?.enter ? signIn.token : id === signIn?.renew?.request ? signIn.renew.token : null;
  const token = pick === null ? null : picks[signIn?.claims?.pick ?? pick];
  if (!signIn?.claims || typeof token !== 'string' || !token) return { notes: [] };
  const { claims } = signIn;
  const came = await ports.send({
    service: { id: service.id, sign: { how: 'none' }, limits: USUAL_LIMITS },
    filled: { method: 'GET', url: claims.keys, headers: [['accept', 'application/json']] },
    where: 'live',
    mayRepeat: true,
  });
  const keyless = (why: string): { said: string; failure: AnswerFailure } => ({
    said: `The keys that tokens are checked with cannot be had: ${why}`,
    failure: 'no answer',
  });
  if ('failed' in came) return keyless(came.failed.words);
  const { read, said } = answered(came);
  if (said !== null || read.is !== 'json') return keyless(said ?? 'what came is no JSON.');
  const { checkedClaims, factsOf, NotVouchedFor } = await import('./claims.ts');
  try {
    const payload = await checkedClaims(token, claims, read.value, ports.instant?.() ?? Date.now());
    return factsOf(payload, claims, variables, ports.toLocal);
  } catch (e) {
    if (e instanceof NotVouchedFor) return { said: e.message, failure: 'not allowed' };
    throw e;
  }
}

/** The picks that take the answer as it is, as a file. */
function wholeFile({ picks }: ServiceRequest, { headers, body, url }: OutsideReply): Record<string, string> {
  const takes = picks.filter((p) => p.path === '$' && FILES.has(p.type));
  if (takes.length === 0 || body.length === 0) return {};
  const type =
    headers
      .find(([name]) => name.toLowerCase() === 'content-type')?.[1]
      ?.split(';')[0]
      ?.trim() ?? '';
  const address = contentAddress(body, type, nameOfAnswer(headers, url));
  return Object.fromEntries(takes.map((p) => [p.id, address]));
}

/** The headers by which a request is done only where it should be, and once; what the app sends itself stays. */
function conditions(
  { match, unless, once }: AskedMessage,
  { method }: ServiceRequest,
  { headers }: Filled,
): Filled['headers'] {
  const reads = method === 'GET';
  const wanted: [string, string | undefined][] = [
    ['if-match', reads ? undefined : match],
    ['if-none-match', reads ? unless : undefined],
    ['idempotency-key', reads ? undefined : once],
  ];
  return wanted.flatMap(([name, value]): Filled['headers'] =>
    value === undefined || headers.some(([n]) => n.toLowerCase() === name) ? [] : [[name, value]],
  );
}

/** The parts of a query that the request says itself, as opposed to those that its inputs fill. */
const fixedParts = (request: ServiceRequest): string[] =>
  request.query.flatMap((q) => (q.value.includes('{') ? [] : [q.name]));

function failureOf(status: number): AnswerFailure {
  if (status === 401) return 'not signed in';
  if (status === 403) return 'not allowed';
  if (status === 404 || status === 410) return 'not found';
  if (status === 409 || status === 412) return 'changed';
  if (status === 429) return 'too often';
  return status >= 500 ? 'broken' : 'refused';
}
