/** A way into the server that leads to an app. */
export interface Door {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** As Express writes it; `:name` is the address of the app. */
  path: string;
  /**
   * Who may come in: anybody with the link, the holder of the app's key, or whoever brings a key to an address that may
   * still be free.
   */
  for: 'anybody' | 'owner' | 'claimant';
  /** What others are told. */
  words?: string;
  /** It stands open also where people must sign in first: what is behind it is no part of what the app holds. */
  outside?: true;
  /** Records travel by it in the messages of `core/host/protocol.ts`. */
  speaks?: true;
}

const MIRRORS = { for: 'owner', words: 'Only the holder of the app’s key can mirror its tables.' } as const;

const RUNS = { for: 'owner', words: 'Only the holder of the app’s key sees what its host runs.' } as const;

/**
 * Every door to an app, with who may come in. Routes are made from it alone, and every request passes `Entrance`, which
 * finds out who asks.
 */
export const DOORS = {
  check: { method: 'get', path: '/api/apps/:name/check', for: 'claimant' },
  release: { method: 'put', path: '/api/apps/:name', for: 'claimant' },
  remove: {
    method: 'delete',
    path: '/api/apps/:name',
    for: 'owner',
    words: 'Only the holder of the app’s key can remove it.',
  },
  outbox: {
    method: 'get',
    path: '/api/apps/:name/outbox',
    for: 'owner',
    words: 'Only the holder of the app’s key can read its outbox.',
  },
  document: { method: 'get', path: '/api/apps/:name/app', for: 'anybody' },
  history: { method: 'get', path: '/api/apps/:name/history/:table/:record', for: 'anybody' },
  push: { method: 'post', path: '/api/apps/:name/changes', for: 'anybody', speaks: true },
  pull: { method: 'get', path: '/api/apps/:name/changes', for: 'anybody', speaks: true },
  compare: { method: 'post', path: '/api/apps/:name/compared', for: 'anybody', speaks: true },
  live: { method: 'get', path: '/api/apps/:name/live', for: 'anybody', speaks: true },
  asked: { method: 'post', path: '/api/apps/:name/asked', for: 'anybody' },
  mail: { method: 'post', path: '/api/apps/:name/mail', for: 'anybody' },
  answer: { method: 'post', path: '/api/apps/:name/answers', for: 'anybody' },
  pushKey: { method: 'get', path: '/api/apps/:name/subscription', for: 'anybody' },
  subscribe: { method: 'put', path: '/api/apps/:name/subscription', for: 'anybody' },
  unsubscribe: { method: 'post', path: '/api/apps/:name/subscription/ended', for: 'anybody' },
  arrived: { method: 'get', path: '/api/apps/:name/files/:hash/arrived', for: 'anybody' },
  piece: { method: 'patch', path: '/api/apps/:name/files/:hash', for: 'anybody' },
  file: { method: 'get', path: '/api/apps/:name/files/:hash', for: 'anybody' },
  mirrors: { method: 'get', path: '/api/apps/:name/mirrors', ...MIRRORS },
  mirror: { method: 'put', path: '/api/apps/:name/mirrors/:table', ...MIRRORS },
  unmirror: { method: 'delete', path: '/api/apps/:name/mirrors/:table', ...MIRRORS },
  settle: { method: 'post', path: '/api/apps/:name/mirrors/:table/settle', ...MIRRORS },
  lately: { method: 'get', path: '/api/apps/:name/lately', ...RUNS },
  board: { method: 'get', path: '/api/apps/:name/runs', ...RUNS },
  runTrace: { method: 'get', path: '/api/apps/:name/runs/:id', ...RUNS },
  runWish: { method: 'post', path: '/api/apps/:name/runs', ...RUNS },
  mailbox: { method: 'get', path: '/api/apps/:name/mailbox', ...RUNS },
  writeMail: { method: 'post', path: '/api/apps/:name/mailbox', ...RUNS },
  hookSecret: { method: 'get', path: '/api/apps/:name/hooks/:routine', ...RUNS },
  tryHook: { method: 'post', path: '/api/apps/:name/hooks/:routine', ...RUNS },
  hook: { method: 'post', path: '/hooks/:name/:routine{/:secret}', for: 'anybody', outside: true },
  signIn: { method: 'post', path: '/api/apps/:name/sign-in', for: 'anybody', outside: true },
  code: { method: 'post', path: '/api/apps/:name/sign-in/code', for: 'anybody', outside: true },
  invited: { method: 'post', path: '/api/apps/:name/sign-in/invited', for: 'anybody', outside: true },
  askPasskey: { method: 'post', path: '/api/apps/:name/sign-in/passkey-asked', for: 'anybody', outside: true },
  usePasskey: { method: 'post', path: '/api/apps/:name/sign-in/passkey', for: 'anybody', outside: true },
  passkeys: { method: 'get', path: '/api/apps/:name/passkeys', for: 'anybody' },
  beginPasskey: { method: 'post', path: '/api/apps/:name/passkeys/begin', for: 'anybody' },
  addPasskey: { method: 'post', path: '/api/apps/:name/passkeys', for: 'anybody' },
  removePasskey: { method: 'delete', path: '/api/apps/:name/passkeys/:id', for: 'anybody' },
  session: { method: 'get', path: '/api/apps/:name/session', for: 'anybody', outside: true },
  switchTo: { method: 'post', path: '/api/apps/:name/session/switch', for: 'anybody', outside: true },
  signOut: { method: 'delete', path: '/api/apps/:name/session', for: 'anybody', outside: true },
  sessions: { method: 'get', path: '/api/apps/:name/sessions', for: 'anybody' },
  endSession: { method: 'delete', path: '/api/apps/:name/sessions/:id', for: 'anybody' },
  invite: {
    method: 'post',
    path: '/api/apps/:name/invitations',
    for: 'owner',
    words: 'Only the holder of the app’s key can invite people.',
  },
  people: {
    method: 'get',
    path: '/api/apps/:name/people',
    for: 'owner',
    words: 'Only the holder of the app’s key can see who has signed in.',
  },
  mine: { method: 'get', path: '/api/apps/:name/mine', for: 'anybody' },
  keptAbout: {
    method: 'get',
    path: '/api/apps/:name/people/:person/kept',
    for: 'owner',
    words: 'Only the holder of the app’s key can have what is kept about others.',
  },
  erasable: {
    method: 'get',
    path: '/api/apps/:name/people/:person/erasable',
    for: 'owner',
    words: 'Only the holder of the app’s key erases others.',
  },
  erase: {
    method: 'post',
    path: '/api/apps/:name/people/:person/erase',
    for: 'owner',
    words: 'Only the holder of the app’s key erases others.',
  },
  erasableMe: { method: 'get', path: '/api/apps/:name/mine/erasable', for: 'anybody' },
  eraseMe: { method: 'post', path: '/api/apps/:name/mine/erase', for: 'anybody' },
  manifest: { method: 'get', path: '/a/:name/manifest.webmanifest', for: 'anybody', outside: true },
  icon: { method: 'get', path: '/a/:name/icon-:size.png', for: 'anybody', outside: true },
  worker: { method: 'get', path: '/a/:name/sw.js', for: 'anybody', outside: true },
  page: { method: 'get', path: '/a/:name/{*rest}', for: 'anybody', outside: true },
} as const satisfies Record<string, Door>;
