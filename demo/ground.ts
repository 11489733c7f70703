/** The invented ground that the apiaries lie on, as GeoJSON (RFC 7946): fells, two woods, a lake, a river and a road. */
export function meadowGround(): string {
  const feature = (name: string, type: string, coordinates: unknown): object => ({
    type: 'Feature',
    properties: { name },
    geometry: { type, coordinates },
  });
  return JSON.stringify({
    type: 'FeatureCollection',
    features: [
      feature('Upper wood', 'Polygon', [blot(-2.272, 54.165, 0.017, 0.012, 3)]),
      feature('Alder carr', 'Polygon', [blot(-2.238, 54.118, 0.014, 0.008, 5), blot(-2.238, 54.118, 0.005, 0.003, 2)]),
      feature('Heather fell', 'Polygon', [blot(-2.223, 54.178, 0.016, 0.011, 4)]),
      feature('River', 'LineString', bend(-2.32, 54.128, -2.19, 54.152, 0.006)),
      feature('Brook', 'LineString', bend(-2.265, 54.2, -2.252, 54.141, 0.003)),
      feature('Road', 'LineString', bend(-2.3, 54.09, -2.205, 54.2, 0.002)),
    ],
  });
}

/** A closed ring around a place, not quite round. */
function blot(lon: number, lat: number, wide: number, high: number, waves: number): number[][] {
  const ring = Array.from({ length: 48 }, (_, i) => {
    const turn = (i / 48) * 2 * Math.PI;
    const out = 1 + 0.16 * Math.sin(turn * waves) + 0.07 * Math.cos(turn * (waves + 2));
    return degrees(lon + wide * out * Math.cos(turn), lat + high * out * Math.sin(turn));
  });
  return [...ring, ring[0]!];
}

/** A line from one place to another, swinging to both sides. */
const bend = (lon: number, lat: number, toLon: number, toLat: number, swing: number): number[][] =>
  Array.from({ length: 40 }, (_, i) => {
    const at = i / 39;
    const side = swing * (Math.sin(at * 9) + 0.5 * Math.sin(at * 17 + 1));
    return degrees(lon + (toLon - lon) * at, lat + (toLat - lat) * at + side);
  });

const degrees = (lon: number, lat: number): number[] => [Number(lon.toFixed(5)), Number(lat.toFixed(5))];
