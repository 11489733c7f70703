import { deviceClock, until } from '../document/time.ts';
import type { App } from '../app/schema.ts';
import type { Tap } from '../document/pieces.ts';
import { newRecordId } from '../host/device.ts';
import { joined, takeBack, writeWithUndo, type Written } from '../host/undo.ts';
import type { Draft } from '../records/change.ts';
import type { Records } from '../records/store.ts';
import type { Answer, Ports, Question } from '../routines/asks.ts';
import type { RunState } from '../routines/state.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';
import { Machine } from '../routines/machine.ts';
import type { RoutineDoc } from '../routines/program.ts';
import { driveRun, resumeRun, type KeepRun, type KeptRun, type RunTrace } from '../routines/run.ts';
import { inputsFrom, startedBy, type Happening, type Knows } from '../routines/trigger.ts';
import type { ScreenCompiler } from '../screens/compile.ts';
import type { Spot } from '../screens/live-screen.ts';
import { readyToWrite, wroteSaid } from './writing.ts';
import { valueOfVariable } from '../screens/reach.ts';
import type { Cell } from '../fields/lists.ts';
import { NO_VARIABLE, type Effect, type SaveAnswer } from './effects.ts';
import { choicesOf, titlesOf } from './picking.ts';
import { sendOut } from './outgoing.ts';
import { nearest, opening, placedBefore } from './taps.ts';
import { withContent } from './own-files.ts';
import type { Kinds, SessionPorts } from './ports.ts';
import { askFor, helped, writeToServices } from './services-here.ts';
import type { TypedAnswer } from './variables.ts';
import { Saves, type WholeRun } from './saves.ts';
import { Starts } from './starts.ts';

const realWorld: NonNullable<SessionPorts['world']> = {
  now: () => deviceClock.now(),
  newId: newRecordId,
  until: (time) => until(deviceClock, time),
};

/** So many screens one run may open. */
const MOST_OPENS = 20;

/** One routine at work on one record. */
const runKey = (routine: string, record: string | null): string => `${routine} ${record ?? ''}`;

/** What a session does when something happens: taps, routines, forms. A first screen is drawn without it. */
export class Actions {
  private made: Machine | null = null;
  private readonly world: NonNullable<SessionPorts['world']>;

  constructor(
    private app: App,
    private release: number,
    private readonly records: Records,
    private readonly kinds: Kinds,
    private readonly ports: SessionPorts,
  ) {
    this.world = ports.world ?? realWorld;
    this.starts = new Starts(records, this.world, {
      app: () => this.app,
      happens: (h, deep) => this.happens(h, deep),
      hears: (h) => startedBy(kinds.triggers, this.app, h).length > 0,
      run: (routine) => this.runNow(routine, null),
      say: (words) => this.say(words, 'bad'),
    });
    this.saves = new Saves(records, kinds, ports, this.starts, {
      app: () => this.app,
      happens: (h) => this.happens(h),
      write: (drafts, together) => this.write([...drafts], { reports: false, together }),
      saved: (d) => this.tell(d),
      run: (routine, record, given, whole) => this.run(routine, record, given, whole),
    });
  }

  /** Takes a changed document. */
  setApp(app: App, release: number): void {
    const before = this.app;
    this.app = app;
    this.release = release;
    const same = (['tables', 'routines', 'screens', 'variables'] as const).every((k) => app[k] === before[k]);
    if (!same) this.made = null;
  }

