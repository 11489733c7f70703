/** What can go wrong when a service is asked. Each sort has its words and what to do about it. */
export const FAILURES = {
  'no address': 'The address cannot be asked.',
  unsigned: 'The key of the service is not here yet. Type it in at the service.',
  'signed out': 'Sign in first.',
  'no token': 'The service gives the app no token. Look at the address of its tokens, the id and the key.',
  blocked: 'This server does not ask that address.',
  'not found': 'There is no such host. Look at the spelling of the address.',
  refused: 'Nobody answers at this address. The service may be down, or the port is another one.',
  certificate: 'The certificate of the service is not valid, so nothing was sent to it.',
  'too slow': 'The service took too long to answer.',
  'too large': 'The answer is larger than is allowed for this service.',
  'cut off': 'The answer was cut off before its end.',
  redirects: 'The service sends from one address to the next without end.',
  unreadable: 'The answer is packed in a way that cannot be read.',
} as const;
export type FailureSort = keyof typeof FAILURES;

/** A service was asked and gave no answer, or none that may be taken. */
export class NoAnswer extends Error {
  override name = 'NoAnswer';
  constructor(
    readonly sort: FailureSort,
    words: string = FAILURES[sort],
  ) {
    super(words);
  }
}

/** Codes of Node.js and TLS, by what they mean to whoever asked. */
const BY_CODE: [codes: RegExp, sort: FailureSort][] = [
  [/^(ENOTFOUND|EAI_AGAIN|ENODATA)$/, 'not found'],
  [/^(ECONNREFUSED|EHOSTUNREACH|ENETUNREACH|EHOSTDOWN)$/, 'refused'],
  [/CERT|SELF_SIGNED|UNABLE_TO_VERIFY|ERR_TLS|^ERR_SSL|^EPROTO$/, 'certificate'],
  [/^(UND_ERR_CONNECT_TIMEOUT|UND_ERR_HEADERS_TIMEOUT|UND_ERR_BODY_TIMEOUT|ETIMEDOUT|UND_ERR_ABORTED)$/, 'too slow'],
  [/^UND_ERR_HEADERS_OVERFLOW$/, 'too large'],
];

/** What an error of the network means. Nothing of the inside is in its words. */
export function failureOf(error: unknown): NoAnswer {
  for (let e = error as { code?: unknown; name?: string; cause?: unknown } | undefined; e; e = e.cause as typeof e) {
    if (e instanceof NoAnswer) return e;
    if (e.name === 'TimeoutError' || e.name === 'AbortError') return new NoAnswer('too slow');
    const code = typeof e.code === 'string' ? e.code : '';
    for (const [codes, sort] of BY_CODE) if (codes.test(code)) return new NoAnswer(sort);
  }
  return new NoAnswer('cut off');
}
