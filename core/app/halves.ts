import type { Table } from '../tables/schema.ts';
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
  people: 'both',
  elsewhere: 'both',
  services: 'both',
  signIn: 'both',
  helpers: 'both',
};

/**
 * The phone's half of a release: what leaves the host. Without what only its maker sees: how tables are looked at, where
 * things stand on maps and diagrams, and the picture that the icon was made from. The host's half is the whole document.
 */
export function phoneHalf(app: App): App {
  const half = Object.fromEntries(
    Object.entries(app).filter(([part]) => PARTS[part as keyof App] === 'both'),
  ) as unknown as App;
  return {
    ...half,
    tables: app.tables.map(({ view: _view, place: _place, ...table }) => table).map(withoutPaths),
    screens: app.screens.map(({ place: _place, ...screen }) => screen),
    ...(app.parts && { parts: app.parts.map(({ place: _place, ...part }) => part) }),
    ...(app.services && { services: app.services.map(asPhonesKnowIt) }),
    look: { ...app.look, icon: { ...app.look.icon, picture: null } },
  };
}

/** Where something is in an answer is the host's business: it takes it out. */
const withoutPaths = ({ inStep, ...table }: Table): Table =>
  table.fetched || inStep
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

/** Phones know what a request is called, what it is given and what comes back; the host alone knows where and how it asks. */
const asPhonesKnowIt = ({ id, name, limits, requests, sign }: Service): Service => ({
  id,
  name,
  test: '',
  headers: [],
  // Whether it wants the person’s token is the phone’s business; how else it is signed is not.
  sign: sign.how === 'person' ? sign : { how: 'none' },
  limits,
  requests: requests.map((r) => ({
    id: r.id,
    name: r.name,
    method: r.method,
    path: '',
    query: [],
    headers: [],
    inputs: r.inputs.map(({ test: _test, ...input }) => input),
    picks: r.picks.map((p) => ({ ...p, path: '$' })),
    ...(r.open && { open: r.open }),
  })),
});
