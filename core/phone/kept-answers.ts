import type { Page } from '../services/paging.ts';
import type { TakenRow } from '../services/taken.ts';
import type { PhoneStore } from './keeps.ts';

/** An answer as it is kept for a time without a network. `at`: when it came, in ms since 1970. */
export interface KeptAnswer {
  at: number;
  rows: TakenRow[];
  next: Page | null;
}
interface Entry {
  key: string;
  table: string;
  at: number;
}

/** So many answers are kept, the latest ones. */
const MOST = 60;
/** So many records of an answer are kept. */
const MOST_ROWS = 500;

/** The answers of services that are kept on a device, each under what it was asked with. */
export class KeptAnswers {
  private index: Promise<Entry[]> | null = null;

  constructor(private readonly store: Pick<PhoneStore, 'get' | 'put'>) {}

  /** What is kept under a key; null where nothing is. */
  async of(key: string): Promise<KeptAnswer | null> {
    return (await this.store.get<KeptAnswer>(`answer ${key}`).catch(() => undefined)) ?? null;
  }

  /** A record that came in any kept answer for its table, as an answer of its own: so it is there without a network too. */
  async withRecord(table: string, id: string): Promise<KeptAnswer | null> {
    for (const e of await this.entries()) {
      if (e.table !== table) continue;
      const kept = await this.of(e.key);
      const row = kept?.rows.find((r) => r.id === id);
      if (row) return { at: kept!.at, rows: [row], next: null };
    }
    return null;
  }

  /** Keeps an answer; `next`: where its next page begins. What cannot be kept is here until the app is closed. */
  async keep(entry: Entry, rows: TakenRow[], next: Page | null): Promise<void> {
    const all = [entry, ...(await this.entries()).filter((e) => e.key !== entry.key)];
    this.index = Promise.resolve(all.slice(0, MOST));
    const kept: KeptAnswer = {
      at: entry.at,
      rows: rows.slice(0, MOST_ROWS),
      next: rows.length <= MOST_ROWS ? next : null,
    };
    try {
      await this.store.put(`answer ${entry.key}`, kept);
      for (const gone of all.slice(MOST)) await this.store.put(`answer ${gone.key}`, undefined);
      await this.store.put('answers', all.slice(0, MOST));
    } catch {
      // A full store: the answer is shown, and asked for again when the app is opened next.
    }
  }

  /** Lets go of everything that is kept. */
  async forget(): Promise<void> {
    for (const e of await this.entries()) await this.store.put(`answer ${e.key}`, undefined);
    await this.store.put('answers', []);
    this.index = Promise.resolve([]);
  }

  private entries(): Promise<Entry[]> {
    this.index ??= this.store.get<Entry[]>('answers').then(
      (list) => list ?? [],
      () => [],
    );
    return this.index;
  }
}
