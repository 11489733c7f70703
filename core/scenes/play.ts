import type { App } from '../app/schema.ts';
import { peopleTable } from '../app/people.ts';
import type { Persona, Scene, SceneStep } from '../app/scene-schema.ts';
import { stampText } from '../host/clock.ts';
import type { RecordState } from '../records/change.ts';
import { isShut } from '../rehearsal/cast.ts';
import { SERVER, type Note } from '../rehearsal/notes.ts';
import { Rehearsal } from '../rehearsal/rehearsal.ts';
import type { Kinds } from '../session/session.ts';
import { begin, Different, does, type Stage } from './doing.ts';
import { isExpect } from '../app/scene-edits.ts';
import { expects } from './expecting.ts';
import { MadeRecords, withOthers } from './made.ts';
import { rest } from './resting.ts';
import type { PhoneStill, SceneResult, StepResult } from './result.ts';
import { Touching } from './touching.ts';

const HOUR = 3_600_000;

export interface PlayOptions {
  app: App;
  scene: Scene;
  /** The records of the app, with which a scene begins that has none of its own. */
  states: readonly Pick<RecordState, 'table' | 'id' | 'cells'>[];
  kinds: Kinds;
  file?(hash: string): Promise<Blob | null>;
  /** Hears of each step that is done, first of the beginning (null), and may ask what the phones show then. */
  after?(result: StepResult | null, stills: () => PhoneStill[]): void;
  /** Ends it before its next step. */
  ends?(): boolean;
}

/** Plays a scene from its beginning, as fast as it goes, up to the first difference. Nothing of the app is touched. */
export async function play(options: PlayOptions): Promise<SceneResult> {
  const player = new ScenePlayer(options);
  try {
    return await player.play();
  } finally {
    await player.end();
  }
}

class ScenePlayer {
  private readonly room: Rehearsal;
  private readonly phones = new Map<string, string>();
  private readonly made: MadeRecords;
  private readonly touching: Touching;
  private readonly addresses = new Map<string, string>();
  private remarks: string[] = [];
  /** What went wrong since the step began. */
  private wrong: string[] = [];
  private steps: StepResult[] = [];

  constructor(private readonly options: PlayOptions) {
    const { app, scene, kinds, file } = options;
    const begins = scene.records ?? options.states;
    const stamp = stampText(scene.at - HOUR, 0, 'scene');
    const states = begins.map(({ table, id, cells }): RecordState => ({ table, id, cells, stamp }));
    this.room = new Rehearsal({
      app,
      states,
      kinds,
      at: scene.at,
      file: file ?? (async () => null),
      changed: () => undefined,
      byHand: true,
      acts: { phone: () => undefined, room: () => undefined, noted: (note) => this.noted(note) },
    });
    this.made = new MadeRecords(this.room, states);
    this.touching = new Touching(app, this.room);
  }

  private noted({ of, sort, said }: Note): void {
    if (sort !== 'refused') return;
    const whose = of === SERVER ? 'The server' : (this.room.phones[of]?.somebody.name ?? 'Somebody');
    this.wrong.push(`${whose} ${said}`);
  }

  private get stage(): Stage {
    const { app } = this.options;
    return {
      app,
      room: this.room,
      phones: this.phones,
      remark: (said) => this.remarks.push(said),
      readdressed: (was, is) => this.addresses.set(was, is),
      comes: (member) => this.comes(member),
    };
  }

  private async comes(member: string): Promise<void> {
    const { cast } = this.options.scene;
    const known = cast.find((c) => c.id === member);
    if (!known) throw new Different('Whoever comes is not in the cast.');
    const persona = this.knownHere(known.persona);
    const id = await this.room.add(persona).catch((e: Error) => {
      const name = persona.is === 'person' ? persona.name : persona.is === 'invited' ? persona.mail : undefined;
      throw new Different(`${name ?? 'Somebody'} cannot come: ${e.message}`);
    });
    this.phones.set(member, id);
    await begin(this.room.phones[id]!);
    await rest(this.room);
  }

  /** One of the people who is here by another id is found by name. */
  private knownHere(persona: Persona): Persona {
    const { app } = this.options;
    const table = app.people ?? peopleTable(app)?.id;
    if (persona.is !== 'person' || !table || !persona.name) return persona;
    const { records } = this.room.world.host.replica;
    if (records.row(table, persona.record)) return persona;
    const named = records.rows(table).filter((r) => r.title() === persona.name);
    return named.length === 1 ? { ...persona, record: named[0]!.id } : persona;
  }

