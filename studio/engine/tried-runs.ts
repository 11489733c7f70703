import type { App } from '../../core/app/schema.ts';
import { VARIABLES, VARIABLES_RECORD } from '../../core/document/ids.ts';
import { fileName } from '../../core/fields/kept-address.ts';
import { Device, newRecordId } from '../../core/host/device.ts';
import { Replica } from '../../core/host/replica.ts';
import type { Change, Draft } from '../../core/records/change.ts';
import { display } from '../../core/records/format.ts';
import type { Row } from '../../core/records/row.ts';
import { Records, type Cells } from '../../core/records/store.ts';
import type { Answer } from '../../core/routines/asks.ts';
import type { RoutineDoc } from '../../core/routines/program.ts';
import type { Looks, RunTrace } from '../../core/routines/run.ts';
import type { Effect, Happened, Outgoing } from '../../core/session/effects.ts';
import { EMPTY, type AskedMessage, type ServiceAnswer } from '../../core/services/answer.ts';
import { requestOf } from '../../core/services/requests-of.ts';
import { Session } from '../../core/session/session.ts';
import { Variables } from '../../core/session/variables.ts';
import { elementKinds } from '../../core/screens/kinds.ts';
import { stepKinds } from '../../core/routines/kinds.ts';
import { triggerKinds } from '../../core/routines/kinds.ts';

type WouldChange = NonNullable<RunTrace['tried']>;

/** What was written on the copy, as it was written. */
interface Tried {
  groups: { drafts: readonly Draft[]; together: boolean }[];
  sends: Outgoing[];
  /** Addresses of files that were made. */
  made: string[];
  /** The records that were written to, as they were when the run began; null for one that was not there. */
  before: Map<string, { table: string; cells: Cells | null }>;
}

/** So many tried runs can still be made for real. */
const MOST_TRIED = 30;

/** What the engine lends to runs that are tried. */
interface Around {
  app(): App;
  records: Records;
  replica: Replica;
  file(address: string): Promise<Blob | null>;
  effect(effect: Effect): void;
  happened(what: Happened): void;
  looks: Looks;
  asks(message: AskedMessage): Promise<ServiceAnswer>;
}

/** A device that belongs to a copy of the records, and notes what is written to it. */
class TryDevice extends Device {
  constructor(
    replica: Replica,
    private readonly note: (drafts: readonly Draft[], together: boolean) => void,
  ) {
    super({ id: 'tried', replica, store: { save: async () => undefined } });
  }
  override write(drafts: readonly Draft[], together = false): Promise<Change[]> {
    this.note(drafts, together);
    return super.write(drafts, together);
  }
}

/** Runs that the maker tries: on a copy of the records and variables, so that they change nothing until that is wanted. */
export class TriedRuns {
  private readonly tried = new Map<string, Tried>();
  private readonly done = new Set<string>();
  /** The latest sessions: what they asked, and the buttons of their messages, may still be pressed. */
  private sessions: Session[] = [];

  constructor(private readonly around: Around) {}

  /** A run that is tried reads from services; what would change something there is not asked. */
  private async askTried(app: App, message: AskedMessage, records: Records, told: Happened[]): Promise<ServiceAnswer> {
    const request = requestOf(app, message.request)?.request;
    // What works with words only tells something, whatever its method is.
    const tells = Object.values(app.helpers ?? {}).some((h) => h.request === message.request);
    if (request && request.method !== 'GET' && !tells) {
      told.push({ said: `${request.name} would be asked; while a run is tried it is not`, tone: 'plain' });
      return EMPTY;
    }
    const answer = await this.around.asks(message);
    for (const [table, rows] of Object.entries(answer.rows))
      for (const { id, cells } of rows) records.set(table, id, { ...cells });
    return answer;
  }

  /** Runs a routine on a copy, and tells what it did and what it would change. */
  async run(routine: RoutineDoc, record: string | null, values?: RunTrace['values']): Promise<RunTrace> {
    const app = this.around.app();
    const tried: Tried = { groups: [], sends: [], made: [], before: new Map() };
    const copy = this.copy(app, tried);
    const told: Happened[] = [];
    let isOver = false;
    const session: Session = new Session(
      app,
      copy.records,
      { elements: elementKinds, steps: stepKinds, triggers: triggerKinds },
      {
        device: copy.device,
        variables: () => copy.variables,
        send: async (m) => void tried.sends.push(m),
        services: () => ({
          askService: (message) => this.askTried(app, message, copy.records, told),
          markOf: () => null,
          unmark: () => undefined,
          signOut: async () => void told.push({ said: 'Whoever has signed in would be signed out', tone: 'plain' }),
        }),
        file: (address) => this.around.file(address),
        made: async (address) => void tried.made.push(address),
        happened: (what) => void told.push(what),
        // Screens are not opened: what they show is not the copy.
        effect: (effect) => {
          if (['ask', 'device', 'message'].includes(effect.do)) this.around.effect(effect);
        },
        looks: this.around.looks,
        world: {
          now: () => Date.now(),
          newId: newRecordId,
          until: async (time) => {
            while (Date.now() < time) await new Promise((r) => setTimeout(r, Math.min(1000, time - Date.now())));
            // A timer that it began is not part of what was tried.
            if (isOver) await new Promise(() => undefined);
          },
        },
      },
    );
    this.sessions = [...this.sessions.slice(-MOST_TRIED), session];
    try {
      const trace = await session.runNow(routine, record, values ?? {});
      const would = this.would(tried, copy.records);
      this.keep(would.id, tried);
      const said = trace.error === undefined ? 'Tried' : 'Tried, and it stopped:';
      this.around.happened({
        said: `${said} ${trace.name}${trace.given ? ` for ${trace.given}` : ''}${trace.error === undefined ? '' : `: ${trace.error}`}`,
        tone: trace.error === undefined ? 'plain' : 'bad',
        ms: trace.ms,
        run: { ...trace, tried: would },
        about: { routine: routine.id },
      });
      return trace;
    } finally {
      isOver = true;
    }
  }