  /** Does what a tap says, with the records in reach where it was tapped; `shown` is the record the screen shows. */
  async tap(tap: Tap, spot: Spot, compiler: ScreenCompiler, shown: string | null, knows: Knows = {}): Promise<void> {
    switch (tap.do) {
      case 'nothing':
      case 'save':
        return;
      case 'back':
        return this.ports.effect({ do: 'back' });
      case 'open':
        return this.ports.effect(opening(this.app, tap, spot, compiler));
      case 'remove': {
        const row = nearest(spot);
        if (!row) return this.say('There is no record here to remove.', 'bad');
        const removal: Draft = { do: 'remove', table: row.tableId, record: row.id };
        const removed = await this.orSaid(async () => {
          if ((await writeToServices(this.records, this.ports, [removal], false)) === undefined)
            await this.write([removal]);
        });
        if (!removed) return;
        // A screen about a record that is gone shows nothing; a list goes on without it.
        if (row.id === shown) this.ports.effect({ do: 'back' });
        return this.say('Removed', 'plain');
      }
      case 'routine': {
        const routine = this.app.routines.find((r) => r.id === tap.routine);
        if (!routine) return this.say('This button has no routine yet.', 'bad');
        const record = nearest(spot, routine.given)?.id ?? null;
        // A second tap while the first is still at work is nearly always a slip of the thumb.
        if (!routine.overlaps && this.running.has(runKey(routine.id, record)))
          return this.say(`${routine.name} is still running.`, 'plain');
        const values = Object.fromEntries(
          (tap.values ?? []).map((v) => [v.field, keptValue(compiler.valueAt(v.value, spot.reach, spot.place))]),
        );
        await this.runNow(routine, record, { ...values, ...inputsFrom(routine, knows) });
      }
    }
  }

  /** Gives the record of a row its place before another's, or the last, in the order that a number field keeps. */
  async move(spot: Spot, before: string | null): Promise<void> {
    const drafts = placedBefore(this.records, spot, before);
    if (drafts.length) await this.orSaid(() => this.write(drafts, { reports: false, together: true }));
  }

