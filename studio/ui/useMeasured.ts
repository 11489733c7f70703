import type { Dimensions, NodeChange } from '@xyflow/react';
import { useCallback, useState } from 'react';

/**
 * What a graph measured of its boxes. A graph that makes its boxes anew with each drawing gives each its size back
 * (`measured`): a box without one is hidden until it has been measured again.
 */
export function useMeasured(): { sizes: Record<string, Dimensions>; measure(changes: readonly NodeChange[]): void } {
  const [sizes, setSizes] = useState<Record<string, Dimensions>>({});
  const measure = useCallback((changes: readonly NodeChange[]): void => {
    const found = changes.flatMap((c) => (c.type === 'dimensions' && c.dimensions ? [[c.id, c.dimensions]] : []));
    if (found.length) setSizes((s) => ({ ...s, ...Object.fromEntries(found) }));
  }, []);
  return { sizes, measure };
}
