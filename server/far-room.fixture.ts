import type { Who } from '../core/access/access.ts';
import { phoneHalf } from '../core/app/halves.ts';
import type { App } from '../core/app/schema.ts';
import { deviceClock, pause } from '../core/document/time.ts';
import { Refused } from '../core/document/refused.ts';
import { stampText } from '../core/host/clock.ts';
import type { Asked, Compared, Have, News } from '../core/host/protocol.ts';
import { OfflineError, PROTOCOL } from '../core/host/link.ts';
import type { Change, RecordState } from '../core/records/change.ts';
import type { Note } from '../core/rehearsal/notes.ts';
import { RehearsedPhone } from '../core/rehearsal/rehearsed-phone.ts';
import type { BoardMessage } from '../core/runs/board.ts';
import type { MailboxMessage } from '../core/runs/mailbox.ts';
import type { ReleasedApp } from '../core/released/released.ts';
import type { Kinds } from '../core/session/session.ts';
import type { AroundPhone } from '../core/world/phone.ts';
import { WorldPhone } from '../core/world/phone.ts';
import { VirtualClock } from '../core/world/clock.ts';
import { Random } from '../core/world/random.ts';
import type { World } from '../core/world/world.ts';
import { KEY, type Call, type TestServer } from './fixture.ts';

/** One of the people of an app. */
export interface FarPerson {
  record: string;
  name: string;
  mail: string;
}

type Board = Pick<BoardMessage, 'live' | 'routines'>;

/** What is begun later than so is not waited for, in milliseconds. */
const MOST_MS = 3000;

let requests = 0;

/** Phones of people who are signed in at a server, driven as those of a rehearsal are. Its app is in UTC. */
export class FarRoom {
  readonly phones: Record<string, RehearsedPhone> = {};
  /** What the server has taken, in its order, as far as it was looked at. */
  readonly world: { log: { kept: Pick<Change, 'table' | 'record'>[] } } = { log: { kept: [] } };
  readonly notes: Note[] = [];
  private readonly clock = new VirtualClock(Date.now());
  private readonly cookies = new Map<string, string>();
  /** What is known of the server’s records: up to a change, in the view of the holder of the key. */
  private known = { at: 0, view: '' };
  /** Requests that are under way. */
  private open = 0;

  private constructor(
    private readonly server: TestServer,
    private readonly name: string,
    private readonly app: App,
    private readonly kinds: Kinds,
  ) {}

  /** Releases an app with records, and has people come in. */
  static async of(
    server: TestServer,
    name: string,
    app: App,
    kinds: Kinds,
    states: readonly RecordState[],
    people: readonly FarPerson[],
  ): Promise<FarRoom> {
    const room = new FarRoom(server, name, app, kinds);
    const released = await server.release(name, KEY, app);
    if (released.status !== 200) throw new Error(released.text);
    const stamp = stampText(Date.now() - 3_600_000, 0, 'maker');
    const changes = states.map(({ table, id, cells }, i) => ({
      id: `b${i}`,
      stamp,
      table,
      record: id,
      do: 'set',
      cells,
      brought: true,
    }));
    await room.asked('/changes', { json: { changes }, key: KEY });
    room.known = await room.compared();
    for (const person of people) await room.comes(person);
    return room;
  }

  private async asked<T>(path: string, call: Call, who?: Who): Promise<T> {
    const cookie = this.cookies.get(who?.kind === 'somebody' ? (who.person ?? '') : '');
    this.open++;
    try {
      const answer = await this.server.call(`/api/apps/${this.name}${path}`, {
        ...call,
        headers: {
          'x-protocol': String(PROTOCOL),
          // Each request comes from elsewhere: how many one place may send is not what is looked at here.
          'x-forwarded-for': `10.0.${(++requests >> 8) & 255}.${requests & 255}`,
          ...(cookie && { cookie }),
        },
      });
      if (answer.status === 401) throw new OfflineError('Not signed in.');
      if (answer.status >= 400) throw new Refused(answer.status, String(answer.body['error'] ?? answer.text));
      return answer.body as T;
    } finally {
      this.open--;
    }
  }

  /** The host as the way of a phone asks it, over HTTP. */
  private get released(): ReleasedApp {
    return {
      accept: (changes: Change[], who: Who) => this.asked('/changes', { json: { changes } }, who),
      catchUp: ({ since, view, from }: Asked, who: Who) => {
        const asked = new URLSearchParams({
          since: String(since),
          ...(view && { view }),
          ...(from && { from: String(from) }),
        });
        return this.asked(`/changes?${asked}`, {}, who);
      },
      compare: (have: Have, who: Who) => this.asked('/compared', { json: have }, who),
      // Nothing is heard of by itself: phones ask after each act.
      listen: () => ({ at: 0, view: undefined }),
      listensFor: async () => null,
      mayReadFile: () => false,
      comingIn: { mustBeIn: () => undefined },
      // How many changes it had when it was asked is not looked at here.
      host: { position: 0 },
    } as unknown as ReleasedApp;
  }

