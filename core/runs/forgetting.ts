import type { RunsPort } from './lines.ts';
import type { LiveRun, RunsNow } from './live-run.ts';

/** Says whether a text holds anything of somebody, by what they are known by: an address, an id, a name. */
export function holdsAnyOf(gone: readonly string[]): (text: string) => boolean {
  // As it stands in JSON, where a name may have letters that are written otherwise.
  const forms = gone.flatMap((g) => (g.trim().length < 2 ? [] : [g, JSON.stringify(g).slice(1, -1)]));
  const wanted = [...new Set(forms.map((f) => f.toLowerCase()))];
  return (text) => {
    const small = text.toLowerCase();
    return wanted.some((w) => small.includes(w));
  };
}

/** Does a run hold anything of them: what it was given, why it began, where it stands? */
const isAbout = (run: LiveRun, holds: (text: string) => boolean): boolean =>
  holds(JSON.stringify([run.given, run.values, run.said, run.error])) || (run.kept !== null && holds(run.kept));

/** Takes every run that holds anything of them out of those that live. Gives the runs. */
export function forgetLive(now: RunsNow, holds: (text: string) => boolean): LiveRun[] {
  const about = [...now.live.values()].filter((run) => isAbout(run, holds));
  for (const run of about) now.live.delete(run.id);
  return about;
}

/** Lets go of what is listed of runs that have ended and hold anything of them. */
export function forgetPast(now: RunsNow, holds: (text: string) => boolean): void {
  now.past = now.past.filter((p) => !holds(JSON.stringify(p)));
}

/** The lines that hold nothing of them. */
export async function* linesWithout(port: Pick<RunsPort, 'read'>, holds: (text: string) => boolean): AsyncIterable<string> {
  for await (const line of port.read()) if (!holds(line)) yield line;
} // prettier-ignore
