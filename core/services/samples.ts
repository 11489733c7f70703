import { newId } from '../document/ids.ts';
import { freeName } from '../document/names.ts';
import type { CameBack } from './answer.ts';
import type { Answered } from './asking.ts';
import { HIDDEN } from './sign.ts';
import type { Sample, ServiceRequest } from './schema.ts';

/** Answers that are kept with an app: they stand for the service where it is away, in tests and from the command line. */

/** A sample is no copy of somebody’s data: it keeps so many letters. */
export const MOST_SAMPLE_LETTERS = 60_000;
const MOST_SAMPLES = 6;

/** Names of values that let somebody in. */
const SECRET_NAME = /token|secret|password|passwd|jwt|authorization|api[-_]?key|session[-_]?id|cookie/i;
/** A signed token (RFC 7519), under whatever name. */
const SIGNED_TOKEN = /^[\w-]{8,}\.[\w-]{8,}\.[\w-]*$/;

/** An answer as a sample; what lets somebody in is not in it, and long lists are cut. Null where it is no text. */
export function sampleFrom({
  status,
  read,
  headers,
}: Pick<Answered, 'status' | 'read' | 'headers'>): Omit<Sample, 'id' | 'name'> | null {
  if (read.is === 'file') return null;
  const type = headers.find(([name]) => name.toLowerCase() === 'content-type')?.[1].slice(0, 200) ?? '';
  if (read.is === 'text') {
    const body = read.text.slice(0, MOST_SAMPLE_LETTERS);
    return { status, type, body, ...(body.length < read.text.length && { cut: true as const }) };
  }
  const safe = withoutSecrets(read.value);
  let body = JSON.stringify(safe);
  let most = 200;
  while (body.length > MOST_SAMPLE_LETTERS && most > 0) {
    body = JSON.stringify(shortened(safe, most));
    most = most === 1 ? 0 : Math.ceil(most / 2);
  }
  if (body.length > MOST_SAMPLE_LETTERS) return null;
  return { status, type: 'application/json', body, ...(most < 200 && { cut: true as const }) };
}

function withoutSecrets(json: unknown, name = ''): unknown {
  if (typeof json === 'string')
    return (SECRET_NAME.test(name) && !/type/i.test(name)) || SIGNED_TOKEN.test(json) ? HIDDEN : json;
  if (Array.isArray(json)) return json.map((x) => withoutSecrets(x, name));
  if (typeof json !== 'object' || json === null) return json;
  return Object.fromEntries(Object.entries(json).map(([key, x]) => [key, withoutSecrets(x, key)]));
}

function shortened(json: unknown, most: number): unknown {
  if (Array.isArray(json)) return json.slice(0, most).map((x) => shortened(x, most));
  if (typeof json !== 'object' || json === null) return json;
  return Object.fromEntries(Object.entries(json).map(([key, x]) => [key, shortened(x, most)]));
}

/** Keeps a sample with a request; it takes the place of one with the same status. Gives its id. */
export function keepSample(request: ServiceRequest, sample: Omit<Sample, 'id' | 'name'>): string {
  const others = (request.samples ?? []).filter((s) => s.status !== sample.status);
  const known = request.samples?.find((s) => s.status === sample.status);
  const name =
    known?.name ??
    freeName(
      sample.status < 400 ? 'Good' : `Refused with ${sample.status}`,
      others.map((s) => s.name),
    );
  const kept = { ...sample, id: known?.id ?? newId('x'), name };
  // Good ones come first, so that they are not those that are let go.
  request.samples = [...others.slice(0, MOST_SAMPLES - 1), kept].sort((a, b) => a.status - b.status);
  return kept.id;
}

/** The sample that stands for a service that is away: a good one. */
export const goodSample = (request: Pick<ServiceRequest, 'samples'>): Sample | undefined =>
  request.samples?.find((s) => s.status < 400);

/** A sample as if the service had answered with it. */
export const replyOf = ({ status, type, body }: Sample): CameBack => ({
  reply: { status, headers: [['content-type', type]], body: new TextEncoder().encode(body), ms: 0, url: '' },
  tries: 1,
});
