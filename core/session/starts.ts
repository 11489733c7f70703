import type { Value } from '../formula/values.ts';
import type { Records } from '../records/store.ts';
import type { RoutineDoc } from '../routines/program.ts';
import type { Happening, TriggersDoc } from '../routines/trigger.ts';
import { keptValue, type KeptValue } from '../records/kept-value.ts';
import { valueOfVariable } from '../screens/reach.ts';
import type { SessionPorts } from './ports.ts';

/** So often a second a variable may start routines. */
const MOST_A_SECOND = 60;

/** So many routines may start one another in a row. */
const MOST_DEEP = 40;

/** What the session around does. */
interface Around {
  app(): TriggersDoc;
  /** Runs the routines that something starts. */
  /** `deep` says how many routines stand before it, each started by the one before. */
  happens(happening: Happening, deep?: number): void;
  /** Does it start any? */
  hears(happening: Happening): boolean;
  run(routine: RoutineDoc): Promise<unknown>;
  say(words: string): void;
}

/** What starts routines without a tap: values that change, and timers. */
export class Starts {
  private readonly changedAt = new Map<string, number[]>();
  /** How often each timer was switched: what waits for an earlier switch does no more. */
  private readonly timers = new Map<string, number>();

  constructor(
    private readonly records: Records,
    private readonly world: NonNullable<SessionPorts['world']>,
    private readonly around: Around,
  ) {}

  /** A variable has another value. A routine that changes what starts it is stopped before it never ends. */
  variableChanged(variable: string, before: Value, deep: number): void {
    const was = keptValue(before);
    const is = keptValue(valueOfVariable(this.records, variable));
    // What is set to what it was has not changed.
    if (JSON.stringify(was) === JSON.stringify(is)) return;
    if (deep > MOST_DEEP) return this.around.say('Routines that change what starts them were stopped.');
    const now = this.world.now();
    const lately = (this.changedAt.get(variable) ?? []).filter((t) => now - t < 1000);
    this.changedAt.set(variable, [...lately, now]);
    if (lately.length < MOST_A_SECOND)
      this.around.happens(
        {
          on: 'variable changed',
          variable,
          before: was,
          now: is,
        },
        deep,
      );
    else if (lately.length === MOST_A_SECOND) this.around.say('Routines that change what starts them were stopped.');
  }

  /** A person is about to change some fields of a record. Gives what tells those whose change starts a routine. */
  watched(table: string, record: string, fields: readonly string[]): () => void {
    const valueOf = (field: string): KeptValue => keptValue(this.records.row(table, record)?.get(field) ?? null);
    const heard = fields.filter((field) =>
      this.around.hears({ on: 'field changed', table, field, record, before: null, now: null }),
    );
    const before = new Map(heard.map((f) => [f, valueOf(f)]));
    return () => {
      for (const [field, was] of before) {
        const now = valueOf(field);
        if (JSON.stringify(now) !== JSON.stringify(was))
          this.around.happens({ on: 'field changed', table, field, record, before: was, now });
      }
    };
  }

  /** Switches the timer of a routine. Throws in words where it has none. */
  timer(id: string, on: boolean): void {
    const turn = (this.timers.get(id) ?? 0) + 1;
    this.timers.set(id, turn);
    const find = (): TriggersDoc['routines'][number] | undefined => this.around.app().routines.find((r) => r.id === id);
    const timer = find()?.starts?.find((t) => t.on === 'timer');
    if (!on) return;
    if (!timer) throw new Error('This routine is not started by a timer.');
    const { seconds, how } = timer as unknown as { seconds: number; how: string };
    void (async () => {
      for (;;) {
        await this.world.until(this.world.now() + seconds * 1000);
        const routine = find();
        if (!routine || this.timers.get(id) !== turn) return;
        // The next turn counts from here; a long run is not overtaken by itself.
        await this.around.run(routine);
        if (how !== 'again') return;
      }
    })();
  }
}
