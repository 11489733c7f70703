/** A time that something took, as people write it: 0.4 ms, 12 ms, 12.8 s, 3 min 5 s. */
export function timeTaken(ms: number): string {
  if (ms < 10) return `${ms.toFixed(1)} ms`;
  if (ms < 1000) return `${Math.round(ms)} ms`;
  if (ms < 60_000) return `${(ms / 1000).toFixed(1)} s`;
  const seconds = Math.round(ms / 1000);
  const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60];
  return [h && `${h} h`, m && `${m} min`, !h && s && `${s} s`].filter(Boolean).join(' ');
}
