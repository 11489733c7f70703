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
    tables: app.tables.map(({ view: _view, place: _place, ...table }) => table),
    screens: app.screens.map(({ place: _place, ...screen }) => screen),
    ...(app.parts && { parts: app.parts.map(({ place: _place, ...part }) => part) }),
    look: { ...app.look, icon: { ...app.look.icon, picture: null } },
  };
}
