/** Milliseconds of the fastest of several runs, after one to warm up. */
export function fastest(work: () => unknown, runs = 7): number {
  work();
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const started = performance.now();
    work();
    best = Math.min(best, performance.now() - started);
  }
  return best;
}

/** One line of a report: what, how long, against what, and the ratio with its aim. */
export function line(what: string, ms: number, against: string, reference: number, aim: string): void {
  const ratio = ms / reference;
  const said = ratio >= 1 ? `${ratio.toFixed(1)} times as long as` : `${(1 / ratio).toFixed(0)} times as fast as`;
  console.log(`  ${what}: ${format(ms)}, ${said} ${against} (${format(reference)}); aim: ${aim}`);
}

export const format = (ms: number): string => (ms < 1 ? `${(ms * 1000).toFixed(2)} µs` : `${ms.toFixed(1)} ms`);
