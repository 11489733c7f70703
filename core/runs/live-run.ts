import { readApp } from '../app/document.ts';
import type { App } from '../app/schema.ts';
import type { Records } from '../records/store.ts';
import { keyOf, type RunTrace } from '../routines/run.ts';
import type { StepTrace } from '../routines/state.ts';
import { addUsed, type Used } from './used.ts';
import { RunLine, type RunsPort } from './lines.ts';
import type { LeanRun, StoodRun } from './lean-run.ts';
import type { Start } from './start.ts';

/** Where a run on the host is. */
export type RunStands =
  /** It waits for its turn. */
  | 'waits'
  | 'runs'
  /** It waits for a time, for something to become so, or for an answer. */
  | 'holds'
  /** Something failed that may be over by itself: it goes on by itself after a while. */
  | 'retries'
  /** It failed for good, and can be gone on with. */
  | 'failed';

/** A run on the host that has not ended. Thousands may hold for months, so it is small. */
export interface LiveRun extends Start {
  /** When it was started, in milliseconds since 1970. */
  at: number;
  stands: RunStands;
  /** What it was put away as last, a {@link LeanRun} in JSON; null before its first ask. */
  kept: string | null;
  /** When it goes on by itself; null for never, or at once. */
  wakes: number | null;
  /** How often it was tried again after a failure. */
  tries: number;
  error: string;
  /** The answer to the question that it waits with, and who gave it. */
  answer?: { value: string; by: string };
  /** Why a mail of it did not arrive. */
  returned?: string;
  /** The earlier release with whose routines it goes on. */
  program?: number;
  /** It was there when the host started: nobody knows what became of what it asked last. */
  isFromBefore: boolean;
}

/** What a run has done, at its beginning. */
export const newTrace = (run: LiveRun, { id, name }: { id: string; name: string }, records: Records): RunTrace => ({
  routine: id,
  name,
  given: (run.given && records.row(run.given.table, run.given.record)?.title()) ?? '',
  record: run.given?.record ?? null,
  values: run.values,
  steps: [],
  ms: 0,
});

/** A run that has ended. */
export interface PastRun {
  id: string;
  routine: string;
  said: string;
  given: Start['given'];
  at: number;
  /** How long it was at work, without what it waited. */
  ms: number;
  error: string;
  /** Why a mail of it did not arrive. */
  returned?: string;
}

/** What lines say of all runs together. */
export interface RunsNow {
  live: Map<string, LiveRun>;
  /** Those that have ended, the latest last. */
  past: PastRun[];
  /** The number of the last change that has started what it starts, and up to when the clock has; null where none has yet. */
  seen: { at: number; time: number; triggers: string } | null;
  /** Routines that are held up; empty for all. */
  paused: Set<string>;
  /** What was used lately. */
  used: Used;
  /** Earlier releases with whose routines runs go on. */
  programs: Map<number, App>;
}

/** So many runs that have ended are listed. */
export const MOST_PAST = 2000;

/** Thousands of runs have the same texts in them: each is kept once. */
const texts = new Map<string, string>();
function once(text: string): string {
  const known = texts.get(text);
  if (known !== undefined) return known;
  if (texts.size > 10_000) texts.clear();
  texts.set(text, text);
  return text;
}
const paths = new Map<string, string[]>();
function pathOnce(path: string[]): string[] {
  const key = path.join(' ');
  const known = paths.get(key);
  if (known) return known;
  if (paths.size > 10_000) paths.clear();
  paths.set(key, path);
  return path;
}
const NO_VALUES: Start['values'] = Object.freeze({});

export const newRun = ({ id, routine, given, values, said, path, cut }: Start, at: number): LiveRun => ({
  id,
  routine: once(routine),
  given: given && { table: once(given.table), record: given.record },
  values: Object.keys(values).length ? values : NO_VALUES,
  said,
  path: pathOnce(path),
  ...(cut !== undefined && { cut }),
  at,
  stands: 'waits',
  kept: null,
  wakes: null,
  tries: 0,
  error: '',
  isFromBefore: false,
});

/** What was kept of the runs of an app. What cannot be read is said, and left out. */
export async function readRuns(port: Pick<RunsPort, 'parts'>, say: (words: string) => void): Promise<RunsNow> {
  const now = noRuns();
  for await (const part of port.parts()) takeKept(now, part, say);
  return areFromBefore(now);
}

/** An app of which nothing has run. */
export const noRuns = (): RunsNow => ({
  live: new Map(),
  past: [],
  seen: null,
  paused: new Set(),
  used: new Map(),
  programs: new Map(),
});

