import type { App } from '../app/schema.ts';
import type { SceneStep, Spot } from '../app/scene-schema.ts';
import { fromBase64 } from '../document/base64.ts';
import type { Cell } from '../fields/lists.ts';
import { tableOf } from '../tables/names.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import type { PhonePage } from '../phone/walk.ts';
import { fieldsIn, formOn, inputOn } from './forms.ts';
import { nearestFew } from './nearest.ts';
import { rowReads, wordsOf } from './reads.ts';
import { askedWords } from './recorder.ts';
import { rest, underWay } from './resting.ts';
import { find, longLists, ofRecord, type Found } from './spots.ts';
import { whyNot } from './why-not.ts';
import { nextTime } from './zone.ts';

/** A step could not be done, or what it expects is not so. */
export class Different extends Error {
  constructor(
    said: string,
    readonly more: { expected?: string; actual?: string; nearest?: string[]; why?: string } = {},
  ) {
    super(said);
  }
}

/** What steps are done in. */
export interface Stage {
  app: App;
  room: Rehearsal;
  /** The phones of the cast, by its members. */
  phones: Map<string, string>;
  remark(said: string): void;
  /** Files have other addresses than when the scene was recorded. */
  readdressed(was: string, is: string): void;
  comes(member: string): Promise<void>;
}

/** A page that takes what it is shown, and draws nothing. */
export const BLIND: PhonePage = {
  where: () => undefined,
  draw: async () => undefined,
  leaving: () => undefined,
  asks: () => undefined,
  does: async () => undefined,
};

export const begin = (phone: RehearsedPhone): Promise<void> => phone.walk.begin(BLIND, { room: 'narrow' });

/** So many rows of a long list are looked through at once, and at most. */
const ROWS_AT_ONCE = 300;
const MOST_ROWS = 20_000;

export function phoneOf({ room, phones }: Stage, who: string): RehearsedPhone {
  const phone = room.phones[phones.get(who) ?? ''];
  if (!phone) throw new Different('Whoever does this has no phone in the scene at this point.');
  return phone;
}

/** Finds a place on a phone; in long lists it scrolls. */
export async function reach(stage: Stage, phone: RehearsedPhone, spot: Spot): Promise<ReturnType<typeof find>> {
  const found = find(stage.app, phone, spot);
  if ('key' in found || !spot.of) return found;
  const list = listOf(spot, phone);
  for (const { view, key, total } of longLists(phone, list))
    for (let from = 0; from < Math.min(total, MOST_ROWS); from += ROWS_AT_ONCE) {
      await phone.api.look(view, key, { from, count: ROWS_AT_ONCE });
      await rest(stage.room);
      const again = find(stage.app, phone, spot);
      if ('key' in again) return again;
    }
  // Where it is not found the lists are as they were.
  for (const { view, key } of longLists(phone, list)) await phone.api.look(view, key, { from: 0, count: undefined });
  return found;
}

/** The list that a place lies in: itself, or the one whose rows hold it. */
function listOf({ element, of }: Spot, phone: RehearsedPhone): string {
  const lists = phone.seen.open.flatMap(({ shown }) =>
    [...shown.nodes.values()].filter((n) => Array.isArray(n['rows'])),
  );
  const isItself = lists.some((n) => n.id === element);
  return (isItself ? undefined : lists.find((n) => n['table'] === of?.table)?.id) ?? element;
}

async function reached(stage: Stage, phone: RehearsedPhone, spot: Spot): Promise<Found> {
  const found = await reach(stage, phone, spot);
  if ('key' in found) {
    if (found.remark) stage.remark(found.remark);
    return found;
  }
  const screen = stage.app.screens.find((s) => s.id === phone.seen.open[0]?.screen)?.name ?? 'the screen';
  const top = phone.seen.open[0];
  const here = spot.of ?? (top?.record ? ofRecord(stage.app, phone, top.record) : undefined);
  const why = whyNot(stage.app, stage.room, phone, here);
  throw new Different(`${found.looked} is not on ${screen} of ${phone.somebody.name}.`, {
    nearest: found.nearest,
    ...(why !== null && { why }),
  });
}

/** What people read at a place that was found. */
export function readsAt(phone: RehearsedPhone, { view, key, node }: Found): string {
  const nodes = phone.seen.screens.get(view)?.nodes ?? new Map<string, never>();
  return node.key === key ? wordsOf(nodes, key) : rowReads(nodes, node, key);
}