  async play(): Promise<SceneResult> {
    const { scene, ends } = this.options;
    const began = performance.now();
    let problem: string | undefined;
    try {
      const later = new Set(scene.steps.flatMap((s) => (s.do === 'comes' ? [s.who] : [])));
      for (const { id } of scene.cast) if (!later.has(id)) await this.comes(id);
    } catch (e) {
      problem = (e as Error).message;
    }
    this.touching.look();
    this.options.after?.(null, () => this.stills());
    let failed: StepResult | null = null;
    let before: string | null = null;
    let acted = 0;
    for (const step of scene.steps) {
      if (failed || problem !== undefined || ends?.()) {
        this.steps.push({ step: step.id, did: 'not reached', at: this.now, remarks: [] });
        continue;
      }
      if (step.off || step.do === 'part') {
        this.steps.push({ step: step.id, did: 'left out', at: this.now, remarks: [] });
        continue;
      }
      this.made.look(before);
      const isAct = !isExpect(step);
      if (isAct) acted = this.lastNote;
      const result = await this.one(step, acted);
      if (isAct) before = step.id;
      if (result.did === 'failed') failed = result;
      this.steps.push(result);
      this.touching.look();
      this.options.after?.(result, () => this.stills());
    }
    return {
      scene: scene.id,
      passed: !failed && problem === undefined,
      failed,
      steps: this.steps,
      ms: performance.now() - began,
      ...(problem !== undefined && { problem }),
      touched: this.touching.touched,
      ids: Object.fromEntries(this.made.others(scene.made)),
    };
  }

  private get now(): number {
    return this.room.world.clock.now();
  }
  private get lastNote(): number {
    return this.room.notesSince(0).at(-1)?.n ?? 0;
  }

  private async one(recorded: SceneStep, acted: number): Promise<StepResult> {
    this.remarks = [];
    this.wrong = [];
    try {
      const step = this.ofNow(recorded);
      if (isExpect(step)) await expects(this.stage, step, this.room.notesSince(acted));
      else {
        await does(this.stage, step);
        await rest(this.room);
        this.asBefore(step);
        if (step.do === 'save') this.touching.saved(step.at.element);
      }
      return { step: recorded.id, did: 'passed', at: this.now, remarks: this.remarks };
    } catch (e) {
      const more = e instanceof Different ? e.more : {};
      const said = (e as Error).message;
      return { step: recorded.id, did: 'failed', at: this.now, said, ...more, remarks: this.remarks };
    }
  }

  /** A step with the ids and addresses of now in place of those of its recording. Throws where a value names nothing. */
  private ofNow(step: SceneStep): SceneStep {
    const { made } = this.options.scene;
    const others = this.made.others(made);
    // What has a name is found by that.
    const {
      at: _at,
      of: _of,
      before: _before,
      ...values
    } = step as SceneStep & { at?: unknown; of?: unknown; before?: unknown };
    const text = JSON.stringify(values);
    if (made.some((m) => !others.has(m.record) && text.includes(m.record)))
      throw new Different('It names a record that a step made which is not here any more, or is switched off.');
    const now = withOthers(step, others);
    return step.do === 'file' ? now : withOthers(now, this.addresses);
  }

  /** What went wrong when it was recorded may do so again, and nothing else. */
  private asBefore({ wrong }: SceneStep): void {
    if (wrong?.length && this.wrong.length === 0)
      throw new Different('Something was refused here, and is not any more.', {
        expected: wrong[0]!,
        actual: 'nothing is refused',
      });
    if (!wrong?.length && this.wrong.length > 0)
      throw new Different(`${this.wrong[0]!}`, { expected: 'nothing is refused, and nothing stops' });
  }

  /** What the phones of the cast show now. */
  private stills(): PhoneStill[] {
    return [...this.phones].flatMap(([who, id]) => {
      const phone = this.room.phones[id];
      if (!phone) return [];
      return [
        {
          who,
          name: phone.somebody.name,
          isOpen: phone.state.isOpen,
          isShut: isShut(this.options.app, phone),
          still: structuredClone(phone.seen.still),
        },
      ];
    });
  }

  end(): Promise<void> {
    this.touching.close();
    return this.room.end();
  }
}
