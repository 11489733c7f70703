import type { App } from '../app/schema.ts';
import { RuledAccess } from '../access/ruled.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
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
  ) {}

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

  /** The rules by which the records that were changed are seen by those who have a phone. */
  private rulesUsed(): void {
    const { access } = this.app;
    const { kept } = this.room.world.log;
    const changed = kept.slice(this.looked);
    this.looked = kept.length;
    if (!access || changed.length === 0) return;
    const { replica } = this.room.world.host;
    const rules = (this.access ??= new RuledAccess(replica.records, () => this.app));
    for (const { somebody } of Object.values(this.room.phones)) {
      const rights = rules.rights(somebody.who);
      const person = rules.personOf(somebody.who);
      if (person !== null) for (const role of rules.rolesOf(person)) this.roles.add(role);
      for (const { record } of changed) {
        const state = replica.state(record);
        if (state) for (const rule of rules.rulesBy(rights, state)) this.rules.add(rule);
      }
    }
  }
  private access: RuledAccess | null = null;

  close(): void {
    this.access?.close();
  }

  get touched(): Touched {
    const { screens, routines, forms, rules, roles } = this;
    return { screens: [...screens], routines: [...routines], forms: [...forms], rules: [...rules], roles: [...roles] };
  }
}
