import { OWNER, type Who } from '../access/access.ts';
import { givesRole } from '../app/gives-role.ts';
import type { App } from '../app/schema.ts';
import { domainOf, isMailAddress, isSameMail, plainMail } from '../document/addresses.ts';
import { newId } from '../document/ids.ts';
import { Refused } from '../document/refused.ts';
import type { Host } from '../host/host.ts';
import { newRecordId } from '../host/device.ts';
import { stampText } from '../host/clock.ts';
import type { Cell } from '../fields/lists.ts';
import type { Row } from '../records/row.ts';

/** Whom a released app lets in: people of its table of people, by the address that they have there. */
export class ComingIn {
  constructor(
    private readonly app: () => App,
    private readonly host: Host,
    private readonly now: () => number,
  ) {}

  /** The table and field that people are known by. Throws where nobody signs in. */
  private by(): { people: string; mail: string } {
    const { access, people } = this.app();
    if (!access?.mail || !people) throw new Refused(409, 'Nobody signs in to this app.');
    return { people, mail: access.mail };
  }

  /** May somebody with this address become one of the people? */
  private isNewHere(mail: string): boolean {
    const { opens, domains = [] } = this.app().access!;
    if (!isMailAddress(mail.trim())) return false;
    return opens !== 'people' || domains.includes(domainOf(mail) ?? '');
  }

  /** The record of whoever has an address; the first where several say the same. */
  private find(mail: string): Row | undefined {
    const by = this.by();
    return this.host.replica.records.rows(by.people).find((r) => isSameMail(r.cells[by.mail], mail));
  }

  /** May somebody with this address sign in? */
  mayCome(mail: string): boolean {
    return isMailAddress(mail.trim()) && (this.find(mail) !== undefined || this.isNewHere(mail));
  }

  /** Throws a {@link Refused} where nobody signs in to the app. */
  mustSignIn(): void {
    this.by();
  }

  /** Is this record still that of whoever has the address? */
  isStill(person: string, mail: string): boolean {
    const by = this.by();
    return isSameMail(this.host.replica.records.row(by.people, person)?.cells[by.mail], mail);
  }

  /** What gives a role to whoever comes. Throws a {@link Refused} for one that an invitation cannot give. */
  mustGive(role: string): Record<string, Cell> {
    const known = this.app().access?.roles.find((r) => r.id === role);
    const cells = known && givesRole(this.app(), known);
    if (!cells) throw new Refused(422, 'This role cannot be given by an invitation.');
    return cells;
  }

  /**
   * Somebody has shown that an address is theirs: the id of their record, which is made for whoever may be new here. With
   * the role that their invitation gives, where that is still one.
   */
  comesIn(mail: string, role?: string): Promise<string | null> {
    // One after the other: of two who come with one address at once, the second finds the record of the first.
    const coming = this.coming.then(async () => {
      const record = await this.recordFor(mail);
      if (record !== null && role !== undefined) await this.give(record, role);
      return record;
    });
    this.coming = coming.catch(() => undefined);
    return coming;
  }
  private coming: Promise<unknown> = Promise.resolve();

  private async give(record: string, role: string): Promise<void> {
    const known = this.app().access?.roles.find((r) => r.id === role);
    const cells = known && givesRole(this.app(), known);
    const row = this.host.replica.records.row(this.by().people, record);
    if (!cells || Object.entries(cells).every(([f, cell]) => row?.cells[f] === cell)) return;
    await this.write(record, cells);
  }

  /** Writes to the record of somebody, with the rights of the maker. */
  private async write(record: string, cells: Record<string, Cell>): Promise<void> {
    const stamp = stampText(this.now(), 0, 'host');
    const made = { id: newId('c'), stamp, table: this.by().people, record, do: 'set' as const, cells };
    const { refused } = await this.host.accept([made], OWNER);
    if (refused[0]) throw new Refused(422, refused[0].reason);
  }

  private async recordFor(mail: string): Promise<string | null> {
    const { people, mail: field } = this.by();
    const known = this.find(mail);
    if (known) return known.id;
    if (!this.isNewHere(mail)) return null;
    const record = newRecordId();
    const table = this.app().tables.find((t) => t.id === people);
    const title = table?.fields.find((f) => f.id === table.titleField && f.type === 'text');
    const cells: Record<string, Cell> = {
      [field]: mail.trim(),
      ...(title && { [title.id]: mail.trim().split('@')[0]! }),
    };
    await this.write(record, cells);
    return record;
  }

  /**
   * The addresses of people, by their records and by what they are called where that is an address of theirs: nobody is
   * reached by a name, which others could take.
   */
  mailsOf(records: readonly string[], named: readonly string[]): string[] {
    const { people, mail } = this.by();
    const rows = records.map((id) => this.host.replica.records.row(people, id));
    const known = named.filter((name) => this.find(name));
    return [
      ...new Set(
        [...rows.map((r) => r?.cells[mail]), ...known].flatMap((m) =>
          typeof m === 'string' && m.trim() ? [plainMail(m)] : [],
        ),
      ),
    ];
  }

  /** Throws a {@link Refused} for whoever is not let in, or not yet, or not any more. */
  mustBeIn(who: Who): void {
    const { access, people } = this.app();
    if (!access || access.opens === 'anybody' || who.kind === 'owner' || this.host.access.personOf(who) !== null)
      return;
    if (who.kind === 'nobody') throw new Refused(401, 'Sign in to use this app.');
    const row = people && who.person !== null ? this.host.replica.records.row(people, who.person) : undefined;
    throw new Refused(
      403,
      row && access.approved !== undefined && row.cells[access.approved] !== true
        ? 'You have signed in. You can use the app as soon as somebody lets you in.'
        : 'You cannot use this app any more. Sign out, and in again if you should.',
    );
  }
}
