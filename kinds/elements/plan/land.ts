import { fromBase64 } from '../../../core/document/base64.ts';
import { readGeoJson, type Land, type Position } from './geojson.ts';
import type { Projection } from './marks.ts';

/** Points nearer to each other than this share of the width are drawn as one. */
const NEAR = 1 / 1500;
/** What lies farther outside than this, as a share of the ground, is not drawn. */
const OUTSIDE = 0.5;

/** The ground that a `data:` address holds as GeoJSON; null where there is none that can be read. */
export function landAt(address: string): Land | null {
  try {
    const base64 = /^data:[^,]*;base64,(.*)$/s.exec(address)?.[1];
    return base64 ? readGeoJson(new TextDecoder().decode(fromBase64(base64))) : null;
  } catch {
    return null; // it was looked at when it was brought; what is spoilt since is no ground
  }
}

/** All positions of a ground, for a map that has no marks to say where it is. */
export const positionsOf = (land: Land): Position[] => [...land.areas.flat(), ...land.lines].flat();

/** Areas and lines as paths of SVG, in thousandths of the width; only what is near the ground is drawn. */
export function pathsOf(land: Land, to: Projection): { areas: string; lines: string } {
  const draw = (positions: readonly Position[], close: string): string => {
    const points = positions.map(([lon, lat]) => to(lat, lon));
    if (!isNear(points)) return '';
    let path = '';
    let before: { x: number; y: number } | null = null;
    points.forEach((p, i) => {
      const isEnd = i === points.length - 1;
      if (before && !isEnd && Math.hypot(p.x - before.x, (p.y - before.y) / p.ratio) < NEAR) return;
      path += `${before ? 'L' : 'M'}${round(p.x * 1000)} ${round((p.y * 1000) / p.ratio)}`;
      before = p;
    });
    return path && path + close;
  };
  return {
    areas: land.areas.map((rings) => rings.map((r) => draw(r, 'Z')).join('')).join(''),
    lines: land.lines.map((l) => draw(l, '')).join(''),
  };
}

const round = (n: number): number => Math.round(n * 10) / 10;

/** Does the box around some points touch the ground or its surroundings? */
function isNear(points: readonly { x: number; y: number }[]): boolean {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const { x, y } of points) {
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return right > -OUTSIDE && left < 1 + OUTSIDE && bottom > -OUTSIDE && top < 1 + OUTSIDE;
}