  /** Does something, or says why it cannot be done. */
  private async orSaid(work: () => Promise<unknown>): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (e) {
      this.say((e as Error).message, 'bad');
      return false;
    }
  }

  private say(words: string, tone: 'plain' | 'bad'): void {
    this.ports.effect({ do: 'message', words, tone });
  }

  // Routines

  private get machine(): Machine {
    this.made ??= new Machine(this.app, this.records, this.kinds.steps, this.world);
    return this.made;
  }

  /** Runs a routine and tells the trace about it. */
  runNow(routine: RoutineDoc, record: string | null, values: RunState['results'] = {}): Promise<RunTrace> {
    return this.whileRunning(routine.id, record, () => this.run(routine, record, values));
  }

  private async run(
    routine: RoutineDoc,
    record: string | null,
    values: RunState['results'],
    /** Changes that are made with those of the run, and what writes all of them in place of the device. */
    whole?: WholeRun,
    /** How many routines stand before it, each started by what the one before has changed. */
    deep = 0,
  ): Promise<RunTrace> {
    // Between routines that start one another a phone hears taps, news and new releases.
    if (deep > 0) await new Promise((resolve) => setTimeout(resolve, 0));
    await this.ports.steps?.();
    const { machine } = this;
    const state = machine.begin(routine, record, this.release, values, whole?.drafts);
    const row = routine.given && record ? this.records.row(routine.given, record) : undefined;
    const trace = {
      routine: routine.id,
      name: routine.name,
      given: row?.title() ?? '',
      record,
      values,
      steps: [],
      ms: 0,
    };
    const keeps = !whole && this.ports.keepRun !== undefined && machine.lasts(routine);
    const ports = this.asked(record, deep, { keeps });
    return this.reported(
      await driveRun(
        machine,
        routine,
        state,
        trace,
        whole ? { ...ports, write: (a) => whole.write(a.drafts) } : ports,
        // A save is not put away: the form waits for it.
        whole ? undefined : this.ports.keepRun,
        this.ports.looks,
      ),
      routine.given,
      record,
      !whole,
    );
  }

  /** Goes on with runs that were put away when the page closed. */
  async resume(runs: readonly KeptRun[]): Promise<RunTrace[]> {
    if (runs.length === 0) return [];
    await this.ports.steps?.();
    const { machine } = this;
    const keep: KeepRun = this.ports.keepRun ?? (async () => undefined);
    return Promise.all(
      runs.map(async (kept) => {
        const { given } = kept.state;
        const first = kept.state.outer?.[0] ?? kept.state;
        const trace = await this.whileRunning(first.routine, first.given?.record ?? null, () =>
          resumeRun(machine, kept, this.asked(first.given?.record ?? null, 0, { keeps: true, resumed: true }), keep),
        );
        return this.reported(trace, given?.table ?? null, given?.record ?? null);
      }),
    );
  }

  /** Counts a run among those under way as long as it is. */
  private async whileRunning<T>(routine: string, record: string | null, run: () => Promise<T>): Promise<T> {
    const key = runKey(routine, record);
    this.running.set(key, (this.running.get(key) ?? 0) + 1);
    try {
      return await run();
    } finally {
      const left = this.running.get(key)! - 1;
      if (left) this.running.set(key, left);
      else this.running.delete(key);
    }
  }
  private readonly running = new Map<string, number>();

  private reported(trace: RunTrace, table: string | null, record: string | null, says = true): RunTrace {
    if (trace.error !== undefined && says) this.say(trace.error, 'bad');
    this.ports.happened({
      said:
        trace.error === undefined
          ? `Ran ${trace.name}${trace.given ? ` for ${trace.given}` : ''}`
          : `${trace.name} stopped: ${trace.error}`,
      tone: trace.error === undefined ? 'good' : 'bad',
      ms: trace.ms,
      run: trace,
      about: { routine: trace.routine, ...(record && table && { table, record }) },
    });
    return trace;
  }

  /**
   * The way from a routine's asks to the world. A run that `keeps` may be `resumed`: what it wrote is then known.
   */
  private asked(record: string | null, deep = 0, { keeps = false, resumed = false } = {}): Ports {
    /** What this run has written so far. */
    const written: Written[] = [];
    let opens = 0;
    return {
      write: async ({ drafts, together }, key) => {
        if (resumed && (await this.ports.wrote?.(key))) return;
        const outside = await writeToServices(this.records, this.ports, drafts, together);
        if (outside !== undefined) return outside ?? undefined;
        written.push(await this.write(drafts, { reports: false, together, ...(keeps && { wrote: key }) }));
      },
      open: ({ ask: _open, ...opened }) => {
        // A routine that opens screens without end leaves nobody a screen to press anything on.
        if (++opens > MOST_OPENS) throw new Error(`A routine opens ${MOST_OPENS} screens at most.`);
        this.ports.effect({ do: 'open', ...opened });
      },
      back: ({ to }) => this.ports.effect({ do: 'back', ...(to && { to }) }),
      timer: ({ routine, on }) => this.starts.timer(routine, on),
      question: ({ question }) => this.askPage((id) => ({ do: 'ask', id, question })),
      device: async ({ what }) => {
        const done = await helped(this.app, this.ports, what);
        if (done !== undefined) return done;
        const gave = await this.askPage((id) => ({ do: 'device', id, what: withContent(this.app, what) }));
        if ((what.do === 'make' || what.do === 'caption') && typeof gave === 'string') await this.ports.made?.(gave);
        return gave;
      },
      message: (a) => {
        if (!a.button) return this.say(a.words, 'plain');
        const { words, button } = a;
        // The routine goes on; who presses the button does so later, or never.
        this.askPage((id) => ({ do: 'message', words, tone: 'plain', press: { id, button } })).then(
          () => (a.undo ? this.undo(written.splice(0)) : this.pressed(a.runs ?? '', record)),
          () => undefined,
        );
      },
      element: ({ ask: _element, ...what }) => this.ports.effect({ do: 'element', ...what }),
      refresh: () => this.ports.refresh?.(),
      history: async (a) => {
        const ask = (question: Question) => this.askPage((id) => ({ do: 'ask', id, question }));
        const back = await (await import('./look-back.ts')).lookBack(this.records, this.ports, a, ask);
        if (!back) return;
        written.push(await this.write([back]));
        this.say('Put back', 'plain');
      },
      words: async ({ what }) =>
        (await helped(this.app, this.ports, what)) ?? (await import('../routines/plain-words.ts')).plainWords(what),
      send: (a) => sendOut(this.app, this.ports, a),
      service: (a) => askFor(this.app, this.ports, a),
      'sign out': async () => {
        await (await this.ports.services?.())?.signOut();
      },
      wait: (a) => this.world.until(a.until),
      person: () => Promise.reject(new Error('Somebody can be asked where a routine starts on the server.')),
      variable: (a) => {
        const variables = this.ports.variables?.();
        const before = valueOfVariable(this.records, a.variable);
        const wrong = variables ? variables.set(a.variable, a.cell) : NO_VARIABLE;
        if (wrong) throw new Error(wrong);
        this.starts.variableChanged(a.variable, before, deep + 1);
      },
    };
  }

  /** Runs the routines that something starts. */
  happens(happening: Happening, deep = 0): void {
    for (const { routine, record, values } of startedBy(this.kinds.triggers, this.app, happening))
      void this.whileRunning(routine.id, record, () => this.run(routine, record, values, undefined, deep));
  }

  private readonly starts: Starts;
  private readonly saves: Saves;

  private async undo(written: readonly Written[]): Promise<void> {
    try {
      const all = joined(written);
      await takeBack(this.ports.device, all, true);
      this.say('Undone', 'plain');
      const many = all.back.length === 1 ? 'a change' : `${all.back.length} changes`;
      this.ports.happened({ said: `Undid ${many}`, tone: 'good' });
    } catch (e) {
      this.say(`It could not be undone: ${(e as Error).message}`, 'bad');
    }
  }

  /** The button of a message was pressed. */
  private async pressed(routine: string, record: string | null): Promise<void> {
    const found = this.app.routines.find((r) => r.id === routine);
    if (found) await this.runNow(found, found.given ? record : null);
  }

  /** Asks the phone for something, and waits for its answer; rejects where none is given. */
  askPage(effect: (id: string) => Effect): Promise<KeptValue | void> {
    const id = newRecordId();
    return new Promise((resolve, reject) => {
      this.waiting.set(id, (answer) => {
        if (answer.ok) resolve(answer.value);
        else reject(new Error(answer.reason));
      });
      this.ports.effect(effect(id));
    });
  }
  private readonly waiting = new Map<string, (answer: Answer) => void>();

  /** Shows a notice; when it is opened, what waits for that starts. */
  noticed(notice: { id: string; title: string; words: string }): void {
    this.askPage((id) => ({ do: 'notice', ...notice, id })).then(
      () => this.happens({ on: 'notice opened', title: notice.title, words: notice.words }),
      () => undefined, // put aside
    );
  }

  /** The phone has answered. */
  answered(id: string, answer: Answer): void {
    const waits = this.waiting.get(id);
    this.waiting.delete(id);
    waits?.(answer);
  }

  // Records

  private async write(
    drafts: Draft[],
    { reports = true, together = false, wrote }: { reports?: boolean; together?: boolean; wrote?: string } = {},
  ): Promise<Written> {
    const written = await writeWithUndo(this.ports.device, readyToWrite(this.records, drafts), together, wrote);
    if (reports) for (const d of drafts) this.tell(d);
    return written;
  }

  private tell(d: Draft): void {
    const said = wroteSaid(this.app, this.records, d);
    this.ports.happened({ said, tone: 'good', about: { table: d.table, record: d.record } });
  }

  /** A person fills in an input of a variable. Gives what it shows then, or what is wrong in words. */
  typed(variable: string, cell: Cell): TypedAnswer {
    const before = valueOfVariable(this.records, variable);
    const answer = this.ports.variables?.()?.type(variable, cell) ?? { problem: NO_VARIABLE };
    if (!('problem' in answer)) this.starts.variableChanged(variable, before, 0);
    return answer;
  }

  /** Saves a form, or says for each field what is wrong with it. A link is given by the id of its record. */
  saveForm(table: string, record: string | null, values: Record<string, Cell>, isPart = false): Promise<SaveAnswer> {
    return this.saves.save(table, record, values, isPart);
  }

  titles(table: string, ids: readonly string[]): Record<string, string> {
    return titlesOf(this.records, table, ids);
  }

  choices(table: string, search: string, limit?: number): { id: string; title: string }[] {
    return choicesOf(this.records, table, search, limit);
  }
}
