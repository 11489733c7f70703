import type { PhoneRules } from '../access/phone-rules.ts';
import { isMailAddress, isSameMail } from '../document/addresses.ts';
import type { Change, RecordState } from '../records/change.ts';
import type { HybridClock } from './clock.ts';
import type { KeptAlong } from './kept-along.ts';
import { OfflineError, type HostLink } from './link.ts';
import type { Compared, News } from './protocol.ts';
import { cellsBefore, isRemoved, type Replica } from './replica.ts';
import { firstAfter } from './sorted.ts';
import { versionOf } from './version-of.ts';

/** So many records are compared at once. */
const AT_ONCE = 5000;

/** As much of a device as this reads and changes. */
interface Sees {
  queue: Change[];
  position: number;
  view: string | undefined;
  comparing: boolean;
  readonly replica: Replica;
  readonly clock: HybridClock;
  readonly kept: KeptAlong;
  saw(state: RecordState): void;
  onMay(may: PhoneRules | null): void;
  sync(): Promise<void>;
}

/** Lets go of what may not be read any more, and takes what may be read otherwise. What waits to be sent stays on top. */
export function takeGiven(device: Sees, { forget = [], given = [] }: Pick<News, 'forget' | 'given'>): void {
  const { replica } = device;
  replica.records.batch(() => {
    for (const id of forget) {
      const s = replica.state(id);
      if (s) replica.replace(s.table, id, null, false);
    }
    const anew = new Set<string>();
    for (const s of given) {
      anew.add(s.id);
      device.saw(s);
      replica.replace(s.table, s.id, s, false);
    }
    for (const c of device.queue) if (anew.has(c.record)) replica.apply(c);
  });
  const ids = given.map((s) => s.id);
  // Of what is given anew nothing from before stays: it may be more than may be read now.
  void device.kept.save({ records: ids, gone: [...forget, ...ids] });
}

/**
 * Somebody is about to be erased here. Gives what is to be done when that has happened: what removed records had, and
 * could be brought back with, says nothing of them any more. Where it is not known here who they were, nothing of it stays.
 */
export function forgetErased({ replica, kept }: Pick<Sees, 'replica' | 'kept'>, erased: readonly Erased[]): () => void {
  const formers = new Map(erased.map(({ id, erased: former }) => [id, former || null]));
  const mails: unknown[] = [];
  let isKnown = true;
  for (const { id, erased: former } of erased) {
    const state = replica.state(id);
    // Records that go along with somebody are of nobody else.
    if (former && (!state || state.erased !== undefined)) isKnown = false;
    mails.push(...Object.values(state ? cellsBefore(state) : {}).filter((c) => isMailAddress(String(c))));
  }
  return () => {
    const touched: string[] = [];
    for (const s of replica.all()) {
      if (!s.was) continue;
      if (!isKnown) delete s.was;
      for (const [field, [cell, stamp]] of Object.entries(s.was ?? {}))
        if (formers.has(String(cell))) s.was![field] = [formers.get(String(cell))!, stamp];
        else if (mails.some((m) => isSameMail(m, cell))) s.was![field] = [null, stamp];
      touched.push(s.id);
    }
    if (touched.length) void kept.save({ records: touched });
  };
}
interface Erased {
  id: string;
  erased?: string | undefined;
}

/**
 * Compares what is here with what this device may have, in order of the ids, and puts right what is different. Begins
 * again where its rights change meanwhile.
 */
export async function compare(device: Sees, link: HostLink): Promise<void> {
  if (!link.compare) throw new OfflineError('The host cannot be compared with.');
  device.comparing = true;
  try {
    const all = [...device.replica.all()].sort((a, b) => (a.id < b.id ? -1 : 1));
    const records = all.filter((s) => !isRemoved(s)).map((s): [string, string] => [s.id, versionOf(s)]);
    const ids = records.map(([id]) => id);
    let first: Compared | null = null;
    let done = 0;
    let after: string | null = null;
    do {
      const part = records.slice(done, done + AT_ONCE);
      const upTo: string | null = done + AT_ONCE < records.length ? part.at(-1)![0] : null;
      const answer = await link.compare({ after, upTo, records: part });
      first ??= answer;
      // Somebody's rights were changed: what came before was for other ones.
      if (answer.view !== first.view) return await compare(device, link);
      takeGiven(device, { forget: answer.forget, given: answer.states });
      after = answer.upTo;
      if (after !== null) done = firstAfter(ids, after);
    } while (after !== null);
    // What was removed here can be brought back only as long as it is known that it may be read.
    const waiting = new Set(device.queue.map((c) => c.record));
    const gone = [...device.replica.all()].filter((s) => isRemoved(s) && !waiting.has(s.id));
    takeGiven(device, { forget: gone.map((s) => s.id) });
    device.position = first.at;
    device.view = first.view;
    device.onMay(first.may);
    await device.kept.save({ at: first.at, view: first.view, may: first.may });
  } finally {
    device.comparing = false;
  }
  // What happened while it was compared.
  void device.sync();
}