/** Does a step of somebody on their phone, or of what happens around. Throws {@link Different} where that cannot be. */
export async function does(stage: Stage, step: SceneStep): Promise<void> {
  const { room, app } = stage;
  switch (step.do) {
    case 'tap': {
      const phone = phoneOf(stage, step.who);
      const { view, key, node } = await reached(stage, phone, step.at);
      if (node['off'] === true) throw new Different(`${wordsOf(new Map([[key, node]]), key)} is disabled.`);
      await underWay(room, phone.api.tapped(view, key, step.property, step.knows as never));
      return;
    }
    case 'save':
      return saves(stage, step);
    case 'fill': {
      const phone = phoneOf(stage, step.who);
      const found = inputOn(phone, step.table, step.of?.record ?? null, Object.keys(step.values));
      const fields = fieldNames(app, step.table, Object.keys(step.values));
      if (!found) {
        const why = whyNot(app, room, phone, step.of);
        throw new Different(`There is no input for ${fields} on the phone of ${phone.somebody.name}.`, {
          ...(why !== null && { why }),
        });
      }
      if (found.node['locked'] === true) {
        const why = whyNot(app, room, phone, step.of);
        throw new Different(`The input for ${fields} is read-only.`, { ...(why !== null && { why }) });
      }
      await underWay(room, phone.api.saveForm(step.table, step.of?.record ?? null, step.values, true));
      return;
    }
    case 'type': {
      const phone = phoneOf(stage, step.who);
      const isThere = phone.seen.open.some(({ shown }) =>
        [...shown.nodes.values()].some((n) => n['into'] === 'variable' && n['field'] === step.variable),
      );
      const name = app.variables?.find((v) => v.id === step.variable)?.name ?? 'this variable';
      if (!isThere) throw new Different(`There is no input for ${name} on the phone of ${phone.somebody.name}.`);
      await underWay(room, phone.api.typed(step.variable, step.cell));
      return;
    }
    case 'look': {
      const phone = phoneOf(stage, step.who);
      const { view, key } = await reached(stage, phone, step.at);
      await phone.api.look(view, key, { ...step.change, from: 0 });
      return;
    }
    case 'move': {
      const phone = phoneOf(stage, step.who);
      const { view, key } = await reached(stage, phone, step.at);
      await underWay(room, phone.api.moved(view, key, step.before?.record ?? null));
      return;
    }
    case 'tab': {
      const phone = phoneOf(stage, step.who);
      const isWay = [...app.tabs, ...(app.drawer?.ways ?? [])].some((w) => w.screen === step.screen);
      const name = app.screens.find((s) => s.id === step.screen)?.name;
      if (!isWay)
        throw new Different(`There is no tab${name ? ` for ${name}` : ' for this screen'}.`, {
          nearest: name
            ? nearestFew(
                name,
                app.tabs.map((t) => t.name),
              )
            : [],
        });
      await phone.walk.go({ to: 'tab', screen: step.screen });
      return;
    }
    case 'back':
      await phoneOf(stage, step.who).walk.go({ to: 'back' });
      return;
    case 'answer':
      return answers(stage, step);
    case 'file': {
      const phone = phoneOf(stage, step.who);
      const bytes = step.isStandIn
        ? new TextEncoder().encode(`In place of ${step.name}, which was too large to be kept with the scene.`)
        : fromBase64(step.data);
      const address = await phone.api.keepFile(new Blob([new Uint8Array(bytes)], { type: step.type }), step.name);
      if (address !== step.address) stage.readdressed(step.address, address);
      if (step.isStandIn)
        stage.remark(`${step.name} was too large to be kept with the scene: something stands in for it.`);
      return;
    }
    case 'network':
      phoneOf(stage, step.who).network = step.network;
      return;
    case 'clock':
      phoneOf(stage, step.who).off = step.ahead;
      return;
    case 'goes off':
      phoneOf(stage, step.who).close();
      return;
    case 'opens': {
      const phone = phoneOf(stage, step.who);
      phone.open();
      return begin(phone);
    }
    case 'comes':
      return stage.comes(step.who);
    case 'goes':
      room.remove(stage.phones.get(step.who) ?? '');
      stage.phones.delete(step.who);
      return;
    case 'signs in': {
      const id = stage.phones.get(step.who) ?? '';
      await room.signIn(id, step.mail);
      return begin(phoneOf(stage, step.who));
    }
    case 'wait':
      return room.pass(step.ms);
    case 'until':
      return room.to(nextTime(app, room.world.clock.now(), step.days, step.time));
    case 'mail':
      return writes(stage, step);
    case 'call':
      return room.call(step.routine, step.body);
    case 'fault':
      room.setFault(step.service, step.fault);
  }
}

