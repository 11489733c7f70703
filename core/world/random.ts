/** Numbers that look random and are the same for the same seed: the generator mulberry32 (Ettinger, 2017). */
export class Random {
  constructor(private state: number) {}

  /** From 0 up to 1, without 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from 0 up to `count`, without that. */
  below(count: number): number {
    return Math.floor(this.next() * count);
  }

  /** One of several. */
  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!;
  }
}