  /** The phone has answered a question of a run that is tried. */
  answered(id: string, answer: Answer): void {
    for (const s of this.sessions) s.answered(id, answer);
  }

  private copy(app: App, tried: Tried): { records: Records; device: Device; variables: Variables } {
    const { records: real, replica } = this.around;
    const records = new Records(app);
    records.beUsedBy(real.person, real.personRecord);
    const copied = new Replica(records);
    copied.load(
      Array.from(replica.all(), (s) => ({ ...s, cells: { ...s.cells }, ...(s.stamps && { stamps: { ...s.stamps } }) })),
    );
    const device = new TryDevice(copied, (drafts, together) => {
      for (const d of drafts) {
        const row = real.row(d.table, d.record);
        if (!tried.before.has(d.record))
          tried.before.set(d.record, { table: d.table, cells: row ? { ...row.cells } : null });
      }
      tried.groups.push({ drafts, together });
    });
    const variables = new Variables(app, records);
    const now = real.row(VARIABLES, VARIABLES_RECORD)?.cells;
    if (now) records.set(VARIABLES, VARIABLES_RECORD, { ...now });
    return { records, device, variables };
  }

  private keep(id: string, tried: Tried): void {
    this.tried.set(id, tried);
    if (this.tried.size > MOST_TRIED) this.tried.delete(this.tried.keys().next().value!);
  }

  /** What is different in the copy, record by record. */
  private would(tried: Tried, copy: Records): WouldChange {
    const changes = Array.from(tried.before, ([record, { table }]) => {
      const [was, is] = [this.around.records.row(table, record), copy.row(table, record)];
      return { said: this.said(table, was, is), table, record };
    }).filter((c) => c.said !== '');
    const sends = [
      ...tried.sends.map(
        (m) => `${m.kind ? `A ${m.kind}` : 'A mail'} to ${m.to.join(', ')}: ${m.subject || m.body.slice(0, 60)}`,
      ),
      ...tried.made.map((address) => `A file: ${fileName(address)}`),
    ];
    return { id: newRecordId(), changes, sends };
  }

  private said(tableId: string, was: Row | undefined, is: Row | undefined): string {
    const model = this.around.records.model.tables.get(tableId);
    const one = model?.table.one ?? 'record';
    if (!is) return was ? `${was.title()}, ${one}, is removed` : '';
    const fields = model?.table.fields ?? [];
    const shown = (row: Row | undefined, id: string): string => {
      const field = model?.fields.get(id);
      return (row && display(row.get(id), field)) || 'nothing';
    };
    const different = fields.filter((f) => f.id in is.cells && (was?.cells[f.id] ?? null) !== (is.cells[f.id] ?? null));
    if (!was)
      return `New ${one}: ${different.map((f) => `${f.name} ${shown(is, f.id)}`).join(', ') || 'without values'}`;
    if (different.length === 0) return '';
    return `${was.title()} › ${different.map((f) => `${f.name} from ${shown(was, f.id)} to ${shown(is, f.id)}`).join(', ')}`;
  }

  /** What a tried run has written and would send, to be done for real. Throws in words where that does not fit any more. */
  take(id: string): Pick<Tried, 'groups' | 'sends' | 'made'> {
    const tried = this.tried.get(id);
    if (this.done.has(id)) throw new Error('This was done for real already. To do it once more, try it again.');
    if (!tried) throw new Error('This run was tried too long ago. Try it again.');
    const { records } = this.around;
    for (const [record, { table, cells }] of tried.before) {
      const now = records.row(table, record);
      const same =
        cells === null
          ? now === undefined
          : now !== undefined &&
            [...new Set([...Object.keys(cells), ...Object.keys(now.cells)])].every(
              (f) => (cells[f] ?? null) === (now.cells[f] ?? null),
            );
      if (same) continue;
      const title = now?.title() ?? `A ${records.model.tables.get(table)?.table.one ?? 'record'}`;
      throw new Error(`${title} was changed since this was tried. Try it again.`);
    }
    this.tried.delete(id);
    this.done.add(id);
    return tried;
  }
}