/** Takes in what lines say that were kept before a start. */
export function takeKept(now: RunsNow, lines: readonly string[], say: (words: string) => void): void {
  for (const text of lines) {
    const line = lineIn(text);
    if (!line) say(`A line of its runs could not be read, and is left out: ${text.slice(0, 200)}`);
    else if (line.do === 'program') {
      const app = earlierRelease(line.app, say);
      if (app) take(now, { ...line, app });
    } else take(now, line);
  }
}

/** Of all that live nobody knows what became of what they asked last. */
export function areFromBefore(now: RunsNow): RunsNow {
  for (const run of now.live.values()) run.isFromBefore = true;
  return now;
}

/** An earlier release in today's form; null where it cannot be read, which is said. */
function earlierRelease(app: unknown, say: (words: string) => void): App | null {
  try {
    return readApp(app, 'An earlier release');
  } catch (e) {
    say(`Runs that began with an earlier release go on with the newest: ${(e as Error).message}`);
    return null;
  }
}

/** What a line says; null for one that is no such thing. */
export function lineIn(text: string): RunLine | null {
  const bare = bareKept(text);
  if (bare) return bare;
  try {
    const { head, run } = parted(text);
    const line: unknown = run === null ? JSON.parse(text) : { ...(JSON.parse(head) as object), run };
    return isOften(line) ? line : (RunLine.safeParse(line).data ?? null);
  } catch {
    return null;
  }
}

/**
 * In a line of a run that is put away, what it was put away as stands last, behind this: nobody reads it before the run
 * goes on, so hundreds of thousands are not read at a start.
 */
const RUN_AT = ',"run":{';
const KEPT = '{"do":"kept","id":"';
const NO_STEPS = `","steps":[]${RUN_AT}`;
/** Of a run that took no step since it was put away before, of which there are most, without reading anything. */
function bareKept(text: string): RunLine | null {
  if (!text.startsWith(KEPT) || !text.endsWith('}}')) return null;
  const end = text.indexOf('"', KEPT.length);
  if (!text.startsWith(NO_STEPS, end)) return null;
  const id = text.slice(KEPT.length, end);
  return { do: 'kept', id, steps: [], run: text.slice(end + NO_STEPS.length - 1, -1) };
}
function parted(text: string): { head: string; run: string | null } {
  // Of the steps before it none has such a name, and in their texts the signs are written otherwise.
  const at = text.startsWith('{"do":"kept",') ? text.indexOf(RUN_AT) : -1;
  const whole = { head: text, run: null };
  return at < 0 || !text.endsWith('}}')
    ? whole
    : { head: `${text.slice(0, at)}}`, run: text.slice(at + RUN_AT.length - 1, -1) };
}

/** Is it one of the two sorts of which there are hundreds of thousands, as it should be? Looked at by hand, which is faster. */
function isOften(line: unknown): line is RunLine {
  const { do: what, id, steps, run, at, start } = (line ?? {}) as Record<string, unknown>;
  if (what === 'kept') return typeof id === 'string' && Array.isArray(steps) && typeof run === 'string';
  if (what !== 'begins' || typeof at !== 'number' || !isObject(start)) return false;
  const { id: of, routine, given, values, said, path } = start;
  const isGiven = given === null || (isObject(given) && typeof given['table'] === 'string' && typeof given['record'] === 'string'); // prettier-ignore
  return typeof of === 'string' && typeof routine === 'string' && isGiven && isObject(values) && typeof said === 'string' && Array.isArray(path); // prettier-ignore
}
const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Takes in what a line says. */
export function take(now: RunsNow, line: RunLine): void {
  switch (line.do) {
    case 'begins':
      if (!now.live.has(line.start.id)) now.live.set(line.start.id, newRun(line.start as Start, line.at));
      return;
    case 'seen':
      now.seen = { at: line.at, time: line.time, triggers: line.triggers };
      return;
    case 'used':
      now.used = new Map(line.quarters.map(([quarter, runs, ms]) => [quarter, { runs, ms }]));
      return;
    case 'program':
      now.programs.set(line.program, line.app);
      return;
    case 'goes by':
      goesBy(now, line.program, line.runs);
      return;
    case 'newest':
      now.programs.clear();
      for (const run of now.live.values()) delete run.program;
      return;
    case 'paused':
      if (line.on) now.paused.add(line.routine);
      else now.paused.delete(line.routine);
      return;
    default:
  }
  const run = now.live.get(line.id);
  if (line.do === 'returned') {
    const past = now.past.find((p) => p.id === line.id);
    for (const r of [run, past]) if (r) r.returned = line.words;
  }
  if (!run) return;
  switch (line.do) {
    case 'kept':
      run.kept = typeof line.run === 'string' ? line.run : JSON.stringify(line.run);
      delete run.answer;
      return;
    case 'answered':
      run.answer = { value: line.value, by: line.by };
      return;
    case 'again':
      Object.assign(run, { stands: 'retries', tries: line.tries, wakes: line.at, error: line.error });
      return;
    case 'goes on':
      Object.assign(run, { stands: 'waits', tries: 0, wakes: null, error: '' });
      run.isFromBefore = false;
      return;
    case 'ended':
      addUsed(now.used, line.at, line.ms);
      if (line.error === undefined) now.live.delete(run.id);
      else Object.assign(run, { stands: 'failed', error: line.error });
      now.past = now.past.filter((p) => p.id !== run.id);
      now.past.push(pastOf(run, line));
      if (now.past.length > MOST_PAST * 1.5) now.past = now.past.slice(-MOST_PAST);
      return;
    case 'dropped':
      now.live.delete(run.id);
  }
}

