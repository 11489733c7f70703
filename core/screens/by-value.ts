import type { AnyElement, Property } from '../document/meaning.ts';
import type { Value } from '../formula/values.ts';
import type { AnyElementDefinition, Drawing, Place } from './element.ts';

/** The width and height of any element, in pixels. */
const LENGTH = { is: 'number', said: '', least: 1, most: 2000 } as const;

/** So many different looks of one element are kept ready. */
const MOST_LOOKS = 60;

/** A value as a property takes it; undefined where it takes no such value, and what is fixed stays. */
export function fitted(p: Property, v: Value): unknown {
  switch (p.is) {
    case 'oneOf': {
      if (typeof v !== 'string') return undefined;
      const low = v.trim().toLowerCase();
      return (p.values ?? []).find((x) => String(x).toLowerCase() === low || p.labels?.[x]?.toLowerCase() === low);
    }
    case 'number': {
      if (typeof v !== 'number' || !Number.isFinite(v)) return undefined;
      const within = Math.min(Math.max(v, p.least ?? -Infinity), p.most ?? Infinity);
      return p.whole ? Math.round(within) : within;
    }
    case 'yesNo':
      return typeof v === 'boolean' ? v : undefined;
    case 'icon':
      return typeof v === 'string' ? v.trim().toLowerCase().replace(/\s+/g, '-').slice(0, 40) : undefined;
    case 'text':
      return typeof v === 'string' ? v.slice(0, p.most) : undefined;
    default:
      return undefined;
  }
}

/**
 * The drawing of an element some of whose properties are worked out by formulas: for each look that comes of them the
 * element is drawn as if it had been made so. `quiet` compiles without taking down again what is read.
 */
export function drawnBy(
  e: AnyElement,
  definition: AnyElementDefinition,
  d: Drawing,
  quiet: Drawing,
): (p: Place) => object {
  const worked = Object.entries(e.worked ?? {}).flatMap(([name, formula]) => {
    const p = name === 'width' || name === 'height' ? LENGTH : definition.properties[name];
    return p ? [{ name, p, value: d.formula(formula) }] : [];
  });
  const fixed = definition.draw(e, d);
  const looks = new Map<string, (p: Place) => object>();
  return (place) => {
    const now: Record<string, unknown> = {};
    for (const w of worked) {
      const value = fitted(w.p, w.value.at(place));
      if (value !== undefined) now[w.name] = value;
    }
    const key = JSON.stringify(now);
    if (key === '{}') return fixed(place);
    let draw = looks.get(key);
    if (!draw) {
      if (looks.size >= MOST_LOOKS) looks.clear();
      looks.set(key, (draw = definition.draw({ ...e, ...now }, quiet)));
    }
    const { width, height } = now;
    const size = { ...(width !== undefined && { width }), ...(height !== undefined && { height }) };
    return { ...draw(place), worked: size };
  };
}
