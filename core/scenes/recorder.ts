import type { App } from '../app/schema.ts';
import {
  MOST_SCENE_FILE,
  MOST_SCENE_STEPS,
  MOST_SCENE_WORDS,
  type NewSceneStep,
  type Of,
  type Persona,
  type Scene,
  type SceneStep,
  type Spot,
} from '../app/scene-schema.ts';
import { isExpect } from '../app/scene-edits.ts';
import { base64Of } from '../document/base64.ts';
import { newId } from '../document/ids.ts';
import type { Cell } from '../fields/lists.ts';
import type { HearsActs, RoomAct } from '../rehearsal/acts.ts';
import type { PhoneAct } from '../rehearsal/phone-acts.ts';
import { SERVER, type Note } from '../rehearsal/notes.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { inputOn, formOn } from './forms.ts';
import { MadeRecords } from './made.ts';
import { ofRecord, spotAt } from './spots.ts';
import { timeOfDay } from './zone.ts';

const MINUTE = 60_000;
/** Of what people do to see a list otherwise these are only its part in view. */
const IN_VIEW = new Set(['from', 'count', 'more']);

/** Writes down what is done in a rehearsal, as the steps of a scene. */
export class Recorder implements HearsActs {
  private steps: SceneStep[] = [];
  /** How often what is written down has changed. */
  count = 0;
  private readonly cast: Scene['cast'] = [];
  /** The members of the cast, by the ids of their phones. */
  private readonly members = new Map<string, string>();
  private made: MadeRecords | null = null;
  private rehearsal: Rehearsal | null = null;
  private began = 0;

  constructor(
    private readonly app: App,
    private readonly begins: readonly { id: string }[],
    private readonly changed: () => void = () => undefined,
  ) {}

  /** The rehearsal whose acts it hears. */
  of(room: Rehearsal): void {
    this.rehearsal = room;
    this.began = room.world.clock.now();
    this.made = new MadeRecords(room, this.begins);
  }

  /** More than a scene takes was done. */
  get isFull(): boolean {
    return this.steps.length >= MOST_SCENE_STEPS;
  }

  private add(step: NewSceneStep): SceneStep | null {
    if (this.isFull) return null;
    this.made?.look(this.lastAct?.id ?? null);
    const made = { ...step, id: newId('c') } as SceneStep;
    this.steps.push(made);
    this.told();
    return made;
  }

  private change(change: () => unknown): void {
    change();
    this.told();
  }
  private told(): void {
    this.count++;
    this.changed();
  }

  /** The last step that is no expectation: what comes meanwhile is its doing. */
  private get lastAct(): SceneStep | undefined {
    return this.steps.findLast((s) => !isExpect(s));
  }

  /** Takes a step out of what is written down. */
  forget(step: string): void {
    this.steps = this.steps.filter((s) => s.id !== step);
    this.told();
  }

  /** The last step, where it is of this sort. */
  private last<D extends SceneStep['do']>(does: D): Extract<SceneStep, { do: D }> | null {
    const last = this.steps.at(-1);
    return last?.do === does ? (last as Extract<SceneStep, { do: D }>) : null;
  }

  /** Adds what is expected. */
  expect(step: NewSceneStep): SceneStep | null {
    return this.add(step);
  }

  /** The member of the cast that uses a phone; null for none. */
  memberOf(phone: string): string | null {
    return this.members.get(phone) ?? null;
  }

  noted({ of, sort, said }: Note): void {
    const last = this.lastAct;
    if (sort !== 'refused' || !last) return;
    const whose = of === SERVER ? 'The server' : (this.rehearsal?.phones[of]?.somebody.name ?? 'Somebody');
    this.told();
    (last.wrong ??= []).push(`${whose} ${said}`.slice(0, MOST_SCENE_WORDS));
    last.wrong.splice(20);
  }

  phone(phone: RehearsedPhone, act: PhoneAct, persona?: Persona): void {
    if (act.did === 'came') return this.came(phone, persona!);
    const who = this.members.get(phone.id);
    if (who) this.did(who, phone, act);
  }

  private came(phone: RehearsedPhone, persona: Persona): void {
    const id = newId('k');
    this.cast.push({ id, persona });
    this.members.set(phone.id, id);
    if (this.steps.length > 0) this.add({ do: 'comes', who: id });
  }

  private spot(phone: RehearsedPhone, view: string, key: string): Spot {
    return spotAt(this.app, phone, view, key);
  }
  private named(phone: RehearsedPhone, record: string | null): Of | undefined {
    return record === null ? undefined : ofRecord(this.app, phone, record);
  }

