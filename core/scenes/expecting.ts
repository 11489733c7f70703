import type { Expectation } from '../app/scene-edits.ts';
import type { Of } from '../app/scene-schema.ts';
import { display } from '../records/format.ts';
import type { Note } from '../rehearsal/notes.ts';
import { Different, phoneOf, reach, readsAt, type Stage } from './doing.ts';
import { nearestFew } from './nearest.ts';
import { spotName } from './spots.ts';
import { whyNot } from './why-not.ts';

const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

/** Looks whether what a step expects is so; `since` are the notes since the last thing that was done. Throws {@link Different}. */
export async function expects(stage: Stage, step: Expectation, since: readonly Note[]): Promise<void> {
  switch (step.do) {
    case 'expect seen':
      return seen(stage, step);
    case 'expect told':
    case 'expect refused': {
      const phone = phoneOf(stage, step.who);
      const sort = step.do === 'expect told' ? 'told' : 'refused';
      // What must not be told must not have been at any time so far.
      const isNever = step.do === 'expect told' && step.how === 'is not there';
      const notes = isNever ? stage.room.notesSince(0) : since;
      const heard = notes.filter((n) => n.of === phone.id && n.sort === sort).map((n) => n.said);
      if (sort === 'told' && phone.seen.said) heard.push(phone.seen.said);
      const isThere = heard.some((h) => oneLine(h).includes(oneLine(step.words)));
      const isWanted = step.do === 'expect refused' || step.how === 'is there';
      if (isThere === isWanted) return;
      const { name } = phone.somebody;
      if (!isWanted) throw new Different(`${name} was told “${step.words}”, which must not be.`);
      throw new Different(`${name} ${sort === 'told' ? 'was not told' : 'was not refused'} “${step.words}”.`, {
        expected: step.words,
        actual: heard.at(-1) ?? 'nothing',
      });
    }
    case 'expect sent':
      return sent(stage, step);
    case 'expect record':
      return record(stage, step);
  }
}

async function seen(stage: Stage, step: Extract<Expectation, { do: 'expect seen' }>): Promise<void> {
  const phone = phoneOf(stage, step.who);
  const found = await reach(stage, phone, step.at);
  const called = spotName(stage.app, step.at);
  const { name } = phone.somebody;
  const isThere = 'key' in found;
  if (step.how === 'is not there') {
    if (isThere)
      throw new Different(`${called} is on the phone of ${name}, where it must not be.`, {
        actual: readsAt(phone, found),
      });
    return;
  }
  if (!isThere) {
    const why = whyNot(stage.app, stage.room, phone, step.at.of);
    throw new Different(`${called} is not on the phone of ${name}.`, {
      expected: step.how === 'reads' ? step.words : 'is there',
      actual: 'is not there',
      nearest: found.nearest,
      ...(why !== null && { why }),
    });
  }
  if (found.remark) stage.remark(found.remark);
  if (step.how !== 'reads') return;
  const reads = oneLine(readsAt(phone, found));
  if (reads !== oneLine(step.words))
    throw new Different(`${called} reads otherwise on the phone of ${name}.`, {
      expected: step.words,
      actual: reads || 'nothing',
    });
}

async function sent({ room }: Stage, step: Extract<Expectation, { do: 'expect sent' }>): Promise<void> {
  const { sort, how, to, words } = step;
  const out =
    sort === 'mail'
      ? (await room.mailbox()).mails
          .filter((m) => !m.came)
          .map((m) => ({ to: `${m.address} ${m.who}`, text: `${m.subject} ${m.words}` }))
      : (await room.messages())
          .filter((m) => (m.kind ?? 'mail') === sort)
          .map((m) => ({ to: m.to.join(' '), text: `${m.subject} ${m.body}` }));
  const found = out.some((m) => m.to.includes(to) && oneLine(m.text).includes(oneLine(words)));
  if (found === (how === 'is there')) return;
  const whom = to ? ` to ${to}` : '';
  if (found) throw new Different(`A ${sort} went out${whom} with “${words}”, which must not be.`);
  throw new Different(`No ${sort} went out${whom} with “${words}”.`, {
    expected: words,
    actual: out.length === 0 ? `no ${sort} at all` : `${out.length} others`,
    nearest: nearestFew(
      words,
      out.map((m) => m.text),
    ),
  });
}

async function record({ app, room }: Stage, step: Extract<Expectation, { do: 'expect record' }>): Promise<void> {
  const { of, how, field, words } = step;
  const { records } = room.world.host.replica;
  const row = records.row(of.table, of.record) ?? named(records, of);
  const table = app.tables.find((t) => t.id === of.table);
  const called = `${of.name || of.record} of ${table?.name ?? 'a table that is gone'}`;
  if (how === 'is not there') {
    if (row) throw new Different(`${called} is there, and must not be.`);
    return;
  }
  if (!row) {
    throw new Different(`${called} is not there.`, {
      expected: how === 'reads' ? words : 'is there',
      actual: 'is not there',
      nearest: table
        ? nearestFew(
            of.name,
            records.rows(of.table).map((r) => r.title()),
          )
        : [],
    });
  }
  if (how !== 'reads') return;
  const known = table?.fields.find((f) => f.id === field);
  if (!known) throw new Different(`${table?.name ?? 'The table'} has no such field any more.`);
  const reads = oneLine(display(row.get(known.id), known));
  if (reads !== oneLine(words))
    throw new Different(`${known.name} of ${called} is otherwise.`, { expected: words, actual: reads || 'nothing' });
}

/** The one record of this name; undefined for none, or several. */
function named(records: Stage['room']['world']['host']['replica']['records'], of: Of): ReturnType<typeof records.row> {
  const all = of.name ? records.rows(of.table).filter((r) => r.title() === of.name) : [];
  return all.length === 1 ? all[0] : undefined;
}
