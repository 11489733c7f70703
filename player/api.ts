import type { ReactNode } from 'react';
import { isLiveFrame } from '../core/app/frames.ts';
import type { App } from '../core/app/schema.ts';
import type { Dressed } from '../core/app/themes.ts';
import type { Sending } from '../core/host/link.ts';
import type { Answer } from '../core/routines/asks.ts';
import type { Asked } from '../core/session/effects.ts';

/** What the player needs to know of an app to frame its screens. */
export type Frame = Pick<App, 'id' | 'name' | 'tabs' | 'drawer' | 'starts'> & {
  /** How it looks, worked out. */
  look: Dressed;
  /** The address of the logo's picture. */
  logo: string;
  /** Counts of its tabs, and what is seen of them, change. */
  isLive: boolean;
  screens: { id: string; name: string; given: string | null; icon: string; isPersonal: boolean }[];
  /** The table of people, where the app has one. */
  people: string | null;
  /** People sign in to it. */
  signsIn: boolean;
  /** Hosts elsewhere that it may ask for pictures, sounds and pages; null where that is not known here. */
  hosts: string[] | null;
};

/** What a frame shows that is not written in the document. */
export interface Around {
  look: Dressed;
  hosts: string[] | null;
  /** The screens that look otherwise for each person. */
  personal?: ReadonlySet<string>;
  /** The table of people. */
  people?: string | null;
  /** People sign in to it here. */
  signsIn?: boolean;
}

/** The frame of an app. */
export function frameOf(
  app: App,
  { look, hosts, personal = new Set(), people = null, signsIn = false }: Around,
): Frame {
  return {
    id: app.id,
    name: app.name,
    tabs: app.tabs,
    drawer: app.drawer,
    starts: app.starts,
    look,
    logo: logoOf(app),
    isLive: isLiveFrame(app),
    screens: app.screens.map(({ id, name, given, icon }) => ({ id, name, given, icon, isPersonal: personal.has(id) })),
    people,
    signsIn,
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
  /** Some figures were worked out by the host, from records that are not here. */
  told: boolean;
  /** The file that is on its way to the host. */
  sending: Sending | null;
}

/** What is asked of a device: answers it, or null to let the page do it by itself. */
export type StandIn = (props: {
  what: Extract<Asked, { do: 'device' }>['what'];
  answer(given: Answer): void;
}) => ReactNode;
