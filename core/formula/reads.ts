import type { Runtime } from './builtins/define.ts';
import type { Run } from './closures.ts';
import { keyOf } from './keys.ts';
import type { Frame, Input, WorkedOutFrom } from './scope.ts';
import type { Value } from './values.ts';

/** Everything that a part of a formula reads, gathered while it is compiled. */
export class Reads implements WorkedOutFrom {
  readonly inputs = new Map<string, Input>();
  /** It may be another each time though nothing else is: by chance, or since it sees a list that grows. */
  fickle = false;

  add(input: Input): void {
    this.inputs.set(input.id, input);
  }

  take(other: WorkedOutFrom): void {
    this.fickle ||= other.fickle;
    for (const input of other.inputs.values()) this.add(input);
  }

  /** Does it hang on this, by itself or in what it is compared with? */
  mentions(id: string): boolean {
    return this.inputs.has(id) || [...this.inputs.values()].some((i) => i.from?.mentions(id));
  }

  /** A variable is out of reach from here on: what hung on it hangs on the rest it was worked out from. */
  leave(id: string): void {
    this.inputs.delete(id);
    for (const input of Array.from(this.inputs.values()))
      if (input.from?.mentions(id)) {
        this.inputs.delete(input.id);
        const rest = new Reads();
        rest.take(input.from);
        rest.leave(id);
        this.take(rest);
      }
  }

  /** Does it hang on this, and on nothing else? */
  isOnly(id: string): boolean {
    if (this.fickle || this.inputs.size === 0) return false;
    return [...this.inputs.values()].every((i) => i.id === id || i.from?.isOnly(id));
  }
}

/** Follows what the parts of a formula read while they are compiled. */
export class ReadsFollowed {
  private now = new Reads();
  /** The variables of the innermost loop. */
  around: readonly string[] = [];

  /** The part that is being compiled reads these; undefined when nobody knows what it reads. */
  note(inputs: readonly Input[] | undefined): void {
    if (inputs) for (const i of inputs) this.now.add(i);
    else this.now.fickle = true;
  }

  /** What is compiled, and what it reads. */
  within<T>(work: () => T): [T, Reads] {
    const outer = this.now;
    const inner = (this.now = new Reads());
    const made = work();
    this.now = outer;
    outer.take(inner);
    return [made, inner];
  }

  /** The part that is being compiled reads this, and nothing else. */
  only(reads: Reads): void {
    this.now.inputs.clear();
    this.now.fickle = false;
    this.now.take(reads);
  }

  leave(id: string): void {
    this.now.leave(id);
  }

  inLoop<T>(slots: readonly number[], work: () => T): T {
    const outer = this.around;
    this.around = slots.map(slotId);
    const made = work();
    this.around = outer;
    return made;
  }
}

/** The variable at a place of the frame. */
export const slotInput = (slot: number): Input => ({ id: slotId(slot), read: (f) => f[slot] ?? null });
/** What a link of the variable at a place of the frame leads to: many may lead to the same. */
export function linkInput(slot: number, link: string, read: Run): Input {
  const from = new Reads();
  from.add(slotInput(slot));
  return { id: `link ${link} of ${slotId(slot)}`, few: true, read, from };
}
export const slotId = (slot: number): string => `slot ${slot}`;

let values = 0;
/** What something comes to, whatever it is worked out from. It must have a key, or nothing is kept by it. */
export const valueInput = ({ run, reads }: { run: Run; reads: Reads }): Input =>
  reads.inputs.size === 0 && !reads.fickle ? NOTHING : { id: `value ${values++}`, few: true, read: run, from: reads };
const NOTHING: Input = { id: 'nothing', few: true, read: () => null };

const DAY = 86_400_000;
export const runtimeOf = (f: Frame): Runtime => f[0] as unknown as Runtime;

/** Functions that read the world around a formula, and what of it decides their answer; those that come late add theirs. */
export const WORLD: Record<string, Input> = {
  today: { id: 'today', few: true, read: (f) => Math.floor(runtimeOf(f).now() / DAY) },
  // A figure over many records is not worked out more than once a second because time goes on.
  now: { id: 'now', few: true, read: (f) => Math.floor(runtimeOf(f).now() / 1000) },
  person: { id: 'person', few: true, read: (f) => runtimeOf(f).person?.() ?? null },
};

/**
 * The run of a part that goes through many records, kept while nothing has changed. `around` are the variables of the
 * loop it stands in, for which it is worked out anew when it reads them.
 */
export function kept(run: Run, reads: Reads, around: readonly string[]): Run {
  if (reads.fickle) return run;
  const inputs = [...reads.inputs.values()];
  if (inputs.every((i) => i.few)) return keptByKey(run, inputs);
  // In a loop, what reads nothing of its turn stays the same from turn to turn.
  return around.length && !around.some((id) => reads.mentions(id)) ? keptOnce(run, inputs) : run;
}

function keptByKey(run: Run, inputs: readonly Input[]): Run {
  let at: object | undefined;
  let values = new Map<string, Value>();
  return (f) => {
    const { stamp } = runtimeOf(f) ?? {};
    if (!stamp) return run(f);
    let key = '';
    for (const i of inputs) {
      const k = keyOf(i.read(f));
      if (k === undefined) return run(f);
      key += inputs.length > 1 ? `${k.length}:${k}` : k;
    }
    if (at !== stamp) {
      at = stamp;
      values = new Map();
    }
    const known = values.get(key);
    if (known !== undefined) return known;
    const value = run(f);
    if (at === stamp) values.set(key, value);
    return value;
  };
}

function keptOnce(run: Run, inputs: readonly Input[]): Run {
  let at: object | undefined;
  let was: Value[] = [];
  let value: Value = null;
  return (f) => {
    const { stamp } = runtimeOf(f) ?? {};
    if (!stamp) return run(f);
    if (at === stamp && inputs.every((i, n) => i.read(f) === was[n])) return value;
    // Kept only when it comes to an end.
    at = undefined;
    const now = inputs.map((i) => i.read(f));
    const made = run(f);
    [at, was, value] = [stamp, now, made];
    return made;
  };
}
