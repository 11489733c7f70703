import type { App } from '../app/schema.ts';
import { RuledAccess } from '../access/ruled.ts';
import type { RehearsedPhone } from '../rehearsal/rehearsed-phone.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { rowsOf } from '../rehearsal/seen.ts';
import type { Touched } from './result.ts';

/** Finds out what of an app is touched while something is played in a rehearsal of it. */
export class Touching {
  private readonly screens = new Set<string>();
  private readonly routines = new Set<string>();
  private readonly forms = new Set<string>();
  private readonly rules = new Set<string>();
  private readonly roles = new Set<string>();
  private noted = 0;
  private looked = 0;

  constructor(
    private readonly app: App,
    private readonly room: Rehearsal,
  ) {
    this.made = new Set(Array.from(room.world.host.replica.all(), (s) => s.id));
  }

  /** Looks what has come since. */
  look(): void {
    for (const n of this.room.notesSince(this.noted)) {
      this.noted = n.n;
      if (n.about?.routine) this.routines.add(n.about.routine);
    }
    for (const { seen } of Object.values(this.room.phones))
      for (const { screen } of seen.open) this.screens.add(screen);
    this.rulesUsed();
  }

  /** A form was saved. */
  saved(form: string): void {
    this.forms.add(form);
  }

  /** The rules by which people see what is open on their phones, and by which they have changed what they did. */
  private rulesUsed(): void {
    const { access } = this.app;
    if (!access) return;
    const { replica } = this.room.world.host;
    const rules = (this.access ??= new RuledAccess(replica.records, () => this.app));
    const { kept } = this.room.world.log;
    const changed = kept.slice(this.looked);
    this.looked = kept.length;
    for (const phone of Object.values(this.room.phones)) {
      const { who } = phone.somebody;
      const person = rules.personOf(who);
      if (person !== null) for (const role of rules.rolesOf(person)) this.roles.add(role);
      for (const record of opened(phone)) {
        const key = `${phone.id} ${record}`;
        const state = this.saw.has(key) ? undefined : replica.state(record);
        this.saw.add(key);
        if (state) for (const rule of rules.rulesBy(rules.rights(who), state)) this.rules.add(rule);
      }
      for (const change of changed) {
        if (change.author === undefined || change.author !== person || change.run) continue;
        const may = change.do === 'remove' ? 'remove' : this.made.has(change.record) ? 'change' : 'add';
        for (const rule of rules.rulesToWrite(who, may, change)) this.rules.add(rule);
      }
    }
    for (const { record } of changed) this.made.add(record);
  }
  /** Records that were there, or were made. */
  private readonly made: Set<string>;
  /** What was open on which phone. */
  private readonly saw = new Set<string>();
  private access: RuledAccess | null = null;

  close(): void {
    this.access?.close();
  }

  get touched(): Touched {
    const { screens, routines, forms, rules, roles } = this;
    return { screens: [...screens], routines: [...routines], forms: [...forms], rules: [...rules], roles: [...roles] };
  }
}

/** So many rows of a list are looked at. */
const ROWS = 50;

/** The records that are open on a phone, or rows of what is. */
function opened({ seen }: RehearsedPhone): string[] {
  return seen.open.flatMap(({ record, shown }) => {
    const rows = [...shown.nodes.values()].flatMap((n) => rowsOf(n).slice(0, ROWS));
    return [...(record === null ? [] : [record]), ...rows.flatMap((r) => r.record ?? [])];
  });
}
