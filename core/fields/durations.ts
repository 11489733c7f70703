import { fix } from '../formula/number.ts';
import type { DaysDuration } from '../formula/values.ts';

/** A days and time duration with nothing left out, as it is written into a form: "8 d 3 h 20 min". */
export function exactDuration(d: DaysDuration): string {
  const seconds = Math.abs(d.ms) / 1000;
  const parts: [number, string][] = [
    [Math.floor(seconds / 86_400), 'd'],
    [Math.floor(seconds / 3600) % 24, 'h'],
    [Math.floor(seconds / 60) % 60, 'min'],
    [fix(seconds % 60), 's'],
  ];
  const words = parts.filter(([n]) => n !== 0).map(([n, unit]) => `${n} ${unit}`);
  return words.length ? `${d.ms < 0 ? '-' : ''}${words.join(' ')}` : '0 min';
}
