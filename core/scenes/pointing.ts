import type { App } from '../app/schema.ts';
import type { SceneStep } from '../app/scene-schema.ts';
import { display } from '../records/format.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import { isPressed } from './reads.ts';
import type { Recorder } from './recorder.ts';
import { spotAt } from './spots.ts';

/** Longer words are not expected letter by letter. */
const MOST = 2000;

/** Says what must be so by pointing at it, while a rehearsal goes on. */
export class Pointing {
  constructor(
    private readonly app: App,
    private readonly room: Rehearsal,
    private readonly recorder: Recorder,
  ) {}

  /** What is seen on a phone, by its element and the record of its row: of words that they read so. */
  seen(id: string, element: string, record: string | null): SceneStep | null {
    const phone = this.room.phones[id];
    const who = this.recorder.memberOf(id);
    const place = phone && keyOf(phone, element, record);
    if (!phone || !who || !place) return null;
    const at = spotAt(this.app, phone, place.view, place.key);
    const how = at.words && !place.isPressed ? 'reads' : 'is there';
    return this.recorder.expect({ do: 'expect seen', who, at, how, words: at.words });
  }

  sent(sort: 'mail' | 'text message' | 'notice', to: string, words: string): void {
    this.recorder.expect({ do: 'expect sent', sort, how: 'is there', to, words: words.slice(0, MOST) });
  }

  /** A record as the server has it: a field of it as it reads, or without one that it is there, or is gone. */
  record(table: string, record: string, field: string | null): void {
    const { records } = this.room.world.host.replica;
    const row = records.row(table, record);
    const before = this.room.before(table, record);
    const of = { table, record, name: (row ?? before)?.title() ?? '' };
    const known = this.app.tables.find((t) => t.id === table)?.fields.find((f) => f.id === field);
    if (row && known)
      this.recorder.expect({
        do: 'expect record',
        of,
        how: 'reads',
        field: known.id,
        words: display(row.get(known.id), known).slice(0, MOST),
      });
    else this.recorder.expect({ do: 'expect record', of, how: row ? 'is there' : 'is not there', words: '' });
  }

  /** What somebody was told, or refused. */
  note(n: number): void {
    const note = this.room.notesSince(n - 1)[0];
    const who = note && this.recorder.memberOf(note.of);
    if (!note || !who) return;
    if (note.sort === 'told') {
      const words = /“(.*)”/s.exec(note.said)?.[1] ?? note.said;
      this.recorder.expect({ do: 'expect told', who, how: 'is there', words });
    } else if (note.sort === 'refused') this.recorder.expect({ do: 'expect refused', who, words: note.said });
  }
}

/** The place of an element on what is open, in the row of a record or outside of rows. */
function keyOf(
  phone: RehearsedPhone,
  element: string,
  record: string | null,
): { view: string; key: string; isPressed: boolean } | null {
  const { seen } = phone;
  for (const { opening, shown } of seen.open)
    for (const node of shown.nodes.values()) {
      if (node.id !== element) continue;
      const row = rowsOf(node).find((r) => r.record === record);
      if (row) return { view: opening, key: row.key, isPressed: true };
      if (record === null || seen.rowOf(opening, node.key) === record)
        return { view: opening, key: node.key, isPressed: isPressed(node) };
    }
  return null;
}
