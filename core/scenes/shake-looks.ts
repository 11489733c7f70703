import { RuledAccess } from '../access/ruled.ts';
import type { App } from '../app/schema.ts';
import { walkSteps } from '../document/walk.ts';
import { SERVER, type Note } from '../rehearsal/notes.ts';
import type { Rehearsal } from '../rehearsal/rehearsal.ts';
import { wordsOf } from './reads.ts';
import { DECLINED } from './shake-acts.ts';

/** What was found to be wrong, in words; `key` says which fault it is, so that each is told once. */
export interface Fault {
  sort:
    | 'stops'
    | 'dead end'
    | 'empty screen'
    | 'lost value'
    | 'gives itself a role'
    | 'seen against the rules'
    | 'ends differently';
  key: string;
  said: string;
  /** On which phone it was, and what it was told there. */
  on?: string;
  told?: string;
}

/** Looks at a rehearsal after each act, and at its end, for what must never be. */
export class Looks {
  private noted = 0;
  /** So much of the server’s log is looked at. */
  private looked = 0;
  /** Those that each person has. */
  private readonly roles = new Map<string, readonly string[]>();
  private readonly rules: RuledAccess | null;

  constructor(
    private readonly app: App,
    private readonly room: Rehearsal,
  ) {
    this.rules = app.access ? new RuledAccess(room.world.host.replica.records, () => app) : null;
    this.rolesGiven();
  }

  close(): void {
    this.rules?.close();
  }

  /** What is wrong after an act. */
  after(): Fault[] {
    const { room } = this;
    const notes = room.notesSince(this.noted);
    this.noted = notes.at(-1)?.n ?? this.noted;
    return [...notes.flatMap((n) => this.ofNote(n)), ...this.empty(), ...this.rolesGiven()];
  }

  private ofNote(n: Note): Fault[] {
    const whose = n.of === SERVER ? 'The server' : (this.room.phones[n.of]?.somebody.name ?? 'Somebody');
    if (n.said.endsWith(DECLINED)) return [];
    const routine = n.about?.routine;
    if (n.sort === 'refused' && (routine !== undefined || n.said.includes('which stopped')))
      return [{ sort: 'stops', key: `stops ${circleIn(n.said) ?? routine ?? n.said}`, said: `${whose} ${n.said}` }];
    const noInput = n.sort === 'refused' && n.said.startsWith('could not save');
    const table = noInput && n.about?.table;
    const shut = table ? this.neverFilledIn(n.of, table) : [];
    if (shut.length)
      return [
        {
          sort: 'dead end',
          key: `dead end ${table}`,
          said: `${whose} can never save this form: ${shut.join(', ')} must be filled in, and nobody can.`,
        },
      ];
    // Two wrote a figure that each had worked out from the one before.
    if (n.sort === 'told' && n.said.includes('also changed elsewhere')) return this.lost(n);
    return [];
  }

  /** The fields that a form on a phone wants filled in, and lets nobody fill in. */
  private neverFilledIn(phone: string, table: string): string[] {
    const open = this.room.phones[phone]?.seen.open ?? [];
    const names = open.flatMap(({ shown }) =>
      [...shown.nodes.values()].flatMap((n) => {
        const isOf = n.kind === 'input' && n['into'] === 'form' && n['table'] === table && n['required'] === true;
        const isShut = n['locked'] === true || (n['picks'] === true && (n['choices'] as unknown[]).length === 0);
        return isOf && isShut ? [String(n['label'] || n['called'])] : [];
      }),
    );
    return [...new Set(names)];
  }

  /** Steps that set a number which they read themselves lose one of two changes; those that raise it do not. */
  private lost(n: Note): Fault[] {
    const field = this.countedOn.find((name) => n.said.startsWith(`${name} of `));
    if (!field) return [];
    const whose = this.room.phones[n.of]?.somebody.name ?? 'Somebody';
    return [
      {
        sort: 'lost value',
        key: `lost ${field}`,
        on: n.of,
        told: n.said,
        said: `A change of ${field} by ${whose} was lost, since somebody else changed it at the same time. Steps that raise or lower a number lose none.`,
      },
    ];
  }

  /** The names of the numbers that steps set to what they read in them, and more. */
  private get countedOn(): string[] {
    const { tables, routines } = this.app;
    const set = routines.flatMap((r) => {
      const values: { field: string; value: string }[] = [];
      walkSteps(r.steps, (s) => void (s.do === 'set' && values.push(...s.values)));
      return values.filter((v) => v.value.includes(v.field)).map((v) => v.field);
    });
    return tables.flatMap((t) => t.fields.filter((f) => f.type === 'number' && set.includes(f.id)).map((f) => f.name));
  }

