import type { App, Tap } from '../core/app/schema.ts';
import type { Cell } from '../core/records/cells.ts';
import type { DrawOptions } from '../core/screens/draw.ts';
import type { DrawnScreen, ScopeRef } from '../core/screens/drawn.ts';
import type { Effect, SaveAnswer } from '../core/session/session.ts';

/** What the player asks of the engine behind it, wherever that runs. */
export interface PlayerApi {
  draw(screen: string, options: DrawOptions): Promise<DrawnScreen | null>;
  tap(tap: Tap, scope: ScopeRef[]): Promise<Effect[]>;
  saveForm(table: string, record: string | null, values: Record<string, Cell>): Promise<SaveAnswer>;
  choices(table: string, search: string): Promise<{ id: string; title: string }[]>;
  /** Titles of records, by id. */
  titles(table: string, ids: string[]): Promise<Record<string, string>>;
}

/** What the player needs to know of an app to frame its screens. */
export type Frame = Pick<App, 'name' | 'tabs' | 'look'> & {
  screens: { id: string; name: string; given: string | null; icon: string }[];
};

export const frameOf = (app: App): Frame => ({
  name: app.name,
  tabs: app.tabs,
  look: app.look,
  screens: app.screens.map(({ id, name, given, icon }) => ({ id, name, given, icon })),
});

/** How the device stands with its host. */
export interface DeviceState {
  online: boolean;
  /** Changes that wait to be sent. */
  waiting: number;
  release: number;
}