  private async comes({ record, name, mail }: FarPerson): Promise<void> {
    await this.signsIn(record, mail);
    const { clock, app, kinds } = this;
    const { released } = this;
    const around: AroundPhone = {
      phoneApp: phoneHalf(app),
      clock,
      random: new Random(1),
      released,
      files: null as never,
      options: { kinds },
      clockOf: (isOn) => ({
        now: () => clock.now(),
        after: (ms, work) => clock.after(ms, () => isOn() && work()),
        every: (ms, work) => clock.every(ms, () => isOn() && work()),
      }),
    };
    const id = `p${Object.keys(this.phones).length + 1}`;
    const called = `phone${Object.keys(this.phones).length}`;
    this.phones[id] = new RehearsedPhone(
      id,
      {
        who: { kind: 'somebody', person: record, mail } as const,
        name,
        person: { name: mail, record: { table: app.people!, record } },
      },
      {
        world: { phone: (options: object) => new WorldPhone(around, called, options) } as unknown as World,
        app: () => app,
        note: (of, sort, said, about) =>
          void this.notes.push({
            n: this.notes.length + 1,
            at: clock.now(),
            of,
            sort,
            said,
            ...(about && { about }),
          } as Note),
        changed: () => undefined,
        acted: () => undefined,
        letGo: undefined,
      },
    );
  }

  private async signsIn(record: string, mail: string): Promise<void> {
    const { attempt } = await this.asked<{ attempt: string }>('/sign-in', { json: { mail } });
    for (let i = 0; i < 200; i++) {
      const out = await this.asked<{ eml?: string }[]>('/outbox', { key: KEY });
      const code = out.flatMap(({ eml }) => (eml?.includes(`To: ${mail}`) ? [/Subject: (\d{6})/.exec(eml)?.[1]] : []));
      if (!code[0]) {
        await pause(deviceClock, 10);
        continue;
      }
      const answer = await this.server.call(`/api/apps/${this.name}/sign-in/code`, {
        json: { attempt, code: code[0] },
        headers: { 'x-forwarded-for': `10.1.${(++requests >> 8) & 255}.${requests & 255}` },
      });
      this.cookies.set(record, answer.headers.getSetCookie()[0]?.split(';')[0] ?? '');
      return;
    }
    throw new Error('No code came.');
  }

  /** Lets what needs no time happen; where a phone has its network again, with all that comes of what it sends. */
  async settle(): Promise<void> {
    const sends = Object.values(this.phones).some(({ there }) => there.network === 'on' && there.device.waiting > 0);
    await (sends ? this.rests() : this.travels());
  }

  /** Lets happen what needs no time on the phones and on the way to the server. */
  private async travels(): Promise<void> {
    for (let still = 0; still < 2;) {
      await this.clock.settle();
      still = this.open === 0 ? still + 1 : 0;
      if (this.open > 0) await pause(deviceClock, 1);
    }
  }

  /** As much time passes on the phones as has passed at the server. */
  async pass(): Promise<void> {
    await this.clock.pass(Math.max(1, Date.now() - this.clock.now()));
  }

  /**
   * Waits until the server has done all that came of an act, and phones that have a network know of it. What is begun a
   * moment later is waited for, up to as many runs as there must have been by now.
   */
  async rests(runs = 0): Promise<void> {
    const end = Date.now() + MOST_MS;
    for (let quiet = 0; quiet < 2;) {
      await this.travels();
      const { live, routines } = await this.asked<Board>('/runs', { key: KEY });
      const ran = Object.values(routines).reduce((n, r) => n + r.runs, 0);
      const isLate = ran < runs && Date.now() < end;
      const works = isLate || live.some((r) => r.stands === 'waits' || r.stands === 'runs');
      let more = false;
      for (const { there } of Object.values(this.phones)) {
        if (there.network === 'off') continue;
        const before = there.device.waiting;
        await there.sync();
        more ||= before > 0;
      }
      more ||= await this.looks();
      quiet = works || more ? 0 : quiet + 1;
      if (works) await pause(deviceClock, 2);
    }
  }

  /** Looks what the server has taken since. Was there any? */
  private async looks(): Promise<boolean> {
    const { at, view } = this.known;
    const news = await this.asked<News | { compare: true }>(`/changes?since=${at}&view=${view}`, { key: KEY });
    if (!('changes' in news)) throw new Error('The server has changed its view of the records.');
    this.known = { at: news.at, view: news.view ?? view };
    const given = (news.given ?? []).map(({ table, id }) => ({ table, record: id }));
    this.world.log.kept.push(...news.changes, ...given);
    return news.at !== at;
  }

  /** Somebody outside writes to the app. */
  write(mail: { from: string; name: string; subject: string; words: string }): Promise<unknown> {
    return this.asked('/mailbox', { json: mail, key: KEY });
  }
  /** Another system calls a routine. */
  call(routine: string, json: unknown): Promise<unknown> {
    return this.asked(`/hooks/${routine}`, { json, key: KEY });
  }

  notesSince(n: number): Note[] {
    return this.notes.slice(n);
  }

  /** All records, as the holder of the key gets them. */
  async records(): Promise<RecordState[]> {
    return (await this.compared()).states;
  }
  private compared(): Promise<Compared> {
    return this.asked('/compared', { json: { after: null, upTo: null, records: [] }, key: KEY });
  }
  async mailbox(): Promise<MailboxMessage['mails']> {
    return (await this.asked<MailboxMessage>('/mailbox', { key: KEY })).mails;
  }
  /** What went out. */
  outbox(): Promise<{ eml?: string; message?: { kind?: string; to: string[]; subject: string; body: string } }[]> {
    return this.asked('/outbox', { key: KEY });
  }

  async end(): Promise<void> {
    for (const { there } of Object.values(this.phones)) there.close();
    await this.travels();
  }
}
