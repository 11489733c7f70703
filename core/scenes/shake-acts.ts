import type { App } from '../app/schema.ts';
import type { Cell } from '../fields/lists.ts';
import type { DrawnNode } from '../screens/element.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import { fieldsIn } from './forms.ts';
import { isPressed } from './reads.ts';
import { underWay } from './resting.ts';

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

/** Something that can be done on a phone: what it is, so that what was never done comes first, and how it is done. */
interface Doing {
  of: string;
  /** The record whose row it presses. */
  row?: string;
  do(): Promise<unknown>;
}

/** So many rows of a list are pressed by chance. */
const ROWS = 4;
/** Said by a device that gave nothing: what stops by it is no fault. */
export const DECLINED = 'Nothing was given.';
const MINUTE = 60_000;
const PASSES = [10 * MINUTE, 60 * MINUTE, 5 * 60 * MINUTE];

/** Does an act by chance in a rehearsal. What was never done before is preferred. Gives what it was; null where there is nothing to do. */
export async function actByChance(
  app: App,
  room: Rehearsal,
  { who, sort, pick, value }: ChanceAct,
  done: ReadonlyMap<string, number>,
): Promise<string | null> {
  const phones = Object.values(room.phones);
  const phone = phones[who % phones.length];
  if (!phone) return null;
  if (sort >= 94) return passes(room, pick);
  if (sort >= 86) return network(phone, phones);
  if (sort >= 76 && phones.length > 1) return sameAtOnce(room, phone, phones[(who + 1) % phones.length]!, pick, value);
  if (!phone.state.isOpen) return null;
  const all = [...answers(phone, value), ...forms(app, phone, value), ...taps(phone), ...ways(app, phone)];
  // A question is answered first, as it lies over all else; and a form that is open is mostly filled in.
  const first = all.filter((d) => d.of.startsWith('answer'));
  const saves = all.filter((d) => d.of.startsWith('save'));
  const some = first.length ? first : sort < 40 && saves.length ? saves : all;
  // Every other time what was done least often is done.
  const often = (d: Doing): number => done.get(d.of) ?? 0;
  const least = Math.min(...some.map(often));
  const from = value % 2 ? some.filter((d) => often(d) === least) : some;
  const chosen = from[pick % from.length];
  if (!chosen) return null;
  await underWay(room, chosen.do()).catch(() => undefined);
  return chosen.of;
}

async function passes(room: Rehearsal, pick: number): Promise<string> {
  const ms = PASSES[pick % PASSES.length]!;
  await room.pass(ms);
  return `pass ${ms}`;
}

/** A phone loses its network, or has it again. */
async function network(phone: RehearsedPhone, phones: readonly RehearsedPhone[]): Promise<string> {
  const isOff = phone.state.network === 'off';
  phone.network = isOff ? 'on' : 'off';
  return `network ${phones.indexOf(phone)} ${isOff}`;
}

/** Two people do the same to the same record, while neither has a network. */
async function sameAtOnce(
  room: Rehearsal,
  one: RehearsedPhone,
  other: RehearsedPhone,
  pick: number,
  value: number,
): Promise<string | null> {
  const stack = one.seen.where?.stack ?? [];
  const top = stack.at(-1);
  if (!top?.record || stack.length > 4 || one === other || one.state.network === 'off') return null;
  // The other goes the same way.
  await underWay(room, other.walk.go({ to: 'tab', screen: stack[0]!.screen }));
  for (const place of stack.slice(1)) {
    const way = taps(other).find((d) => d.row === place.record) ?? null;
    if (!way) return null;
    await underWay(room, way.do()).catch(() => undefined);
  }
  const ofTop = (phone: RehearsedPhone): Doing[] =>
    taps(phone).filter((d) => d.row === undefined && d.of.startsWith('tap'));
  const same = ofTop(one).filter((d) => ofTop(other).some((x) => x.of === d.of));
  const chosen = same[pick % same.length];
  if (!chosen) return null;
  for (const phone of [one, other]) phone.network = 'off';
  for (const phone of [one, other]) {
    const doing = ofTop(phone).find((d) => d.of === chosen.of);
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
  return `at once ${chosen.of}`;
}

function answers(phone: RehearsedPhone, value: number): Doing[] {
  return phone.seen.asked.map((a) => ({
    of: `answer ${a.id}`,
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

function forms(app: App, phone: RehearsedPhone, value: number): Doing[] {
  return phone.seen.open.flatMap(({ opening, shown }) =>
    [...shown.nodes.values()].flatMap((node): Doing[] => {
      if (node.kind !== 'form' || node['refused']) return [];
      const table = node['table'] as string;
      const record = node['record'] as string | null;
      return [
        {
          of: `save ${node.id}`,
          async do() {
            const inputs = fieldsIn(shown, node['children'] as string[]);
            const place = phone.seen.where?.stack.find((p) => p.opening === opening);
            const begins = { ...(node['values'] as Record<string, Cell>), ...(record === null && place?.values) };
            const filled = Object.fromEntries(
              inputs.map((n, i) => {
                const field = n['field'] as string;
                const cell = n['locked'] === true ? null : sensible(app, phone, n, value + i);
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
function sensible(app: App, phone: RehearsedPhone, n: DrawnNode, value: number): Cell {
  const choices = n['choices'] as readonly string[] | undefined;
  const link = n['link'] as string | null;
  if (n['several'] === true || n['writable'] === false) return null;
  if (choices?.length) return choices[value % choices.length]!;
  if (link) {
    const rows = phone.there.records.rows(link).slice(0, 20);
    const of = app.tables.flatMap((t) => t.fields).find((f) => f.id === n['field'])?.link;
    return of?.kind === 'picked' && rows.length ? rows[value % rows.length]!.id : null;
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

function taps(phone: RehearsedPhone): Doing[] {
  const { seen } = phone;
  return seen.open.flatMap(({ opening, shown }) =>
    [...shown.nodes.values()].flatMap((node): Doing[] => {
      const press = (key: string, row?: string): Doing => ({
        of: `tap ${node.id}`,
        ...(row !== undefined && { row }),
        do: () => phone.api.tapped(opening, key),
      });
      const rows = rowsOf(node);
      if (rows.length && node['tap'] === 'act') return rows.slice(0, ROWS).map((r) => press(r.key, r.record));
      if (rows.length || !isPressed(node) || node['tap'] !== 'act' || node['off'] === true) return [];
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
    do: () => phone.walk.go({ to: 'tab', screen }),
  }));
  const isDeep = (phone.seen.where?.stack.length ?? 0) > 1;
  return isDeep ? [...tabs, { of: 'back', do: () => phone.walk.go({ to: 'back' }) }] : tabs;
}
