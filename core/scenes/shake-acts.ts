import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { DrawnNode } from '../screens/element.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import { fieldsIn } from './forms.ts';
import { isPressed } from './reads.ts';
import { askedWords } from './recorder.ts';
import { saving, tapping, type ChanceMap, type ChanceMemory } from './chance-map.ts';
import { underWay, type Resting } from './resting.ts';

/** An act by chance, as numbers: what they come to depends on what there is to do then. */
export interface ChanceAct {
  /** Which phone. */
  who: number;
  /** What sort of act, in per cent. */
  sort: number;
  /** Which of what can be done. */
  pick: number;
  /** What is filled in. */
  value: number;
}

/** What an act came to: it can be done again where other acts were left out before it. */
export type ShakenAct =
  | { does: 'pass'; ms: number }
  /** A phone loses its network, or has it again. */
  | { does: 'network'; who: number }
  /** Something on a phone, by what it is called; in a list, on the row of a record. */
  | { does: 'one'; who: number; of: string; row?: string; value: number }
  /** Two people do the same to the same record, while neither has a network. */
  | { does: 'at once'; who: number; of: string; value: number };

/** Something that can be done on a phone: what it is, so that what was never done comes first, and how it is done. */
interface Doing {
  of: string;
  /** The record whose row it presses. */
  row?: string;
  /** The screens that it leads to. */
  to?: Iterable<string>;
  do(): Promise<unknown>;
}

/** What was done more often than so is not looked for. */
const MOST_LEVELS = 8;
/** So many rows of a list are pressed by chance. */
const ROWS = 4;
/** Said by a device that gave nothing: what stops by it is no fault. */
export const DECLINED = 'Nothing was given.';
const MINUTE = 60_000;
const PASSES = [10 * MINUTE, 60 * MINUTE, 5 * 60 * MINUTE];

const atOnce = (of: string): string => `at once ${of}`;

/** Chooses and does acts by chance in a rehearsal. */
export class ChanceHands {
  constructor(
    private readonly app: App,
    private readonly room: Resting & Pick<Rehearsal, 'pass'>,
    private readonly map: ChanceMap,
    private readonly memory: ChanceMemory,
    /** Networks are lost, and two do the same at once. */
    private readonly faults = true,
  ) {}

  private get phones(): RehearsedPhone[] {
    return Object.values(this.room.phones);
  }
  private phone(who: number): RehearsedPhone | undefined {
    const { phones } = this;
    return phones[who % phones.length];
  }

  /** What an act by chance comes to now: mostly what was never done, or the way there. Null where there is nothing to do. */
  choose({ who, sort, pick, value }: ChanceAct): ShakenAct | null {
    const phone = this.phone(who);
    if (!phone) return null;
    if (sort >= 94) return { does: 'pass', ms: PASSES[pick % PASSES.length]! };
    if (this.faults && sort >= 86) return { does: 'network', who };
    if (this.faults && sort >= 50 && this.phones.length > 1) {
      const same = this.rarest(this.sameAt(phone, this.phone(who + 1)!), atOnce);
      const chosen = same[pick % same.length];
      // What two never did at once is done more often.
      if (chosen && (sort >= 76 || this.memory.often(atOnce(chosen.of)) === 0))
        return { does: 'at once', who, of: chosen.of, value };
    }
    if (!phone.state.isOpen) return null;
    const all = this.doings(phone, value);
    // A question is answered first, as it lies over all else; and a form that is open is mostly filled in.
    const first = all.filter((d) => d.of.startsWith('answer'));
    const saves = all.filter((d) => d.of.startsWith('save'));
    const some = first.length ? first : sort < 40 && saves.length ? saves : all;
    // Two times of three it is what was never done, or leads there by the shortest way.
    const from = value % 3 ? this.nearest(some) : some;
    const chosen = from[pick % from.length];
    if (!chosen) return null;
    return { does: 'one', who, of: chosen.of, ...(chosen.row !== undefined && { row: chosen.row }), value };
  }

