import type { AnyStep } from '../document/meaning.ts';
import { walkSteps } from '../document/walk.ts';
import { stepKinds, triggerKinds } from '../routines/kinds.ts';
import type { AppAccess } from './access-schema.ts';
import type { Table } from '../tables/schema.ts';
import { goesStraight } from '../services/goes-straight.ts';
import type { Service } from '../services/schema.ts';
import type { App } from './schema.ts';

/** Who gets a part of a released document: phones and the host, or the host alone. */
type Half = 'both' | 'host';

/**
 * Which parts of a document leave its host. Every part must be named here, so that a new one, such as a secret or a rule,
 * goes to nobody before somebody has decided.
 */
const PARTS: Record<keyof App, Half> = {
  format: 'both',
  version: 'both',
  id: 'both',
  name: 'both',
  about: 'both',
  tables: 'both',
  screens: 'both',
  parts: 'both',
  tabs: 'both',
  drawer: 'both',
  starts: 'both',
  routines: 'both',
  look: 'both',
  files: 'both',
  variables: 'both',
  zone: 'both',
  work: 'both',
  people: 'both',
  access: 'both',
  elsewhere: 'both',
  services: 'both',
  signIn: 'both',
  helpers: 'both',
  // They tell of records and of mails.
  scenes: 'host',
};

/**
 * The routines of which phones know: all that something of a phone starts, and those that are run by these, without what
 * the host alone starts them by. What only the host runs is its own business.
 */
function routinesOfPhones(app: App): App['routines'] {
  const isOfPhone = (on: string): boolean => triggerKinds.get(on)?.at !== 'host';
  const stay = new Set<string>();
  const add = (r: App['routines'][number]): void => {
    if (stay.has(r.id)) return;
    stay.add(r.id);
    walkSteps(r.steps, (s) => {
      for (const id of routinesIn(s)) for (const other of app.routines) if (other.id === id) add(other);
    });
  };
  for (const r of app.routines) {
    const starts = r.starts ?? [];
    const isTapped = triggerKinds.get('tap')!.starters(app, r.id, () => '').length > 0;
    // What nothing starts yet may be run by hand.
    if (isTapped || starts.length === 0 || starts.some((t) => isOfPhone(t.on))) add(r);
  }
  return app.routines
    .filter((r) => stay.has(r.id))
    .map(({ starts, ...r }) => {
      const own = starts?.filter((t) => isOfPhone(t.on)) ?? [];
      return own.length ? { ...r, starts: own } : r;
    });
}

/** The routines that a step names. */
const routinesIn = (step: AnyStep): string[] =>
  Object.entries(stepKinds.get(step.do)?.properties ?? {}).flatMap(([name, p]) =>
    p.is === 'routine' ? [String((step as unknown as Record<string, unknown>)[name] ?? '')] : [],
  );

/**
 * The phone's half of a release: what leaves the host. Without what only its maker sees: how tables are looked at, where
 * things stand on maps and diagrams, and the picture that the icon was made from. The host's half is the whole document.
 */
export function phoneHalf(app: App): App {
  const half = Object.fromEntries(
    Object.entries(app).filter(([part]) => PARTS[part as keyof App] === 'both'),
  ) as unknown as App;
  const straight = new Set(app.services?.flatMap((s) => s.requests.flatMap((r) => (goesStraight(s, r) ? [r.id] : []))));
  return {
    ...half,
    tables: app.tables.map(({ view: _view, place: _place, ...table }) => table).map((t) => withoutPaths(t, straight)),
    routines: routinesOfPhones(app),
    screens: app.screens.map(({ place: _place, ...screen }) => screen),
    ...(app.parts && { parts: app.parts.map(({ place: _place, ...part }) => part) }),
    // That people sign in is known outside; who may do what, and who is who, stays with the host.
    ...(app.access && { access: { ...without(app.access), roles: [], rules: [] } }),
    ...(app.services && { services: app.services.map(asPhonesKnowIt) }),
    look: { ...app.look, icon: { ...app.look.icon, picture: null } },
  };
}

/** Whose addresses are let in is nobody's business outside. */
const without = ({ domains: _domains, ...access }: AppAccess): AppAccess => access;

/** Where something is in an answer is the host's business: it takes it out. */
const withoutPaths = ({ inStep, ...table }: Table, straight: ReadonlySet<string>): Table =>
  (table.fetched && !asksStraight(table, straight)) || inStep
    ? {
        ...table,
        ...(table.fetched && {
          fetched: Object.fromEntries(
            Object.entries({ ...table.fetched, rows: '$' }).map(([name, part]) => [
              name,
              typeof part === 'object' && 'at' in part && part.at !== undefined ? { ...part, at: '$' } : part,
            ]),
          ) as unknown as Table['fetched'],
        }),
        fields: table.fields.map(({ pick: _pick, ...field }) => field),
      }
    : table;

/** Do phones ask any of its requests themselves? Then they take its records out of the answers. */
const asksStraight = ({ fetched: f }: Table, straight: ReadonlySet<string>): boolean =>
  [f?.request, f?.one?.request, f?.adds?.request, f?.changes?.request].some(
    (id) => id !== undefined && straight.has(id),
  );

/**
 * Phones know what a request is called, what it is given and what comes back; the host alone knows where and how it asks,
 * but for what phones ask themselves.
 */
const asPhonesKnowIt = (service: Service): Service => {
  const { id, name, limits, requests, sign, test, live, headers } = service;
  const own = requests.some((r) => goesStraight(service, r));
  return {
    id,
    name,
    test: own ? test : '',
    ...(own && live !== undefined && { live }),
    headers: own ? headers : [],
    // Whether it wants the person’s token is the phone’s business; how else it is signed is not.
    sign: sign.how === 'person' ? sign : { how: 'none' },
    limits,
    requests: requests.map((r) => {
      const inputs = r.inputs.map(({ test: _test, ...input }) => input);
      if (goesStraight(service, r)) {
        const { samples: _samples, about: _about, ...request } = r;
        return { ...request, inputs };
      }
      return {
        id: r.id,
        name: r.name,
        method: r.method,
        path: '',
        query: [],
        headers: [],
        inputs,
        picks: r.picks.map((p) => ({ ...p, path: '$' })),
        ...(r.open && { open: r.open }),
      };
    }),
  };
};