  private did(who: string, phone: RehearsedPhone, act: Exclude<PhoneAct, { did: 'came' }>): void {
    switch (act.did) {
      case 'tapped': {
        const { view, key, property, knows } = act;
        const more = { ...(property !== undefined && { property }), ...(knows && { knows: plain(knows) }) };
        this.add({ do: 'tap', who, at: this.spot(phone, view, key), ...more } as NewSceneStep);
        return;
      }
      case 'saved':
        return this.saved(who, phone, act);
      case 'typed': {
        const last = this.last('type');
        if (last?.who === who && last.variable === act.variable) this.change(() => (last.cell = act.cell));
        else this.add({ do: 'type', who, variable: act.variable, cell: act.cell });
        return;
      }
      case 'looked':
        return this.looked(who, phone, act);
      case 'moved': {
        const before = this.named(phone, act.before);
        this.add({ do: 'move', who, at: this.spot(phone, act.view, act.key), ...(before && { before }) });
        return;
      }
      case 'answered':
        this.add({ do: 'answer', who, asked: askedAs(phone, act.id), answer: plain(act.answer) } as NewSceneStep);
        return;
      case 'went':
        if (act.to.to === 'tab') this.add({ do: 'tab', who, screen: act.to.screen });
        else if (act.to.to === 'back') this.add({ do: 'back', who });
        return;
      case 'left':
        // What is typed and not saved is no step, so nothing is thrown away when it is played: whoever stayed has not gone.
        if (!act.anyway && (this.last('back')?.who === who || this.last('tab')?.who === who)) this.steps.pop();
        return;
      case 'kept a file':
        return this.keepsFile(who, act);
      case 'network':
        this.add({ do: 'network', who, network: act.network });
        return;
      case 'clock':
        this.add({ do: 'clock', who, ahead: act.ahead });
        return;
      case 'went off':
        this.add({ do: 'goes off', who });
        return;
      case 'opened':
        this.add({ do: 'opens', who });
        return;
      case 'goes':
        this.add({ do: 'goes', who });
        this.members.delete(phone.id);
    }
  }

  private saved(who: string, phone: RehearsedPhone, act: Extract<PhoneAct, { did: 'saved' }>): void {
    const { table, record, values, isPart } = act;
    const of = this.named(phone, record);
    if (isPart) {
      const found = inputOn(phone, table, record, Object.keys(values));
      const last = this.last('fill');
      const isSame = last?.who === who && last.table === table && last.of?.record === (record ?? undefined);
      // What is typed in one go is one step.
      if (isSame && sameKeys(last.values, values)) this.change(() => (last.values = { ...values }));
      else
        this.add({
          do: 'fill',
          who,
          at: found ? this.spot(phone, found.view, found.node.key) : this.nowhere(phone),
          table,
          ...(of && { of }),
          values: { ...values },
        });
      return;
    }
    const found = formOn(phone, table, record);
    const typed = found
      ? Object.fromEntries(Object.entries(values).filter(([f, cell]) => cell !== (found.begins[f] ?? null)))
      : { ...values };
    const at: Spot = found ? { ...this.spot(phone, found.view, found.node.key), words: '' } : this.nowhere(phone);
    this.add({ do: 'save', who, at, table, ...(of && { of }), values: typed });
  }

  /** What is open, where nothing on it is known. */
  private nowhere(phone: RehearsedPhone): Spot {
    return { screen: phone.seen.where?.stack.at(-1)?.screen ?? this.app.screens[0]!.id, element: '', words: '' };
  }

  /** Where somebody looks for words, by member and element. */
  private readonly looking = new Set<string>();

  private looked(who: string, phone: RehearsedPhone, act: Extract<PhoneAct, { did: 'looked' }>): void {
    const change = Object.fromEntries(Object.entries(act.change).filter(([k]) => !IN_VIEW.has(k)));
    if (Object.keys(change).length === 0) return;
    const at = { ...this.spot(phone, act.view, act.key), words: '' };
    const last = this.last('look');
    // A box says that it is empty when it is drawn.
    const key = `${who} ${at.element}`;
    const isEmpty = change['search'] === '' && Object.keys(change).length === 1;
    if (isEmpty && !this.looking.has(key)) return;
    if (isEmpty) this.looking.delete(key);
    else this.looking.add(key);
    if (last?.who === who && last.at.element === at.element && last.at.of?.record === at.of?.record)
      this.change(() => Object.assign(last.change, plain(change)));
    else this.add({ do: 'look', who, at, change: plain(change) } as NewSceneStep);
  }

