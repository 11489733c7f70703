/** Sounds of the demo, worked out as samples. */

const RATE = 8000;

/** A young queen’s piping: one long call and a few short ones, as the bytes of a WAV file of 8 bits (RIFF, 1991). */
export function queenPiping(): string {
  const calls = [0.9, 0.25, 0.25, 0.25];
  const samples: number[] = [];
  for (const length of calls) {
    for (let i = 0; i < length * RATE; i++) {
      const t = i / RATE;
      // The note swells and dies away; overtones make it reedy.
      const swell = Math.min(1, t / 0.05, (length - t) / 0.08);
      const wave =
        Math.sin(2 * Math.PI * 400 * t) +
        0.5 * Math.sin(2 * Math.PI * 800 * t) +
        0.25 * Math.sin(2 * Math.PI * 1200 * t);
      samples.push(Math.round(128 + 50 * swell * wave));
    }
    for (let i = 0; i < 0.12 * RATE; i++) samples.push(128);
  }
  const four = (n: number): string => String.fromCharCode(n & 255, (n >> 8) & 255, (n >> 16) & 255, (n >> 24) & 255);
  const two = (n: number): string => String.fromCharCode(n & 255, (n >> 8) & 255);
  const head = `RIFF${four(36 + samples.length)}WAVEfmt ${four(16)}${two(1)}${two(1)}${four(RATE)}${four(RATE)}${two(1)}${two(8)}data${four(samples.length)}`;
  return head + samples.map((s) => String.fromCharCode(s)).join('');
}
