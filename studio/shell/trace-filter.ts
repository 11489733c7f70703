import type { TraceEntry } from '../state/trace.ts';

/** What of the trace is looked at. */
export interface TraceFilter {
  words: string;
  kind: 'all' | 'runs' | 'phone' | 'edits' | 'problems';
  /** A routine or screen, by its id; empty for any. */
  of: string;
  /** Who used the phone; empty for anybody. */
  by: string;
}
export const ALL: TraceFilter = { words: '', kind: 'all', of: '', by: '' };

export const KINDS: [TraceFilter['kind'], string][] = [
  ['all', 'everything'],
  ['runs', 'runs of routines'],
  ['phone', 'what the phone did'],
  ['edits', 'changes'],
  ['problems', 'what failed'],
];

/** The lines of the trace that are looked at, newest first. Words are looked for in the steps of runs too. */
export function shownOf(trace: readonly TraceEntry[], { words, kind, of, by }: TraceFilter): TraceEntry[] {
  const wanted = words.trim().toLowerCase();
  return trace
    .filter((t) => {
      const about = t.about ?? {};
      if (of && about.routine !== of && about.screen !== of) return false;
      if (by && t.person !== by) return false;
      if (kind === 'runs' && !t.run) return false;
      if (kind === 'problems' && t.tone !== 'bad') return false;
      if (kind === 'phone' && !/^(Opened|Tapped|Stand-in)/.test(t.said)) return false;
      if (kind === 'edits' && (t.run || /^(Opened|Tapped|Stand-in)/.test(t.said))) return false;
      if (!wanted) return true;
      const steps = t.run?.steps.map((s) => `${s.said} ${s.gave} ${s.error ?? ''}`) ?? [];
      return [t.said, ...steps].some((s) => s.toLowerCase().includes(wanted));
    })
    .reverse();
}

/** Who used the phone while something of the trace happened, by name. */
export const peopleOf = (trace: readonly TraceEntry[]): string[] =>
  [...new Set(trace.flatMap((t) => t.person ?? []))].sort((a, b) => a.localeCompare(b));
