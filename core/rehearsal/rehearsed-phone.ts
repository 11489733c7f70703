import { NOBODY, type Who } from '../access/access.ts';
import { elementOf, placeOf } from '../app/edits.ts';
import { elementName } from '../app/names.ts';
import type { App } from '../app/schema.ts';
import { overtakenSaid } from '../host/overtaken.ts';
import type { News } from '../host/protocol.ts';
import type { PersonRecord, PhoneApi } from '../phone/api.ts';
import type { PhonePorts } from '../phone/ports.ts';
import type { NewPlace } from '../phone/places.ts';
import type { WalkApi, Where } from '../phone/walk.ts';
import { ownerOf } from '../screens/part-places.ts';
import type { Happened } from '../session/effects.ts';
import type { Network } from '../world/network.ts';
import type { PhoneOptions, World, WorldPhone } from '../world/world.ts';
import type { PhoneAct } from './phone-acts.ts';
import type { About, Note, NotedRun } from './notes.ts';
import { Seen } from './seen.ts';
import { recordName } from './words.ts';

/** Whoever a persona is, as the host and the phone know them. */
export interface Somebody {
  who: Who;
  /** What people call them. */
  name: string;
  person: { name: string; record: PersonRecord | null } | null;
}

/** A phone of a rehearsal as it stands now. */
export interface PhoneState {
  id: string;
  name: string;
  /** The record of whoever uses it; null for nobody in particular. */
  person: string | null;
  network: Network;
  /** So many milliseconds its clock is ahead. */
  off: number;
  isOpen: boolean;
  /** How often it was opened: another page draws it each time. */
  openings: number;
  online: boolean;
  /** Changes and messages that wait to be sent. */
  waiting: number;
}

interface Around {
  world: World;
  app(): App;
  note(of: string, sort: Note['sort'], said: string, about?: About, run?: NotedRun): void;
  changed(): void;
  /** Hears what is done on it, before anything comes of it. */
  acted(phone: RehearsedPhone, act: PhoneAct): void;
  letGo: PhonePorts['letGo'];
}

/** A phone of a rehearsal: what somebody does on it, and what comes of that, is noted. */
export class RehearsedPhone {
  readonly there: WorldPhone;
  readonly api: PhoneApi;
  readonly walk: WalkApi;
  private isOpen = true;
  private online = false;
  private waiting = 0;
  readonly seen = new Seen();
  private screen = '';
  private heard = '';
  /** The screens that were open when a page last left; whoever comes back finds them. */
  private stack: NewPlace[] | null = null;

  constructor(
    readonly id: string,
    readonly somebody: Somebody,
    private readonly around: Around,
  ) {
    const options: PhoneOptions = {
      who: somebody.who,
      ...(somebody.person && { person: somebody.person }),
      happened: (what) => this.happened(what),
      says: (words) => {
        // What is said at every try is said once.
        if (words !== this.heard) this.note('told', `was told “${(this.heard = words)}”`);
      },
      refused: (list) => {
        for (const { reason, change } of list) {
          const { table, record } = change;
          const what = recordName(around.app(), this.there.records, table, record);
          this.note('refused', `was refused ${what}: ${reason}`, { table, record });
        }
      },
      overtaken: (list) => this.note('told', overtakenSaid(this.there.records, list)),
      reports: (online, waiting) => {
        [this.online, this.waiting] = [online, waiting];
        around.changed();
      },
      travelled: (what, value) => {
        // What comes in pages is not what has happened, but what was there.
        const n = what === 'news' || what === 'catch-up' ? ((value as Partial<News>).changes?.length ?? 0) : 0;
        if (n) this.note('travelled', n === 1 ? 'received 1 change' : `received ${n} changes`);
      },
      did: (effect) => {
        if (effect.do === 'notice') this.note('told', `was told “${effect.title}”`);
        else if (effect.do === 'message') this.note('told', `was shown “${effect.words}”`);
        else if (effect.do === 'ask') this.note('told', `was asked “${effect.question.words}”`);
      },
      letGo: around.letGo,
    };
    this.there = around.world.phone(options);
    this.api = this.noting();
    this.walk = this.walking();
  }

