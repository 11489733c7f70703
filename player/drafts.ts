import type { Cell } from '../core/fields/lists.ts';

/** What was typed into a form and is not saved: kept until it is saved or thrown away knowingly, over a reload too. */
export function draftAt(key: string): Record<string, Cell> {
  try {
    const kept: unknown = JSON.parse(sessionStorage.getItem(key) ?? '{}');
    return typeof kept === 'object' && kept !== null ? (kept as Record<string, Cell>) : {};
  } catch {
    return {};
  }
}

export function keepDraft(key: string, changed: Record<string, Cell>): void {
  try {
    if (Object.keys(changed).length) sessionStorage.setItem(key, JSON.stringify(changed));
    else sessionStorage.removeItem(key);
  } catch {
    // Too much, or not allowed here: then a reload forgets what is typed.
  }
}
