import type { Cell } from '../fields/lists.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import { rest, underWay } from './resting.ts';
import { begin } from './doing.ts';
import { fieldsIn, formOn } from './forms.ts';
import { isPressed, rowReads, wordsOf } from './reads.ts';

/** Hands that use a phone of a rehearsal by what is read on it, as a page would. */
export class Hands {
  private constructor(
    private readonly room: Rehearsal,
    private readonly id: string,
  ) {}

  static async of(room: Rehearsal, record: string | null): Promise<Hands> {
    const id = await room.add(record === null ? { is: 'nobody' } : { is: 'person', record });
    const hands = new Hands(room, id);
    await hands.begin();
    return hands;
  }

  get phone(): RehearsedPhone {
    return this.room.phones[this.id]!;
  }
  async begin(): Promise<void> {
    await begin(this.phone);
    await rest(this.room);
  }

  /** Everything that can be read now. */
  get reads(): string {
    return this.phone.seen.open.map(({ shown }) => wordsOf(shown.nodes, shown.root)).join(' | ');
  }

  /** Where some words can be pressed. */
  at(words: string): { view: string; key: string } {
    for (const { opening, shown } of this.phone.seen.open)
      for (const node of shown.nodes.values()) {
        if (rowsOf(node).length === 0 && isPressed(node) && wordsOf(shown.nodes, node.key).includes(words))
          return { view: opening, key: node.key };
        for (const r of rowsOf(node))
          if (rowReads(shown.nodes, node, r.key).includes(words)) return { view: opening, key: r.key };
      }
    throw new Error(`“${words}” is nowhere in: ${this.reads}`);
  }

  async tap(words: string): Promise<void> {
    const { view, key } = this.at(words);
    await underWay(this.room, this.phone.api.tapped(view, key));
  }
  async tab(screen: string): Promise<void> {
    await this.phone.walk.go({ to: 'tab', screen });
    await rest(this.room);
  }

  /** Fills in the form of a table, and saves it. */
  async save(table: string, record: string | null, typed: Record<string, Cell>): Promise<void> {
    const found = formOn(this.phone, table, record);
    if (!found) throw new Error(`There is no form in: ${this.reads}`);
    const fields = fieldsIn(found.shown, found.node['children'] as string[]).map((n) => n['field'] as string);
    const all = Object.fromEntries(fields.map((f) => [f, typed[f] ?? found.begins[f] ?? null]));
    const answer = await this.phone.api.saveForm(table, record, record ? typed : { ...all, ...typed });
    if ('saved' in answer) await this.phone.walk.saved();
    await rest(this.room);
  }
}