  private note(sort: Note['sort'], said: string, about?: About, run?: NotedRun): void {
    this.around.note(this.id, sort, said, about, run);
  }

  private happened({ said, tone, about, run }: Happened): void {
    const sort = tone === 'bad' ? 'refused' : 'run';
    this.note(
      sort,
      run ? `ran ${run.name}${run.error === undefined ? '' : `, which stopped: ${run.error}`}` : said,
      about,
      run,
    );
  }

  /** The phone as a page asks it. What somebody does on it is noted. */
  private noting(): PhoneApi {
    const own: Partial<PhoneApi> = {
      tapped: (view, key, property, knows) => {
        this.acted({ did: 'tapped', view, key, property, knows });
        this.tapped(view, key);
        return this.there.phone.tapped(view, key, property, knows);
      },
      typed: (variable, cell) => {
        this.acted({ did: 'typed', variable, cell });
        return this.there.phone.typed(variable, cell);
      },
      look: (view, key, change) => {
        this.acted({ did: 'looked', view, key, change });
        return this.there.phone.look(view, key, change);
      },
      moved: (view, key, before) => {
        this.acted({ did: 'moved', view, key, before });
        return this.there.phone.moved(view, key, before);
      },
      answered: (id, answer) => {
        this.acted({ did: 'answered', id, answer });
        return this.there.phone.answered(id, answer);
      },
      keepFile: async (content, name) => {
        const address = await this.there.phone.keepFile(content, name);
        this.acted({ did: 'kept a file', content, name, address });
        return address;
      },
      saveForm: async (table, record, values, isPart) => {
        this.acted({ did: 'saved', table, record, values, isPart: isPart === true });
        const answer = await this.there.phone.saveForm(table, record, values, isPart);
        const app = this.around.app();
        if ('saved' in answer)
          this.note(
            'done',
            answer.created
              ? `added ${recordName(app, this.there.records, table, answer.saved)}`
              : `changed ${recordName(app, this.there.records, table, answer.saved)}`,
            { table, record: answer.saved },
          );
        else this.note('refused', `could not save: ${Object.values(answer.problems).join(' ')}`, { table });
        return answer;
      },
    };
    return new Proxy({} as PhoneApi, {
      get: (_, name) => {
        const mine = own[name as keyof PhoneApi];
        if (mine) return mine;
        const { phone } = this.there;
        const of = phone[name as keyof typeof phone] as unknown;
        return typeof of === 'function' ? (of.bind(phone) as unknown) : of;
      },
    });
  }

  private tapped(view: string, key: string): void {
    const app = this.around.app();
    const node = this.seen.nodeAt(view, key);
    const id = ownerOf(node?.id ?? key.split('/').at(-1)!);
    const element = elementOf(app, id);
    const screen = placeOf(app, id)?.screen;
    const row = this.rowAt(view, key);
    const said = element
      ? `tapped ${elementName(app, element)}${row ? ` of ${row}` : ''}`
      : `tapped ${row || 'the screen'}`;
    this.note('done', said, screen && { screen: screen.id, element: id });
  }

  /** The title of the record of the row that a key lies in; empty for none. */
  private rowAt(view: string, key: string): string {
    const record = this.seen.rowOf(view, key);
    return record ? this.titleOf(record) : '';
  }
  titleOf(record: string): string {
    for (const { id } of this.around.app().tables) {
      const title = this.there.records.row(id, record)?.title();
      if (title) return title;
    }
    return '';
  }

  private acted(act: PhoneAct): void {
    this.around.acted(this, act);
  }

