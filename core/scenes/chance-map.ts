import type { App } from '../app/schema.ts';
import { walkTaps, waysBetween } from '../app/ways-between.ts';
import type { AnyElement } from '../document/meaning.ts';
import { walkElements } from '../document/walk.ts';
import { ownerOf } from '../screens/part-places.ts';

/** What was done so far, by chance, and how often somebody was on a screen. */
export class ChanceMemory {
  constructor(
    private readonly did = new Map<string, number>(),
    private readonly visits = new Map<string, number>(),
  ) {}

  /** So often something was done, by what it is called. */
  often(of: string): number {
    return this.did.get(of) ?? 0;
  }
  visited(screen: string): number {
    return this.visits.get(screen) ?? 0;
  }
  /** Something was done; in a part, at its place too. */
  done(of: string): void {
    for (const each of new Set([of, ownerOf(of)])) this.did.set(each, this.often(each) + 1);
  }
  visit(screen: string): void {
    this.visits.set(screen, this.visited(screen) + 1);
  }
  copy(): ChanceMemory {
    return new ChanceMemory(new Map(this.did), new Map(this.visits));
  }
}

/** What can be done is looked for on a screen so many times; what is not seen by then may never be there. */
const LOOKS = 6;

export const tapping = (element: string): string => `tap ${element}`;
export const saving = (form: string): string => `save ${form}`;

/** Where what can be done stands in an app, so that chance finds its way to what was never done. */
export class ChanceMap {
  /** What can be done on each screen. */
  private readonly doings = new Map<string, string[]>();
  /** The screens from which one is reached by a tap. */
  private readonly before = new Map<string, Set<string>>();
  /** The screens that a tap leads to, by element. */
  private readonly ways = new Map<string, Set<string>>();

  constructor(app: App) {
    for (const { id, root } of app.screens) {
      const here = new Set<string>();
      // A form is saved as a whole, filled in.
      walkTaps(app, root, (tap, e) => void (tap.do !== 'nothing' && tap.do !== 'save' && here.add(tapping(e.id))));
      walkElements<AnyElement>([root], (e) => void (e.kind === 'form' && here.add(saving(e.id))));
      this.doings.set(id, [...here]);
    }
    for (const { from, to, element } of waysBetween(app)) {
      into(this.before, to, from);
      into(this.ways, element, to);
    }
  }

  /** The screens that a tap of an element leads to, that is in a part or not. */
  leadsTo(element: string): ReadonlySet<string> {
    return this.ways.get(ownerOf(element)) ?? new Set();
  }

  /**
   * How many taps something that was done so often at most is away from each screen; screens from which none is reached
   * are left out.
   */
  distances(memory: ChanceMemory, often: number): ReadonlyMap<string, number> {
    const far = new Map<string, number>();
    for (const [screen, all] of this.doings)
      if (memory.visited(screen) < LOOKS * (often + 1) && all.some((of) => memory.often(of) <= often))
        far.set(screen, 0);
    // A map keeps the order in which it is filled, so each is reached by its shortest way first.
    for (const [screen, distance] of far)
      for (const from of this.before.get(screen) ?? []) if (!far.has(from)) far.set(from, distance + 1);
    return far;
  }
}

function into(map: Map<string, Set<string>>, key: string, value: string): void {
  const known = map.get(key);
  if (known) known.add(value);
  else map.set(key, new Set([value]));
}
