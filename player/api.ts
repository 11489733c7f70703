import type { ReactNode } from 'react';
import { isLiveFrame } from '../core/app/frames.ts';
import type { App } from '../core/app/schema.ts';
import type { Sending } from '../core/host/link.ts';
import type { Cell } from '../core/fields/lists.ts';
import type { Answer } from '../core/routines/asks.ts';
import type { Knows } from '../core/routines/trigger.ts';
import type { Effect, SaveAnswer } from '../core/session/effects.ts';
import type { Opening, TypedAnswer } from '../core/session/variables.ts';
import type { Patch } from '../core/screens/live-screen.ts';

/** Whose record the person who uses the app is, in the table of people. */
export interface PersonRecord {
  table: string;
  record: string;
}

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
  /**
   * An element was tapped, or the row of a list; `property` names another tap than the first, `knows` what is known of
   * it. Effects follow.
   */
  tapped(view: string, key: string, property?: string, knows?: Knows): Promise<void>;
  /** What a person said, or the device gave, when an effect asked for it. */
  answered(id: string, answer: Answer): Promise<void>;
  /** A row of a list was dragged before the record of another, or to the end. */
  moved(view: string, key: string, before: string | null): Promise<void>;
  /** A person fills in an input of a variable. Gives what it shows then, or what is wrong in words. */
  typed(variable: string, cell: Cell): Promise<TypedAnswer>;
  /** Saves values of a record, those of a whole form or, where `isPart` says so, of a single input. */
  saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart?: boolean): Promise<SaveAnswer>;
  choices(table: string, search: string): Promise<{ id: string; title: string }[]>;
  /** Keeps a file and gives the address that a record holds it by. Rejects in words when it cannot be kept. */
  keepFile(content: Blob, name: string): Promise<string>;
  /** The content behind such an address; null when it cannot be had now. */
  file(address: string): Promise<Blob | null>;
  /** Titles of records, by id. */
  titles(table: string, ids: string[]): Promise<Record<string, string>>;
  /** Who uses the app here, by name; null while nobody has said so. */
  person(): Promise<string | null>;
  /** From now on this person uses it, or nobody known. */
  beUsedBy(person: string | null, record?: PersonRecord | null): Promise<void>;
}

/** Where effects come from. `listen` gives the way to stop it. */
export interface Effects {
  listen(take: (effect: Effect) => void): () => void;
}

/** Passes effects on to whoever listens. */
export class EffectChannel implements Effects {
  private readonly takers = new Set<(effect: Effect) => void>();
  /** Asked while nobody was there to hear it. */
  private waiting: Effect[] = [];
  listen(take: (effect: Effect) => void): () => void {
    this.takers.add(take);
    const waited = this.waiting;
    this.waiting = [];
    for (const effect of waited) take(effect);
    return () => this.takers.delete(take);
  }
  send(effect: Effect): void {
    if (this.takers.size === 0 && (effect.do === 'ask' || effect.do === 'device')) this.waiting.push(effect);
    for (const take of this.takers) take(effect);
  }
}

/** What the player needs to know of an app to frame its screens. */
export type Frame = Pick<App, 'id' | 'name' | 'tabs' | 'drawer' | 'starts' | 'look'> & {
  /** The address of the logo's picture. */
  logo: string;
  /** Counts of its tabs, and what is seen of them, change. */
  isLive: boolean;
  screens: { id: string; name: string; given: string | null; icon: string; isPersonal: boolean }[];
  /** The table of people, where the app has one. */
  people: string | null;
  /** Hosts elsewhere that it may ask for pictures, sounds and pages; null where that is not known here. */
  hosts: string[] | null;
};

/** The frame of an app; `personal` are its screens that look otherwise for each person. */
export function frameOf(
  app: App,
  hosts: string[] | null,
  personal: ReadonlySet<string> = new Set(),
  people: string | null = null,
): Frame {
  return {
    id: app.id,
    name: app.name,
    tabs: app.tabs,
    drawer: app.drawer,
    starts: app.starts,
    look: app.look,
    logo: logoOf(app),
    isLive: isLiveFrame(app),
    screens: app.screens.map(({ id, name, given, icon }) => ({ id, name, given, icon, isPersonal: personal.has(id) })),
    people,
    hosts,
  };
}

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

/** An effect that waits for an answer. */
export type Asked = Extract<Effect, { id: string }>;

/** What is asked of a device: answers it, or null to let the page do it by itself. */
export type StandIn = (props: {
  what: Extract<Asked, { do: 'device' }>['what'];
  answer(given: Answer): void;
}) => ReactNode;
