import { describe, expect, it } from 'vitest';
import { onDevice } from './wall-clock.ts';
import { zoneClock } from './zone-clock.ts';

const at = (zone: string | undefined, instant: string): string => {
  const wall = zoneClock(
    () => zone,
    () => Date.parse(instant),
  )();
  return new Date(wall).toISOString().slice(0, 16);
};

describe('the clock of a zone', () => {
  it('shows what its clocks show, through their changes', () => {
    expect(at('Europe/Vienna', '2026-11-30T23:30:00Z')).toBe('2026-12-01T00:30');
    expect(at('Asia/Kathmandu', '2026-11-30T23:30:00Z')).toBe('2026-12-01T05:15');
    // The night when clocks go forward, and the one when they go back.
    expect(at('Europe/Vienna', '2026-03-29T00:59:00Z')).toBe('2026-03-29T01:59');
    expect(at('Europe/Vienna', '2026-03-29T01:00:00Z')).toBe('2026-03-29T03:00');
    expect(at('Europe/Vienna', '2026-10-25T01:00:00Z')).toBe('2026-10-25T02:00');
  });
  it('goes on as time passes, and changes with the zone', () => {
    let now = Date.parse('2026-03-29T00:59:59Z');
    let zone = 'Europe/Vienna';
    const clock = zoneClock(
      () => zone,
      () => now,
    );
    expect(new Date(clock()).toISOString()).toContain('T01:59:59');
    now += 1000;
    expect(new Date(clock()).toISOString()).toContain('T03:00:00');
    zone = 'UTC';
    expect(clock()).toBe(now);
  });
  it('is the device’s own where no zone is known', () => {
    const instant = Date.parse('2026-11-30T23:30:00Z');
    for (const zone of [undefined, 'Nowhere/Atall'])
      expect(
        zoneClock(
          () => zone,
          () => instant,
        )(),
      ).toBe(onDevice(instant));
  });
});
