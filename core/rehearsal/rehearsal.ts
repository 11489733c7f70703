import { NOBODY } from '../access/access.ts';
import { phoneHalf } from '../app/halves.ts';
import { peopleTable } from '../app/people.ts';
import type { App } from '../app/schema.ts';
import { deviceClock, type Clock } from '../document/time.ts';
import { compose } from '../formats/eml.ts';
import { newRecordId } from '../host/device.ts';
import type { PhonePorts } from '../phone/ports.ts';
import type { RecordState } from '../records/change.ts';
import type { Row } from '../records/row.ts';
import { Records } from '../records/store.ts';
import { Replica } from '../host/replica.ts';
import type { KeptMessage } from '../released/messages.ts';
import type { RunTrace } from '../routines/run.ts';
import type { MailboxMessage } from '../runs/mailbox.ts';
import type { CameBack, Outgoing } from '../services/answer.ts';
import type { Kinds } from '../session/session.ts';
import type { ServerDid } from '../world/world.ts';
import { World } from '../world/world.ts';
import type { HearsActs } from './acts.ts';
import { MOST_PHONES, type Persona } from './cast.ts';
import { LentFiles } from './files.ts';
import { Notes, SERVER, type Note } from './notes.ts';
import { Pacer, type Pace } from './pace.ts';
import { nobodyHere, RehearsedPhone, type Somebody } from './rehearsed-phone.ts';
import type { ChangedRecord, OutsideMail, RehearsalState, Upcoming } from './state.ts';
import { answerFor, type ServiceFault } from './samples.ts';
import { changedSince } from './changed-records.ts';
import { changesSaid } from './words.ts';

export interface RehearsalOptions {
  app: App;
  /** The records that it begins with; the app’s own stay as they are. */
  states: readonly RecordState[];
  kinds: Kinds;
  /** When it begins, in milliseconds since 1970. */
  at?: number;
  /** The content of a file that a record holds; null where it is not here. */
  file(hash: string): Promise<Blob | null>;
  /** Something of {@link Rehearsal.state} is another, or there are more notes. */
  changed(): void;
  letGo?: PhonePorts['letGo'];
  /** The clock outside. */
  real?: Clock;
  /** Hears what is done in it. */
  acts?: HearsActs;
  /** Time passes only when it is told to: nothing happens by itself. */
  byHand?: boolean;
}

/** So often it is looked what comes next, in milliseconds. */
const LOOK_MS = 1000;

/**
 * The whole app with everyone in it: a server with a copy of its records, phones for several people, and one clock. It is
 * the code of a released app, and nothing of it touches that or its records.
 */
export class Rehearsal {
  readonly world: World;
  /** Phones by their ids. */
  readonly phones: Record<string, RehearsedPhone> = {};
  private readonly notes: Notes;
  private readonly pacer: Pacer;
  private named = 0;

  constructor(private readonly options: RehearsalOptions) {
    const { app, states, kinds, at = Date.now(), changed } = options;
    const now = (): number => this.world.clock.now();
    this.notes = new Notes(now, (note) => {
      options.acts?.noted(note);
      changed();
    });
    this.world = new World({
      app,
      phoneApp: phoneHalf(app),
      states,
      kinds,
      at,
      works: true,
      doors: true,
      files: new LentFiles(states, options.file, now),
      services: async (asked) => this.answer(asked),
      hears: (what) => this.heard(what),
    });
    const passed = (ms: number): void => options.acts?.room({ did: 'passed', ms });
    this.pacer = new Pacer(this.world.clock, options.real ?? deviceClock, changed, passed);
    if (!options.byHand) this.pacer.begin();
  }

  private get records(): Records {
    return this.world.host.replica.records;
  }

  // What the server does

  private heard(what: ServerDid): void {
    const { app } = this.options;
    const say = (sort: Note['sort'], said: string, about?: Note['about'], run?: string): void =>
      this.notes.add(SERVER, sort, said, about, run);
    const name = (routine: string): string => app.routines.find((r) => r.id === routine)?.name ?? 'A routine';
    switch (what.did) {
      case 'took': {
        // Each of the changes that one of them made is told by itself.
        const [first] = what.changes;
        for (const said of changesSaid(app, this.records, what.changes))
          say('taken', `took ${said}`, first && { table: first.table, record: first.record });
        return;
      }
      case 'run': {
        const { line } = what;
        if (line.do === 'begins') {
          const { id, routine, said } = line.start;
          say('run', `began ${name(routine)}: ${said}`, { routine }, id);
        } else if ((line.do === 'ended' || line.do === 'again') && line.error !== undefined) {
          const routine = this.world.runs?.now.live.get(line.id)?.routine ?? '';
          const failed = line.do === 'ended' ? `${name(routine)} failed` : `will try ${name(routine)} again later`;
          say('refused', `${failed}: ${line.error}`, { routine }, line.id);
        }
        return;
      }
      case 'mail':
        return say('sent', `sent a mail to ${what.mail.to.join(', ')}: ${what.mail.subject}`);
      case 'text message':
        return say('sent', 'sent a text message');
      case 'told':
        if (what.what.kind === 'notice')
          say('sent', `told ${what.what.notice.to.join(', ') || 'nobody'}: “${what.what.notice.subject}”`);
        else say('refused', what.what.words);
    }
  }

