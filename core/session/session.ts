import type { App, Field, Tap } from '../app/schema.ts';
import { fieldOf, routineOf, screenOf, tableOf } from '../app/names.ts';
import { compile } from '../formula/compile.ts';
import type { Value } from '../formula/values.ts';
import type { Draft } from '../host/change.ts';
import { newRecordId, type Device } from '../host/device.ts';
import { checkCell, isWritable, spokenType, typedCell, type Cell } from '../records/cells.ts';
import type { Thing } from '../records/model.ts';
import { Row } from '../records/row.ts';
import type { Records } from '../records/store.ts';
import { completed } from '../records/begin.ts';
import { recordProblem } from '../records/checks.ts';
import { runRoutine, type RunTrace } from '../routines/run.ts';
import { Drawer, type DrawOptions } from '../screens/draw.ts';
import type { DrawnScreen, ScopeRef } from '../screens/drawn.ts';

/** What the phone does after a tap, in order. */
export type Effect =
  | { do: 'open'; screen: string; record: string | null }
  | { do: 'back' }
  | { do: 'message'; words: string; tone: 'plain' | 'bad' };

/** Something that happened, as a sentence with values, for the trace. */
export interface Happened {
  said: string;
  tone: 'plain' | 'good' | 'bad';
  /** Milliseconds it took. */
  ms?: number;
  about?: { screen?: string; element?: string; routine?: string; table?: string; record?: string };
  run?: RunTrace;
}

export interface Outgoing {
  id: string;
  to: string[];
  subject: string;
  body: string;
}

export type SaveAnswer = { saved: string; created: boolean } | { problems: Record<string, string> };

export interface SessionPorts {
  device: Device;
  /** Takes a mail for sending; resolves when it is safely kept. */
  mail(message: Outgoing): Promise<void>;
  happened(what: Happened): void;
  /** Keeps who uses the app here, so that it is known the next time. */
  remember?(person: string): Promise<void>;
}

/** One person's use of an app: draws its screens and does what its taps say. It knows no DOM. */
export class Session {
  private drawer: Drawer;

  constructor(
    private app: App,
    readonly records: Records,
    private readonly ports: SessionPorts,
  ) {
    this.drawer = new Drawer(app, records);
  }

  setApp(app: App): void {
    this.app = app;
    this.records.setApp(app);
    this.drawer = new Drawer(app, this.records);
  }

  draw(screen: string, options: DrawOptions = {}): DrawnScreen | null {
    return this.drawer.draw(screen, options);
  }

  /** Does what a tap says, with the records at hand where it was tapped. */
  async tap(tap: Tap, scope: ScopeRef[]): Promise<Effect[]> {
    switch (tap.do) {
      case 'nothing':
      case 'save':
        return [];
      case 'back':
        return [{ do: 'back' }];
      case 'open':
        return this.open(tap.screen, tap.give, scope);
      case 'remove': {
        const ref = scope.at(-1);
        if (!ref) return [{ do: 'message', words: 'There is no record here to remove.', tone: 'bad' }];
        await this.write([{ do: 'remove', table: ref.table, record: ref.record }]);
        return [{ do: 'back' }, { do: 'message', words: 'Removed', tone: 'plain' }];
      }
      case 'routine':
        return this.run(tap.routine, scope);
    }
  }

  private open(screenId: string, give: string, scope: ScopeRef[]): Effect[] {
    const screen = screenOf(this.app, screenId);
    if (!screen) return [{ do: 'message', words: 'The screen to open is not chosen yet.', tone: 'bad' }];
    if (!screen.given || (screen.optional && !give)) return [{ do: 'open', screen: screenId, record: null }];
    const record = this.give(give, scope);
    if (record?.tableId === screen.given) return [{ do: 'open', screen: screenId, record: record.id }];
    const one = tableOf(this.app, screen.given)?.one ?? 'record';
    return [
      {
        do: 'message',
        words: record ? `${screen.name} opens with a ${one}.` : `There is no ${one} to open.`,
        tone: 'bad',
      },
    ];
  }

  private give(formula: string, scope: ScopeRef[]): Row | null {
    const things: Thing[] = scope.map((s) => ({ id: s.thing, name: s.thing, type: { k: 'record', table: s.table } }));
    const frame: Value[] = [
      this.records.runtime as unknown as Value,
      null,
      ...scope.map((s) => this.records.row(s.table, s.record) ?? null),
    ];
    const value = formula ? compile(formula, this.records.model.optionsFor(null, things)).run(frame) : null;
    return value instanceof Row ? value : null;
  }

  private async run(id: string, scope: ScopeRef[]): Promise<Effect[]> {
    const routine = routineOf(this.app, id);
    if (!routine) return [{ do: 'message', words: 'This button has no routine yet.', tone: 'bad' }];
    const record = [...scope].reverse().find((s) => s.table === routine.given)?.record ?? null;
    return (await this.runNow(routine, record)).effects;
  }

