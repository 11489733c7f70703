const UNITS: [ms: number, one: string, many: string][] = [
  [86_400_000, 'day', 'days'],
  [3_600_000, 'hour', 'hours'],
  [60_000, 'minute', 'minutes'],
  [1000, 'second', 'seconds'],
];

/** A span of time in at most two units: “2 hours 10 minutes”; less than a second is “a moment”. */
export function durationSaid(ms: number): string {
  const said: string[] = [];
  let rest = ms;
  for (const [unit, one, many] of UNITS) {
    const n = Math.floor(rest / unit);
    rest -= n * unit;
    if (n > 0) said.push(`${n} ${n === 1 ? one : many}`);
    if (said.length === 2) break;
  }
  return said.join(' ') || 'a moment';
}