  // The phones

  /** One more phone, for a persona. Gives its id. Throws in words where there can be none. */
  async add(persona: Persona): Promise<string> {
    if (Object.keys(this.phones).length >= MOST_PHONES)
      throw new Error(`${MOST_PHONES} phones stand here. Put one of them away first.`);
    const somebody = await this.somebody(persona);
    const id = `p${++this.named}`;
    this.phones[id] = this.phoneFor(id, somebody);
    this.options.acts?.phone(
      this.phones[id],
      { did: 'came' },
      { ...persona, ...(persona.is === 'person' && { name: somebody.name }) },
    );
    this.options.changed();
    await this.pacer.settle();
    return id;
  }

  private phoneFor(id: string, somebody: Somebody): RehearsedPhone {
    return new RehearsedPhone(id, somebody, {
      world: this.world,
      app: () => this.options.app,
      note: (...note) => this.notes.add(...note),
      changed: this.options.changed,
      acted: (phone, act) => this.options.acts?.phone(phone, act),
      letGo: this.options.letGo,
    });
  }

  /** Whoever uses a phone that nobody has signed in on signs in with an address. Throws in words where they may not. */
  async signIn(id: string, mail: string): Promise<void> {
    const before = this.phones[id];
    if (!before) return;
    this.options.acts?.room({ did: 'signed in', phone: id, mail });
    const somebody = await this.somebody({ is: 'invited', mail });
    this.world.remove(before.there);
    this.phones[id] = this.phoneFor(id, somebody);
    this.notes.add(id, 'done', 'signed in');
    await this.pacer.settle();
  }

  /** Puts a phone away for good. */
  remove(id: string): void {
    const phone = this.phones[id];
    if (!phone) return;
    this.options.acts?.phone(phone, { did: 'goes' });
    delete this.phones[id];
    this.world.remove(phone.there);
    this.options.changed();
  }

  private async somebody(persona: Persona): Promise<Somebody> {
    const { app } = this.options;
    if (persona.is === 'nobody') return nobodyHere(app);
    const people = app.people ?? peopleTable(app)?.id;
    if (!people) throw new Error('The app has no table of people. Choose one in People first.');
    let { record } = persona as { record?: string };
    if (persona.is === 'invited') {
      const came = await this.world.released.comingIn.comesIn(persona.mail, persona.role);
      if (came === null) throw new Error(`The app does not let in ${persona.mail}. Look at who may use it, in People.`);
      record = came;
      await this.world.work?.personDid({ did: 'signed in', mail: persona.mail });
    }
    const row = this.records.row(people, record ?? '');
    if (!row) throw new Error('This person is not there any more.');
    const name = row.title() || 'Somebody';
    const cell = app.access?.mail ? row.cells[app.access.mail] : undefined;
    const mail = typeof cell === 'string' ? cell : '';
    const who = app.access ? ({ kind: 'somebody', person: row.id, mail } as const) : NOBODY;
    return { who, name, person: { name: app.access?.mail ? mail : name, record: { table: people, record: row.id } } };
  }

  // The clock

  setPace(pace: Pace): void {
    this.pacer.pace = pace;
    this.options.changed();
  }
  /** Lets so many milliseconds pass. */
  pass(ms: number): Promise<void> {
    this.options.acts?.room({ did: 'passed', ms });
    return this.pacer.to(this.world.clock.now() + ms);
  }
  async to(time: number): Promise<void> {
    const { acts } = this.options;
    const { clock } = this.world;
    acts?.room({ did: 'went to', from: clock.now(), to: time });
    await this.pacer.to(time);
    if (clock.now() < time) acts?.room({ did: 'stopped', at: clock.now() });
  }
  /** Ends the way that time goes now. */
  stop(): void {
    this.pacer.stop();
  }
  /** Lets what is under way come to rest. */
  settle(): Promise<void> {
    return this.pacer.settle();
  }

  /** What the server will do next by itself: what the clock starts, and what holds until a time. */
  get next(): Upcoming | null {
    const now = this.world.clock.now();
    const real = (this.options.real ?? deviceClock).now();
    const { found, looked } = this.coming;
    // Looking goes through the records: it is done once a second, and when what was found has come.
    if (real - looked > LOOK_MS || (found && found.at <= now))
      this.coming = { found: this.nextFrom(now), looked: real };
    return this.coming.found;
  }
  private coming: { found: Upcoming | null; looked: number } = { found: null, looked: -Infinity };