  /** Runs a routine and tells the trace about it. */
  async runNow(
    routine: App['routines'][number],
    record: string | null,
  ): Promise<{ effects: Effect[]; trace: RunTrace }> {
    const effects: Effect[] = [];
    const trace = await runRoutine(this.app, this.records, routine, record, {
      write: async (drafts) => {
        await this.write(drafts, false);
      },
      mail: (m) => this.ports.mail({ ...m, id: newRecordId() }),
      open: (screen, r) => effects.push({ do: 'open', screen, record: r }),
      back: () => effects.push({ do: 'back' }),
      message: (words) => effects.push({ do: 'message', words, tone: 'plain' }),
      newRecordId,
    });
    if (trace.error) effects.push({ do: 'message', words: trace.error, tone: 'bad' });
    this.ports.happened({
      said: trace.error
        ? `${routine.name} stopped: ${trace.error}`
        : `Ran ${routine.name}${trace.given ? ` for ${trace.given}` : ''}`,
      tone: trace.error ? 'bad' : 'good',
      ms: trace.ms,
      run: trace,
      about: { routine: routine.id, ...(record && routine.given && { table: routine.given, record }) },
    });
    return { effects, trace };
  }

  private async write(drafts: Draft[], tell = true): Promise<void> {
    await this.ports.device.write(completed(this.records, drafts));
    if (tell) for (const d of drafts) this.tell(d);
  }

  private tell(d: Draft): void {
    const table = tableOf(this.app, d.table);
    const title = this.records.row(d.table, d.record)?.title();
    const said =
      d.do === 'remove' ? `Removed a ${table?.one}` : `Saved ${title ?? `a ${table?.one}`} in ${table?.name}`;
    this.ports.happened({ said, tone: 'good', about: { table: d.table, record: d.record } });
  }

  /** Saves a form, or says for each field what is wrong with it. A link is given by the id of its record. */
  async saveForm(tableId: string, record: string | null, values: Record<string, Cell>): Promise<SaveAnswer> {
    const table = tableOf(this.app, tableId);
    if (!table) return { problems: { '': 'The table of this form is not there any more.' } };
    const problems: Record<string, string> = {};
    const cells: Record<string, Cell> = {};
    for (const [id, cell] of Object.entries(values)) {
      const field = fieldOf(table, id);
      if (!field || (!isWritable(field) && field.link?.kind !== 'matched')) continue;
      if (field.link?.kind === 'matched') {
        const there = cell === null ? null : this.records.row(field.link.table, String(cell));
        cells[field.link.from!] = there?.cells[field.link.to!] ?? null;
        continue;
      }
      const read =
        typeof cell === 'string' ? (typedCell(field, cell) ?? typedCell(field, cell, 'day first', ',')) : cell;
      const wrong =
        read === undefined ? `“${String(cell).slice(0, 40)}” is not a ${spokenType(field)}.` : checkCell(field, read);
      if (wrong) problems[id] = wrong;
      cells[id] = read ?? null;
    }
    for (const f of table.fields) {
      const source = f.link?.kind === 'matched' ? f.link.from! : f.id;
      if (f.required && f.id in values && (cells[source] ?? null) === null) problems[f.id] = `${f.name} is needed.`;
    }
    const id = record ?? newRecordId();
    const refused = recordProblem(this.records, tableId, id, cells);
    if (refused && !(refused.field in problems)) problems[refused.field] = refused.said;
    if (Object.keys(problems).length) return { problems };
    if (!record && Object.values(cells).every((c) => c === null))
      return { problems: { '': 'Fill in at least one field before saving.' } };
    await this.rememberPerson(table.fields, cells);
    await this.write([{ do: 'set', table: tableId, record: id, cells }]);
    return { saved: id, created: !record };
  }

  /** Whoever is written into a new person field here is who uses the app here. */
  private async rememberPerson(fields: readonly Field[], cells: Record<string, Cell>): Promise<void> {
    const person = fields.flatMap((f) => (f.type === 'person' ? (cells[f.id] ?? []) : []))[0];
    if (typeof person !== 'string' || person === this.records.person) return;
    this.records.person = person;
    await this.ports.remember?.(person);
  }

  titles(table: string, ids: readonly string[]): Record<string, string> {
    return Object.fromEntries(ids.flatMap((id) => [[id, this.records.row(table, id)?.title() ?? 'gone']]));
  }

  /** Records to pick from for a link, by title. */
  choices(table: string, search: string, limit = 50): { id: string; title: string }[] {
    const wanted = search.trim().toLowerCase();
    const out: { id: string; title: string }[] = [];
    for (const row of this.records.rows(table)) {
      const title = row.title();
      if (wanted && !title.toLowerCase().includes(wanted)) continue;
      out.push({ id: row.id, title });
      if (out.length >= limit) break;
    }
    return out.sort((a, b) => a.title.localeCompare(b.title, 'en', { numeric: true }));
  }
}