function goesBy({ live, programs }: RunsNow, program: number, runs: readonly string[] | undefined): void {
  if (!programs.has(program)) return;
  const named = runs?.flatMap((id) => live.get(id) ?? []) ?? [...live.values()].filter((r) => r.program === undefined);
  for (const run of named) run.program = program;
}

const pastOf = (run: LiveRun, { ms, error = '' }: Extract<RunLine, { do: 'ended' }>): PastRun => {
  const { id, routine, said, given, at, returned } = run;
  return { id, routine, said, given, at, ms, error, ...(returned && { returned }) };
};

const NOT_KNOWN = {
  ok: false as const,
  reason: 'The server stopped while this was asked, so nobody knows whether it was done. It is not asked again.',
  sort: 'unknown',
};

/**
 * What a run is gone on with: its state and ask, without an answer that was a refusal, which is asked for again. What it
 * waited for has come.
 */
export function keptOf(run: LiveRun): StoodRun | null {
  if (run.kept === null) return null;
  const read = jsonOf(run.kept);
  // Spoilt on the disk: it begins anew, and does nothing twice, since all it does has the same keys again.
  if (!read) return null;
  const { state, ...stood } = read;
  const { id, routine, given } = run;
  const kept: StoodRun = { ...stood, state: { id, routine, given, ...state } };
  if (kept.answered?.answer.ok === false) delete kept.answered;
  if (kept.ask.ask === 'service' && kept.ask.onceAtMost && !kept.answered && run.isFromBefore)
    kept.answered = { key: keyOf(kept.state), answer: NOT_KNOWN };
  if (kept.ask.ask === 'wait') kept.answered = { key: keyOf(kept.state), answer: { ok: true } };
  if (kept.ask.ask === 'person') {
    const value = run.answer && { list: [run.answer.value, run.answer.by] };
    kept.answered = { key: keyOf(kept.state), answer: { ok: true, ...(value && { value }) } };
  }
  return kept;
}

/** Is it put away with a wait? Its ask stands first, so that most are not looked through. */
const isWait = (kept: string): boolean =>
  kept.startsWith('{"ask":{"ask":') ? kept.startsWith('{"ask":{"ask":"wait",') : kept.includes('"ask":{"ask":"wait",');

/** Those that held for a time, or for something to become so, when they were put away: seen without reading all of them. */
export function heldOf({ live }: RunsNow): LiveRun[] {
  const held = [...live.values()].filter(
    ({ stands, kept, answer }) => stands === 'waits' && !answer && kept !== null && isWait(kept),
  );
  for (const run of held) run.stands = 'holds';
  return held;
}

function jsonOf(text: string): LeanRun | null {
  try {
    return JSON.parse(text) as LeanRun;
  } catch {
    return null;
  }
}

/** The steps that lines hold of a run. */
export const stepsIn = (line: RunLine, run: string): StepTrace[] =>
  (line.do === 'kept' || line.do === 'steps' || line.do === 'ended') && line.id === run ? line.steps : [];

/** Does a run stand where it stood, though it has asked and looked again meanwhile? */
export function isSameStand(before: string | null, put: LeanRun): boolean {
  if (before === null) return false;
  const bare = ({ state, ask, ...rest }: LeanRun): string =>
    JSON.stringify({
      ...rest,
      trace: null,
      state: { ...state, asks: 0, budget: 0, asking: state.asking && { ...state.asking, began: 0 } },
      ask: ask.ask === 'wait' && ask.looksUntil !== undefined ? { ...ask, until: 0 } : ask,
    });
  return bare(JSON.parse(before) as LeanRun) === bare(put);
}