  private nextFrom(now: number): Upcoming | null {
    const { runs } = this.world;
    if (!runs) return null;
    const name = (routine: string): string =>
      this.options.app.routines.find((r) => r.id === routine)?.name ?? 'A routine';
    const { live, next } = runs.board;
    const coming = next.map((u): Upcoming => ({ at: u.at, said: name(u.routine) }));
    for (const run of live)
      if (run.wakes !== null) coming.push({ at: run.wakes, said: `${name(run.routine)} goes on` });
    return coming.filter((u) => u.at > now).sort((a, b) => a.at - b.at)[0] ?? null;
  }

  /** The steps of the run that a note tells of, as far as it has come; null where they are not known any more. */
  async runOf(note: number): Promise<RunTrace | null> {
    const run = this.notes.runOf(note);
    return typeof run === 'string' ? ((await this.world.runs?.trace(run)) ?? null) : (run ?? null);
  }

  // What goes out and comes in

  /** The mails that came and went, by their times. */
  async mailbox(): Promise<MailboxMessage> {
    return this.world.work!.mailbox();
  }
  /** The text messages and notices that went out, the latest last. */
  async messages(): Promise<KeptMessage[]> {
    const { messages } = await this.world.released.outbox();
    return messages.flatMap(({ message }) => message ?? []);
  }
  /** Somebody outside writes to the app. Throws in words for a mail that is not taken. */
  async write(mail: OutsideMail): Promise<void> {
    this.options.acts?.room({ did: 'wrote', mail });
    const { from, name, subject, words, answers, files } = mail;
    const to = 'world@mellow-kite.example';
    const date = new Date(this.world.clock.now());
    const eml = compose({
      id: newRecordId(),
      from: { name, address: from },
      to: [to],
      subject,
      body: words,
      date,
      answers,
      files,
    });
    const whose = `a mail of ${name || from}: ${subject}`;
    const note = (sort: Note['sort'], said: string): void => this.notes.add(SERVER, sort, said);
    if (this.world.work!.mail.isWanted) note('taken', `took ${whose}`);
    await this.world.work!.takeMail(new TextEncoder().encode(eml), to, null).catch((e: Error) => {
      note('refused', `did not take ${whose}. ${e.message}`);
      throw e;
    });
    await this.pacer.settle();
  }

  /** Another system calls a routine of the app. Throws in words where what it sends is not taken. */
  async call(routine: string, body: string): Promise<void> {
    this.options.acts?.room({ did: 'called', routine, body });
    const name = this.options.app.routines.find((r) => r.id === routine)?.name ?? 'a routine';
    const note = (sort: Note['sort'], said: string): void => this.notes.add(SERVER, sort, said, { routine });
    await this.world.work!.tryHook(routine, new TextEncoder().encode(body)).catch((e: Error) => {
      note('refused', `did not take a call of ${name}. ${e.message}`);
      throw e;
    });
    note('taken', `took a call of ${name}`);
    await this.pacer.settle();
  }

  /** A service is well from now on, or has a fault. */
  setFault(service: string, fault: ServiceFault): void {
    this.options.acts?.room({ did: 'fault', service, fault });
    this.faults[service] = fault;
    this.options.changed();
  }
  private readonly faults: Record<string, ServiceFault> = {};

  private answer(asked: Outgoing): CameBack {
    const { app } = this.options;
    const came = answerFor(app, asked, this.faults);
    const name = app.services?.find((s) => s.id === asked.service.id)?.name ?? 'A service';
    const said =
      'reply' in came ? `answered with ${came.reply.status}, from a sample` : `did not answer. ${came.failed.words}`;
    this.notes.add(
      SERVER,
      'reply' in came && came.reply.status < 400 ? 'taken' : 'refused',
      `asked ${name}, which ${said}`,
    );
    return came;
  }

  // What is looked at

  get state(): RehearsalState {
    return {
      now: this.world.clock.now(),
      pace: this.pacer.pace,
      target: this.pacer.target,
      phones: Object.values(this.phones).map((p) => p.state),
      next: this.next,
      faults: { ...this.faults },
      notes: this.notes.since(0).at(-1)?.n ?? 0,
    };
  }

  notesSince(n: number): Note[] {
    return this.notes.since(n);
  }

  /** What is otherwise than at the beginning, the latest first, and how many records there are in all of which that is so. */
  changedRecords(): { records: ChangedRecord[]; all: number } {
    return changedSince(this.options.app, this.first, this.records, this.world.log.kept);
  }

  /** A record as it was when it began. */
  before(table: string, record: string): Row | undefined {
    return this.first.row(table, record);
  }
  private get first(): Records {
    if (this.firstRecords) return this.firstRecords;
    const { app, states } = this.options;
    const before = new Records(app);
    new Replica(before).load(states.map((s) => ({ ...s, cells: { ...s.cells } })));
    return (this.firstRecords = before);
  }
  private firstRecords: Records | null = null;

  /** It is over. */
  async end(): Promise<void> {
    this.pacer.close();
    await this.world.end();
  }
}
