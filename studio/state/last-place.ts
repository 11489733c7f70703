/** Where somebody was last in each workspace of each app, as addresses; until the page is closed. */
const places = new Map<string, string>();
const keyOf = (app: string, workspace: string): string => `${app}/${workspace}`;

export const leaveAt = (app: string, workspace: string, address: string): void =>
  void places.set(keyOf(app, workspace), address);

/** The address to go on at in a workspace; its own where nobody was there yet. */
export const placeIn = (app: string, workspace: string): string =>
  places.get(keyOf(app, workspace)) ?? `/app/${app}/${workspace}`;