  /** Those with the fewest taps to what was never done; where none leads there, to what was done once, and so on. */
  private nearest(some: readonly Doing[]): readonly Doing[] {
    for (let level = 0; level < MOST_LEVELS; level++) {
      const distances = this.map.distances(this.memory, level);
      const far = (d: Doing): number => {
        if (this.memory.often(d.of) <= level) return 0;
        return 1 + Math.min(...[...(d.to ?? [])].map((screen) => distances.get(screen) ?? Infinity));
      };
      const least = Math.min(...some.map(far));
      if (least < Infinity) return some.filter((d) => far(d) === least);
    }
    return this.rarest(some);
  }
  private rarest(some: readonly Doing[], called = (of: string): string => of): readonly Doing[] {
    const often = (d: Doing): number => this.memory.often(called(d.of));
    const least = Math.min(...some.map(often));
    return some.filter((d) => often(d) === least);
  }

  /** Does an act, if it can be done now. */
  async do(act: ShakenAct): Promise<boolean> {
    const { room } = this;
    if (act.does === 'pass') {
      await room.pass(act.ms);
      return true;
    }
    const phone = this.phone(act.who);
    if (!phone) return false;
    if (act.does === 'network') {
      phone.network = phone.state.network === 'off' ? 'on' : 'off';
      return true;
    }
    for (const { screen } of phone.seen.open) this.memory.visit(screen);
    if (act.does === 'at once') {
      this.memory.done(atOnce(act.of));
      return this.sameAtOnce(phone, this.phone(act.who + 1)!, act);
    }
    if (!phone.state.isOpen) return false;
    const doing = this.doings(phone, act.value, act.row).find((d) => d.of === act.of && d.row === act.row);
    if (!doing) return false;
    this.memory.done(act.of);
    await underWay(room, doing.do()).catch(() => undefined);
    return true;
  }

  private doings(phone: RehearsedPhone, value: number, record?: string): Doing[] {
    const { app } = this;
    return [...answers(phone, value), ...forms(phone, value), ...this.taps(phone, record), ...ways(app, phone)];
  }
  /** What can be tapped; of a list its first rows, and that of a record. */
  private taps(phone: RehearsedPhone, record?: string | null): Doing[] {
    return taps(phone, (element) => this.map.leadsTo(element), record);
  }

  /** What two people can tap on a record that one of them has open; nothing where that one has no network. */
  private sameAt(one: RehearsedPhone, other: RehearsedPhone): Doing[] {
    const stack = one.seen.where?.stack ?? [];
    const isThere = stack.at(-1)?.record && stack.length <= 4 && one !== other && one.state.network !== 'off';
    return isThere ? this.onRecord(one) : [];
  }
  private onRecord(phone: RehearsedPhone): Doing[] {
    return this.taps(phone).filter((d) => d.row === undefined);
  }

  private async sameAtOnce(
    one: RehearsedPhone,
    other: RehearsedPhone,
    { of, value }: Extract<ShakenAct, { does: 'at once' }>,
  ): Promise<boolean> {
    const { room } = this;
    const stack = one.seen.where?.stack ?? [];
    if (!this.sameAt(one, other).some((d) => d.of === of)) return false;
    // The other goes the same way.
    await underWay(room, other.walk.go({ to: 'tab', screen: stack[0]!.screen }));
    for (const place of stack.slice(1)) {
      const all = this.taps(other, place.record);
      const isWay = (d: Doing): boolean => d.row === undefined && [...(d.to ?? [])].includes(place.screen);
      const way = all.find((d) => d.row === place.record) ?? all.find(isWay);
      if (!way) return false;
      await underWay(room, way.do()).catch(() => undefined);
    }
    if (!this.onRecord(other).some((d) => d.of === of)) return false;
    for (const phone of [one, other]) phone.network = 'off';
    for (const phone of [one, other]) {
      const doing = this.onRecord(phone).find((d) => d.of === of);
      if (doing) await underWay(room, doing.do()).catch(() => undefined);
      for (let i = 0; i < 3; i++) {
        const [asked] = answers(phone, value);
        if (asked) await underWay(room, asked.do()).catch(() => undefined);
      }
    }
    for (const phone of [one, other]) {
      phone.network = 'on';
      await room.settle();
    }
    return true;
  }
}

function answers(phone: RehearsedPhone, value: number): Doing[] {
  return phone.seen.asked.map((a) => ({
    of: `answer ${askedWords(a)}`,
    do: () => phone.api.answered(a.id, answerTo(a, value) as never),
  }));
}