  private empty(): Fault[] {
    return Object.values(this.room.phones).flatMap((phone) =>
      phone.seen.open.flatMap(({ screen, shown }): Fault[] => {
        const name = this.app.screens.find((s) => s.id === screen)?.name ?? 'A screen';
        const isEmpty = shown.missing !== null ? shown.missing.trim() === '' : isBlank(shown.nodes, shown.root);
        return isEmpty
          ? [{ sort: 'empty screen', key: `empty ${screen}`, said: `${name} of ${phone.somebody.name} shows nothing.` }]
          : [];
      }),
    );
  }

  /** Has anybody a role that they had not, given by somebody who has not got it? */
  private rolesGiven(): Fault[] {
    const { rules, app, room } = this;
    if (!rules || !app.people) return [];
    const { log, host } = room.world;
    const changed = log.kept.slice(this.looked).filter((c) => c.table === app.people);
    this.looked = log.kept.length;
    const had = new Map(this.roles);
    return host.replica.records.rows(app.people).flatMap((row): Fault[] => {
      const roles = rules.rolesOf(row.id).sort();
      const before = had.get(row.id);
      this.roles.set(row.id, roles);
      const more = before && roles.find((r) => !before.includes(r));
      const gives = changed.find((c) => c.record === row.id && more && this.mayNotGive(c.author, more, had))?.author;
      if (!more || gives === undefined) return [];
      const by = Object.values(room.phones).find((p) => p.state.person === gives);
      const name = app.access!.roles.find((r) => r.id === more)?.name ?? 'a role';
      return [
        {
          sort: 'gives itself a role',
          key: `role ${more}`,
          ...(by && { on: by.id }),
          said: `${by?.somebody.name ?? 'Somebody'}, who has not the role ${name}, could give it to ${gives === row.id ? 'themselves' : row.title()}.`,
        },
      ];
    });
  }

  /** Had somebody not got a role, and no rule is meant to let them give it? */
  private mayNotGive(
    author: string | undefined,
    role: string,
    had: ReadonlyMap<string, readonly string[]>,
  ): author is string {
    const roles = author === undefined ? undefined : had.get(author);
    if (!roles || roles.includes(role)) return false;
    const isFor = (who: string): boolean => who === 'anybody' || who === 'signed in' || roles.includes(who);
    return !this.app.access!.rules.some((r) => r.meant && r.table === this.app.people && isFor(r.who));
  }

  /** What is wrong when all phones have a network again and nothing is under way. */
  atEnd(): Fault[] {
    const { room, app, rules } = this;
    const { replica } = room.world.host;
    return Object.values(room.phones).flatMap((phone): Fault[] => {
      const { there, somebody } = phone;
      // One that was told that it may not use the app any more keeps what it had until whoever uses it signs out.
      if (!phone.state.online) return [];
      const rights = rules?.rights(somebody.who);
      for (const { id: table, fetched } of app.tables) {
        if (fetched) continue;
        for (const row of there.records.rows(table)) {
          const state = replica.state(row.id);
          if (rules && state && rights !== undefined && rules.rulesBy(rights, state).length === 0)
            return [
              {
                sort: 'seen against the rules',
                key: `seen ${table}`,
                said: `${somebody.name} has ${row.title()}, which no rule lets them see.`,
              },
            ];
          const here = rules ? null : replica.records.row(table, row.id);
          const other = here && Object.keys(here.cells).find((f) => (here.cells[f] ?? null) !== (row.cells[f] ?? null));
          if (!rules && (!here || other))
            return [
              {
                sort: 'ends differently',
                key: `differs ${table}`,
                said: `The phone of ${somebody.name} ends with another ${row.title()} than the server.`,
              },
            ];
        }
      }
      return [];
    });
  }
}

/** The routines that start one another, of what was said when they were stopped: wherever they began it is the same fault. */
function circleIn(said: string): string | null {
  const names = said.split('were stopped: ')[1]?.replace(/\.$/, '').split(' → ');
  return names ? [...new Set(names)].sort().join(' and ') : null;
}

/** Is nothing drawn that can be read, pressed or looked at? */
function isBlank(nodes: ReadonlyMap<string, { kind: string }>, root: string): boolean {
  const silent = new Set(['box', 'space', 'divider']);
  return wordsOf(nodes as never, root) === '' && [...nodes.values()].every((n) => silent.has(n.kind));
}