  private keepsFile(who: string, act: Extract<PhoneAct, { did: 'kept a file' }>): void {
    const { content, name, address } = act;
    const isStandIn = content.size > MOST_SCENE_FILE;
    const step = this.add({
      do: 'file',
      who,
      name: name.slice(0, 255),
      type: content.type.slice(0, 100),
      data: '',
      address,
      ...(isStandIn && { isStandIn: true }),
    });
    if (step?.do !== 'file' || isStandIn) return;
    const reads = content.arrayBuffer().then((bytes) => {
      step.data = base64Of(new Uint8Array(bytes));
    });
    this.reading.push(reads);
  }
  /** Files that are read. */
  private readonly reading: Promise<void>[] = [];

  room(act: RoomAct): void {
    switch (act.did) {
      case 'passed': {
        const last = this.last('wait');
        if (last && !last.wrong) {
          const before = Math.floor(last.ms / MINUTE);
          last.ms += act.ms;
          // A clock that runs says so many times a second; it is told by the minute.
          if (Math.floor(last.ms / MINUTE) !== before) this.told();
        } else this.add({ do: 'wait', ms: act.ms });
        return;
      }
      case 'went to': {
        const time = timeOfDay(this.app, act.from, act.to);
        this.add(time ? { do: 'until', ...time } : { do: 'wait', ms: act.to - act.from });
        this.left = act.from;
        return;
      }
      case 'stopped': {
        const last = this.steps.at(-1);
        if (last?.do !== 'until' && last?.do !== 'wait') return;
        const { id, wrong } = last;
        this.steps[this.steps.length - 1] = { id, do: 'wait', ms: act.at - this.left, ...(wrong && { wrong }) };
        return;
      }
      case 'wrote':
        return this.wrote(act);
      case 'called':
        this.add({ do: 'call', routine: act.routine, body: act.body });
        return;
      case 'fault':
        this.add({ do: 'fault', service: act.service, fault: act.fault });
        return;
      case 'signed in': {
        const who = this.members.get(act.phone);
        if (who) this.add({ do: 'signs in', who, mail: act.mail });
      }
    }
  }
  /** When the way that time goes began. */
  private left = 0;

  private wrote({ mail }: Extract<RoomAct, { did: 'wrote' }>): void {
    const { from, name, subject, words, answers, files } = mail;
    // By its id a mail is not found again: by to whom it went, and what of.
    const answered = answers === undefined ? undefined : { to: from, subject };
    const tooLarge = files?.filter((f) => !fits(f)).map((f) => f.name) ?? [];
    this.add({
      do: 'mail',
      from,
      name,
      subject,
      words,
      ...(answered && { answers: answered }),
      ...(files?.length && { files: files.filter(fits) }),
      ...(tooLarge.length && {
        note: `Too large to be kept with the scene, and left out: ${tooLarge.join(', ')}`.slice(0, MOST_SCENE_WORDS),
      }),
    });
  }

  /** What was done so far, as a scene. */
  async scene(name: string): Promise<Scene> {
    await Promise.all(this.reading);
    this.made?.look(this.lastAct?.id ?? null);
    const steps = structuredClone(this.steps).map((s) => (s.do === 'wait' ? { ...s, ms: Math.round(s.ms) } : s));
    return {
      id: newId('z'),
      name,
      at: this.began,
      cast: structuredClone(this.cast),
      steps,
      made: this.made?.namedIn(JSON.stringify(steps)) ?? [],
    };
  }

  /** The steps as they are now, as far as they are told: without the content of files. */
  get soFar(): Pick<Scene, 'cast' | 'steps'> & { isFull: boolean } {
    const steps = this.steps.map((s) =>
      s.do === 'file' ? { ...s, data: '' } : s.do === 'mail' ? { ...s, files: [] } : s,
    );
    return { cast: this.cast, steps, isFull: this.isFull };
  }
}

/** What something waits for an answer with: a question, what the device is asked, or what was said. */
export function askedAs(phone: RehearsedPhone, id: string): string {
  const { asked, press } = phone.seen;
  if (press?.id === id) return press.words;
  const found = asked.find((a) => a.id === id);
  return found ? askedWords(found) : 'a question';
}

export function askedWords(a: RehearsedPhone['seen']['asked'][number]): string {
  if (a.do === 'ask') return a.question.words;
  return a.do === 'device' ? `the device: ${a.what.do}` : a.title;
}

/** Is a file of a mail small enough? Its content is in base 64: four letters for three bytes. */
const fits = (file: { data: string }): boolean => file.data.length <= (MOST_SCENE_FILE / 3) * 4;

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
const sameKeys = (a: Record<string, Cell>, b: Record<string, Cell>): boolean =>
  Object.keys(a).sort().join() === Object.keys(b).sort().join();