function answerTo(a: RehearsedPhone['seen']['asked'][number], value: number): unknown {
  if (a.do === 'notice') return { ok: true };
  // Somebody may leave a camera without a picture, and what a device makes is not made here.
  if (a.do === 'device') return { ok: false, reason: DECLINED };
  const { question } = a;
  if (question.wants === 'a choice') {
    const { choices } = question;
    return choices.length ? { ok: true, value: choices[value % choices.length]!.value } : { ok: false, reason: '' };
  }
  if (question.wants === 'a value') return { ok: true, value: String(1 + (value % 9)) };
  return { ok: true, value: true };
}

function forms(phone: RehearsedPhone, value: number): Doing[] {
  return phone.seen.open.flatMap(({ opening, shown }) =>
    [...shown.nodes.values()].flatMap((node): Doing[] => {
      if (node.kind !== 'form' || node['refused']) return [];
      const table = node['table'] as string;
      const record = node['record'] as string | null;
      return [
        {
          of: saving(node.id),
          async do() {
            const inputs = fieldsIn(shown, node['children'] as string[]);
            const place = phone.seen.where?.stack.find((p) => p.opening === opening);
            const begins = { ...(node['values'] as Record<string, Cell>), ...(record === null && place?.values) };
            const filled = Object.fromEntries(
              inputs.map((n, i) => {
                const field = n['field'] as string;
                const cell = n['locked'] === true ? null : sensible(phone, n, value + i);
                return [field, cell ?? begins[field] ?? null];
              }),
            );
            const values = record === null ? { ...begins, ...filled } : filled;
            const answer = await phone.api.saveForm(table, record, values);
            if ('saved' in answer) await phone.walk.saved();
          },
        },
      ];
    }),
  );
}

/** A value that somebody might fill in; null for what is left as it is. */
function sensible(phone: RehearsedPhone, n: DrawnNode, value: number): Cell {
  const choices = n['choices'] as readonly string[] | undefined;
  const link = n['link'] as string | null;
  if (n['several'] === true || n['writable'] === false) return null;
  if (choices?.length) return choices[value % choices.length]!;
  if (link) {
    const rows = phone.there.records.rows(link).slice(0, 20);
    return rows.length ? rows[value % rows.length]!.id : null;
  }
  switch (n['type']) {
    case 'text':
      return `Chance ${value % 90}`;
    case 'number': {
      const [least, most] = [n['least'] as number | undefined, n['most'] as number | undefined];
      return Math.min(most ?? 50, Math.max(least ?? 1, 1 + (value % 20)));
    }
    case 'yesno':
      return value % 2 === 0;
    case 'mail':
      return `chance${value % 90}@post.example`;
    default:
      return null;
  }
}

function taps(phone: RehearsedPhone, leadsTo: (element: string) => Iterable<string>, record?: string | null): Doing[] {
  const { seen } = phone;
  return seen.open.flatMap(({ opening, shown }) =>
    [...shown.nodes.values()].flatMap((node): Doing[] => {
      const press = (key: string, row?: string): Doing => ({
        of: tapping(node.id),
        to: leadsTo(node.id),
        ...(row !== undefined && { row }),
        do: () => phone.api.tapped(opening, key),
      });
      const rows = rowsOf(node);
      if (rows.length && node['tap'] === 'act')
        return rows.filter((r, i) => i < ROWS || r.record === record).map((r) => press(r.key, r.record));
      const isList = Array.isArray(node['rows']);
      if (isList || !isPressed(node) || node['tap'] !== 'act' || node['off'] === true) return [];
      // Of a long list the first rows are enough.
      const row = seen.rowOf(opening, node.key);
      const isFar = row !== null && !isAmongFirst(shown.nodes.values(), row);
      return isFar ? [] : [press(node.key)];
    }),
  );
}

const isAmongFirst = (nodes: Iterable<DrawnNode>, record: string): boolean =>
  [...nodes].some((n) =>
    rowsOf(n)
      .slice(0, ROWS)
      .some((r) => r.record === record),
  );

function ways(app: App, phone: RehearsedPhone): Doing[] {
  const tabs = [...app.tabs, ...(app.drawer?.ways ?? [])].map(({ screen }): Doing => ({
    of: `tab ${screen}`,
    to: [screen],
    do: () => phone.walk.go({ to: 'tab', screen }),
  }));
  const below = phone.seen.where?.stack.at(-2);
  if (!below) return tabs;
  return [...tabs, { of: 'back', to: [below.screen], do: () => phone.walk.go({ to: 'back' }) }];
}