const fieldNames = (app: App, table: string, fields: readonly string[]): string =>
  fields.map((f) => tableOf(app, table)?.fields.find((x) => x.id === f)?.name ?? 'a field that is gone').join(', ');

async function saves(stage: Stage, step: Extract<SceneStep, { do: 'save' }>): Promise<void> {
  const { app, room } = stage;
  const phone = phoneOf(stage, step.who);
  const record = step.of?.record ?? null;
  const found = formOn(phone, step.table, record);
  const table = tableOf(app, step.table);
  const called = step.of?.name || `a new ${table?.one ?? 'record'}`;
  if (!found) {
    const why = whyNot(app, room, phone, step.of, record === null ? step.table : undefined);
    throw new Different(`There is no form for ${called} on the phone of ${phone.somebody.name}.`, {
      ...(why !== null && { why }),
    });
  }
  if (typeof found.node['refused'] === 'string') throw new Different(found.node['refused']);
  const inputs = fieldsIn(found.shown, found.node['children'] as string[]);
  const shown = inputs.map((n) => n['field'] as string);
  const without = Object.keys(step.values).filter((f) => !shown.includes(f) && !(f in found.begins));
  if (without.length)
    throw new Different(`The form for ${called} has no input for ${fieldNames(app, step.table, without)}.`);
  const typed = (f: string): Cell => step.values[f] ?? (f in step.values ? null : (found.begins[f] ?? null));
  const all = Object.fromEntries(shown.map((f) => [f, typed(f)]));
  const begins = phone.seen.where?.stack.find((p) => p.opening === found.view)?.values;
  const values = record === null ? { ...begins, ...all, ...step.values } : step.values;
  const saving = phone.api.saveForm(step.table, record, values);
  // A routine that is part of the save may ask first; then it is saved later.
  void saving.then((answer) => ('saved' in answer ? phone.walk.saved() : undefined)).catch(() => undefined);
  const answer = (await underWay(room, saving))?.came;
  if (answer === undefined || 'saved' in answer) return;
  if (!step.wrong)
    throw new Different(`${phone.somebody.name} could not save ${called}: ${Object.values(answer.problems).join(' ')}`);
}

async function answers(stage: Stage, step: Extract<SceneStep, { do: 'answer' }>): Promise<void> {
  const phone = phoneOf(stage, step.who);
  const { asked, press } = phone.seen;
  const all = asked.map((a) => ({ id: a.id, words: askedWords(a) }));
  if (press) all.push(press);
  const found = all.find((a) => a.words === step.asked) ?? (all.length === 1 ? all[0] : undefined);
  if (!found)
    throw new Different(`${phone.somebody.name} is not asked “${step.asked}”.`, { nearest: all.map((a) => a.words) });
  if (found.words !== step.asked) stage.remark(`Asked “${found.words}”, where it was “${step.asked}”.`);
  await underWay(stage.room, phone.api.answered(found.id, step.answer as never));
}

async function writes({ room }: Stage, step: Extract<SceneStep, { do: 'mail' }>): Promise<void> {
  const { from, name, subject, words, answers: to, files } = step;
  let answered: string | undefined;
  if (to) {
    const { mails } = await room.mailbox();
    const sent = mails.filter((m) => !m.came && m.address.includes(to.to));
    const of = (s: string): string => s.replace(/^(re|aw|fwd?):\s*/i, '').toLowerCase();
    const found = sent.findLast((m) => of(m.subject) === of(to.subject)) ?? sent.at(-1);
    if (!found) throw new Different(`No mail has gone out to ${to.to} that could be answered.`);
    answered = found.message;
  }
  await room
    .write({ from, name, subject, words, ...(answered && { answers: answered }), ...(files && { files }) })
    .catch((e: Error) => {
      // What was refused when it was recorded may be again.
      if (!step.wrong) throw new Different(`The app did not take the mail: ${e.message}`);
    });
}
