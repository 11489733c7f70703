import { isLiveFrame } from '../core/app/frames.ts';
import type { App } from '../core/app/schema.ts';
import type { Sending } from '../core/host/link.ts';
import type { Cell } from '../core/fields/lists.ts';
import type { Effect, SaveAnswer } from '../core/session/effects.ts';
import type { Opening, TypedAnswer } from '../core/session/variables.ts';
import type { Patch } from '../core/screens/live-screen.ts';

/** What the player asks of the engine behind it, wherever that runs. */
export interface PlayerApi {
  /** Shows a screen in a view: all of it as the first patch, then what changes. False when there is no such screen. */
  show(
    view: string,
    screen: string,
    record: string | null,
    take: (patch: Patch) => Promise<void>,
    /** Which opening of the screen this is, among those that are open; none where nobody walks, as in a preview. */
    opening?: Opening,
  ): Promise<boolean>;
  leave(view: string): Promise<void>;
  /** What a person does to see an element otherwise: scrolls a list, types words to look for. */
  look(view: string, key: string, change: Record<string, unknown>): Promise<void>;
  /** An element was tapped, or the row of a list; `property` names another tap than the first. Effects follow. */
  tapped(view: string, key: string, property?: string): Promise<void>;
  /** A row of a list was dragged before the record of another, or to the end. */
  moved(view: string, key: string, before: string | null): Promise<void>;
  /** A person fills in an input of a variable. Gives what it shows then, or what is wrong in words. */
  typed(variable: string, cell: Cell): Promise<TypedAnswer>;
  saveForm(table: string, record: string | null, values: Record<string, Cell>): Promise<SaveAnswer>;
  choices(table: string, search: string): Promise<{ id: string; title: string }[]>;
  /** Keeps a file and gives the address that a record holds it by. Rejects in words when it cannot be kept. */
  keepFile(content: Blob, name: string): Promise<string>;
  /** The content behind such an address; null when it cannot be had now. */
  file(address: string): Promise<Blob | null>;
  /** Titles of records, by id. */
  titles(table: string, ids: string[]): Promise<Record<string, string>>;
}

/** Where effects come from. `listen` gives the way to stop it. */
export interface Effects {
  listen(take: (effect: Effect) => void): () => void;
}

/** Passes effects on to whoever listens. */
export class EffectChannel implements Effects {
  private readonly takers = new Set<(effect: Effect) => void>();
  listen(take: (effect: Effect) => void): () => void {
    this.takers.add(take);
    return () => this.takers.delete(take);
  }
  send(effect: Effect): void {
    for (const take of this.takers) take(effect);
  }
}

/** What the player needs to know of an app to frame its screens. */
export type Frame = Pick<App, 'id' | 'name' | 'tabs' | 'drawer' | 'starts' | 'look'> & {
  /** The address of the logo's picture. */
  logo: string;
  /** Counts of its tabs, and what is seen of them, change. */
  isLive: boolean;
  screens: { id: string; name: string; given: string | null; icon: string }[];
};

export const frameOf = (app: App): Frame => ({
  id: app.id,
  name: app.name,
  tabs: app.tabs,
  drawer: app.drawer,
  starts: app.starts,
  look: app.look,
  logo: logoOf(app),
  isLive: isLiveFrame(app),
  screens: app.screens.map(({ id, name, given, icon }) => ({ id, name, given, icon })),
});

function logoOf({ look, files }: App): string {
  const file = look.logo && files.find((f) => `file:${f.id}` === look.logo);
  return file ? `data:${file.type};base64,${file.data}` : '';
}

/** How the device stands with its host. */
export interface DeviceState {
  online: boolean;
  /** Changes that wait to be sent. */
  waiting: number;
  release: number;
  /** The file that is on its way to the host. */
  sending: Sending | null;
}
