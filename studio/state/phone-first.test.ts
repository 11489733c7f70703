import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { DESK_WAITS, DeskFollows, isTyped, typedIn } from './phone-first.ts';

let frames: (() => void)[] = [];
const nextFrame = (): void => {
  const now = frames;
  frames = [];
  for (const frame of now) frame();
};
let shown = 0;
let desk: DeskFollows;
const typed = (): void => desk.changed(true);

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
  [frames, shown] = [[], 0];
  desk = new DeskFollows(() => shown++);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('the desk follows', () => {
  it('at once what is not typed', () => {
    desk.changed(false);
    expect(shown).toBe(1);
  });
  it('what is typed once the phone has it on the glass, a frame later', () => {
    typed();
    desk.phoneDrew();
    nextFrame();
    expect(shown).toBe(0);
    nextFrame();
    expect(shown).toBe(1);
    vi.advanceTimersByTime(DESK_WAITS);
    expect(shown).toBe(1);
  });
  it('what is typed where the phone has nothing of it, soon', () => {
    typed();
    vi.advanceTimersByTime(DESK_WAITS - 1);
    expect(shown).toBe(0);
    vi.advanceTimersByTime(1);
    expect(shown).toBe(1);
  });
  it('several letters together, the first of them waiting no longer for those after it', () => {
    typed();
    vi.advanceTimersByTime(DESK_WAITS / 2);
    typed();
    vi.advanceTimersByTime(DESK_WAITS / 2);
    expect(shown).toBe(1);
  });
  it('before a press, and everything typed with what is not', () => {
    typed();
    desk.catchUp();
    desk.catchUp();
    expect(shown).toBe(1);
    typed();
    desk.changed(false);
    vi.advanceTimersByTime(DESK_WAITS);
    expect(shown).toBe(2);
  });
  it('no more when the app is closed', () => {
    typed();
    desk.phoneDrew();
    desk.stop();
    nextFrame();
    nextFrame();
    vi.advanceTimersByTime(DESK_WAITS);
    expect(shown).toBe(0);
  });
});

it('a key typed into a box is known while what it leads to runs, and no longer', () => {
  const during: boolean[] = [];
  typedIn(() => during.push(isTyped()));
  expect([...during, isTyped()]).toEqual([true, false]);
  const fails = (): never => {
    throw new Error('no');
  };
  expect(() => typedIn(fails)).toThrow('no');
  expect(isTyped()).toBe(false);
});
