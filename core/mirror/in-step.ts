import { z } from 'zod';
import { OWNER } from '../access/access.ts';
import type { App } from '../app/schema.ts';
import type { TextPort } from '../document/kept-text.ts';
import { Refused } from '../document/refused.ts';
import type { Clock } from '../document/time.ts';
import type { Host } from '../host/host.ts';
import type { Table } from '../tables/schema.ts';
import { FOLLOWED } from './following.ts';
import { ServiceMirror, type AskService, type KeptInStep } from './service-mirror.ts';
import { MirrorConflictSchema, type MirrorStatus } from './state.ts';

const Cell = z.union([z.string(), z.number(), z.boolean(), z.null()]);
const KeptText = z.array(
  z.object({
    table: z.string(),
    fields: z.array(z.string()),
    base: z.array(z.object({ record: z.string(), texts: z.array(z.string()), cells: z.array(Cell) })).nullable(),
    conflicts: z.array(MirrorConflictSchema),
    unsure: z.array(z.string()),
    at: z.number(),
  }),
);

/** What is changed in this time is sent together. */
const TOGETHER_MS = 1000;
/** What could not be had is tried again after so many minutes at the latest. */
const AGAIN_MINUTES = 5;
const MINUTE = 60_000;

/** The tables of one released app that are kept in step with services, as its document says. */
export class InStep {
  private readonly mirrors = new Map<string, ServiceMirror>();
  private kept: KeptInStep[] = [];
  private readonly timers = new Map<string, () => void>();
  private soon: (() => void) | null = null;
  private stopListening: () => void = () => {};
  private saving: Promise<void> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly text: TextPort,
    private readonly app: () => App,
    private readonly host: Host,
    private readonly ask: AskService,
    private readonly tell: (status: MirrorStatus | { table: string; stopped: true }) => void,
    private readonly clock: Clock,
  ) {}

  async start(): Promise<void> {
    const text = await this.text.read();
    this.kept = text ? KeptText.parse(JSON.parse(text)) : [];
    this.stopListening = this.host.subscribe(OWNER, (news) => {
      let any = false;
      for (const c of news.changes) {
        const mirror = c.id.startsWith(FOLLOWED) ? undefined : this.mirrors.get(c.table);
        mirror?.changed([c.record]);
        any ||= mirror !== undefined;
      }
      if (any) this.tellSoon();
    });
    this.fit();
  }

  /** A newer release has come: its tables are kept in step from now on, and no others. */
  fit(): void {
    const wanted = this.app().tables.filter((t) => t.inStep);
    for (const id of this.mirrors.keys()) if (!wanted.some((t) => t.id === id)) this.stop(id);
    for (const table of wanted) {
      const mirror = this.mirrors.get(table.id);
      if (mirror) this.arm(table);
      else this.begin(table);
    }
    if (this.kept.some((k) => !wanted.some((t) => t.id === k.table))) void this.save();
  }

  private begin(table: Table): void {
    const kept = this.kept.find((k) => k.table === table.id) ?? {
      table: table.id,
      fields: [],
      base: null,
      conflicts: [],
      unsure: [],
      at: 0,
    };
    const mirror = new ServiceMirror(
      kept,
      this.app,
      this.host,
      this.ask,
      () => this.save(),
      (status) => this.tell(status),
      this.clock,
    );
    this.mirrors.set(table.id, mirror);
    // What was changed while nobody listened is found by comparing.
    void mirror.look().then(() => this.arm(table));
  }

  /** Fetches a table again when its time comes, which counts from now. */
  private arm({ id, inStep }: Table): void {
    this.timers.get(id)?.();
    this.timers.delete(id);
    const mirror = this.mirrors.get(id);
    if (this.closed || !mirror || !inStep || inStep.every === 0) return;
    const { every } = inStep;
    const wait = mirror.now.state === 'broken' ? Math.min(every, AGAIN_MINUTES) : every;
    const again = (): void => {
      const now = this.app().tables.find((t) => t.id === id);
      if (now && this.mirrors.get(id) === mirror) this.arm(now);
    };
    this.timers.set(
      id,
      this.clock.after(wait * MINUTE, () => void mirror.look().then(again)),
    );
  }

  private tellSoon(): void {
    this.soon ??= this.clock.after(TOGETHER_MS, () => {
      this.soon = null;
      for (const m of this.mirrors.values()) void m.tellChanges();
    });
  }

  private stop(table: string): void {
    this.mirrors.delete(table);
    this.timers.get(table)?.();
    this.timers.delete(table);
    this.tell({ table, stopped: true });
  }

  private save(): Promise<void> {
    // One save that failed does not keep the next from being tried.
    this.saving = this.saving
      .catch(() => undefined)
      .then(() => {
        this.kept = [...this.mirrors.values()].map((m) => m.kept);
        return this.text.write(this.kept.length ? JSON.stringify(this.kept) : '');
      });
    return this.saving;
  }

  /** Is there a table that is kept in step? */
  get any(): boolean {
    return this.mirrors.size > 0;
  }

  state(): MirrorStatus[] {
    return [...this.mirrors.values()].map((m) => m.now);
  }

  get(table: string): ServiceMirror {
    const mirror = this.mirrors.get(table);
    if (!mirror) throw new Refused(404, 'This table is not kept in step with a service.');
    return mirror;
  }
  has(table: string): boolean {
    return this.mirrors.has(table);
  }

  async close(): Promise<void> {
    this.closed = true;
    this.stopListening();
    this.soon?.();
    for (const cancel of this.timers.values()) cancel();
    this.timers.clear();
    await this.saving;
  }
}