  /** What leads somebody through the app, as a page asks it. */
  private walking(): WalkApi {
    const own: Partial<WalkApi> = {
      begin: (page, from) => {
        this.seen.begin();
        const stack = from.stack ?? this.stack;
        if (!stack) this.screen = '';
        return this.there.phone.walk.begin(this.seen.page(page, { where: (where) => this.sees(where) }), {
          ...from,
          stack,
        });
      },
      go: (to) => {
        this.acted({ did: 'went', to });
        return this.there.phone.walk.go(to);
      },
      leaveAnyway: () => {
        this.acted({ did: 'left', anyway: true });
        return this.there.phone.walk.leaveAnyway();
      },
      stay: () => {
        this.seen.leaving = false;
        this.acted({ did: 'left', anyway: false });
        return this.there.phone.walk.stay();
      },
    };
    return new Proxy({} as WalkApi, {
      get: (_, name) => {
        const mine = own[name as keyof WalkApi];
        if (mine) return mine;
        const { walk } = this.there.phone;
        const of = walk[name as keyof WalkApi];
        return typeof of === 'function' ? (of as (...args: unknown[]) => unknown).bind(walk) : of;
      },
    });
  }

  private sees({ stack }: Where): void {
    const top = stack.at(-1);
    this.stack = stack.map(({ opening: _opening, ...place }) => place);
    const at = `${top?.screen} ${top?.record ?? ''}`;
    if (!top || at === this.screen) return;
    this.screen = at;
    const name = this.around.app().screens.find((s) => s.id === top.screen)?.name ?? 'a screen';
    const of = top.record ? this.titleOf(top.record) : '';
    this.note('done', `sees ${name}${of ? ` of ${of}` : ''}`, { screen: top.screen });
  }

  // What is done to the phone

  set network(now: Network) {
    if (now === this.there.network) return;
    this.acted({ did: 'network', network: now });
    this.there.network = now;
    this.note('done', NETWORKS[now]);
    // A phone notices that its network is back.
    if (now === 'off') this.there.phone.report(false);
    else void this.there.phone.connect();
    this.around.changed();
  }

  /** Its clock is so many milliseconds ahead. */
  set off(ms: number) {
    this.acted({ did: 'clock', ahead: ms });
    this.there.off = ms;
    this.note('done', ms === 0 ? 'has the right time again' : `has a clock that is ${spanSaid(ms)}`);
    this.around.changed();
  }

  /** It goes out at once; what it had not kept by then is lost. */
  close(): void {
    if (!this.isOpen) return;
    this.acted({ did: 'went off' });
    this.isOpen = false;
    this.online = false;
    this.there.close();
    this.note('done', 'went off at once');
    this.around.changed();
  }

  /** It opens the app again, from what it had kept. */
  open(): void {
    this.acted({ did: 'opened' });
    if (this.isOpen) this.there.close();
    this.isOpen = true;
    // The app begins where it always begins.
    this.stack = null;
    this.there.restart();
    this.note('done', 'opened the app again');
    this.around.changed();
  }

  get state(): PhoneState {
    const { id, somebody, isOpen, online, waiting, there } = this;
    return {
      id,
      name: somebody.name,
      person: somebody.person?.record?.record ?? null,
      network: there.network,
      off: there.off,
      isOpen,
      openings: there.openings,
      online,
      waiting,
    };
  }
}

const NETWORKS: Record<Network, string> = {
  on: 'has a network again',
  slow: 'has a slow network',
  off: 'has no network',
  'answers lost': 'loses the answers of its network',
  twice: 'has a network on which all arrives twice',
};

function spanSaid(ms: number): string {
  const minutes = Math.round(Math.abs(ms) / 60_000);
  const span = minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`;
  return `${span} ${ms > 0 ? 'ahead' : 'behind'}`;
}

/** Nobody who has signed in, or nobody in particular where nobody does. */
export const nobodyHere = (app: App): Somebody => ({
  who: NOBODY,
  name: app.access ? 'Nobody signed in' : 'Nobody in particular',
  person: null,
});
