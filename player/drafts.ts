import type { Cell } from '../core/fields/lists.ts';
import type { Drafts } from '../core/phone/walk.ts';

/** What is typed into forms and not saved, as this page knows it; the phone behind it keeps it. */
export class PageDrafts {
  private drafts: Drafts = {};

  constructor(private readonly keep: (form: string, changed: Record<string, Cell>) => unknown) {}

  /** Takes what the phone had kept, before any form is drawn. */
  take(drafts: Drafts): void {
    this.drafts = { ...drafts };
  }

  /** Lets go of what is typed on some screens, by how the names of their forms begin. */
  drop(begins: readonly string[]): void {
    for (const form of Object.keys(this.drafts)) if (begins.some((at) => form.startsWith(at))) delete this.drafts[form];
  }

  at(form: string): Record<string, Cell> {
    return this.drafts[form] ?? {};
  }

  set(form: string, changed: Record<string, Cell>): void {
    if (JSON.stringify(this.at(form)) === JSON.stringify(changed)) return;
    this.drafts[form] = changed;
    this.keep(form, changed);
  }
}
