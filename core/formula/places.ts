import type { Runtime } from './builtins/define.ts';
import { spend } from './budget.ts';
import { keyOf } from './keys.ts';
import { equal, type Value } from './values.ts';

/** A list shorter than this is gone through. */
const SHORT = 24;

let stamp: object | undefined;
let lists = new Map<readonly Value[], Map<string, number[]> | 'asked once' | 'odd'>();

/** Where a value stands in a list, from 0. A list that is asked again while nothing has changed is indexed. */
export function placesOf(list: readonly Value[], v: Value, runtime: Runtime): readonly number[] {
  const key = keyOf(v);
  const index = key === undefined ? null : indexOf(list, runtime);
  if (index) return index.get(key!) ?? [];
  spend(list.length * 4);
  return list.flatMap((x, i) => (equal(x, v) === true ? [i] : []));
}

function indexOf(list: readonly Value[], runtime: Runtime): Map<string, number[]> | null {
  if (list.length < SHORT || !runtime.stamp) return null;
  if (stamp !== runtime.stamp) {
    stamp = runtime.stamp;
    lists = new Map();
  }
  const known = lists.get(list);
  if (known instanceof Map) return known;
  if (known !== 'asked once') {
    if (!known) lists.set(list, 'asked once');
    return null;
  }
  const index = new Map<string, number[]>();
  spend(list.length);
  for (let i = 0; i < list.length; i++) {
    const key = keyOf(list[i]!);
    if (key === undefined) {
      lists.set(list, 'odd');
      return null;
    }
    const places = index.get(key);
    if (places) places.push(i);
    else index.set(key, [i]);
  }
  lists.set(list, index);
  return index;
}
