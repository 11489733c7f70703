import { isContext, type Value } from '../../../core/formula/values.ts';
import type { Row } from '../../../core/records/row.ts';

/** A record on a plan or map: how far across and down, as shares of its ground. */
export interface Mark {
  record: string;
  label: string;
  x: number;
  y: number;
}

/** A map's ground: how wide it is to its height, and how long a tenth or so of its width is. */
export interface Ground {
  ratio: number;
  /** A length to compare with, as a share of the width and in words; nothing on a plan. */
  scale: { share: number; said: string } | null;
}

/** Where a place is on the ground, as shares of its width and height; `ratio` is that of the ground. */
export type Projection = (latitude: number, longitude: number) => { x: number; y: number; ratio: number };

/** Room around the outermost marks, as a share of the ground. */
const EDGE = 0.1;
/** Metres of a degree of latitude (WGS 84, mean). */
const DEGREE = 111_320;
/** However near its marks are to each other, a map shows so many metres. */
const LEAST_METRES = 200;

/** Marks on a picture, where their places say. */
export function onPlan(rows: readonly Row[], place: (r: Row) => Value, label: (r: Row) => string): Mark[] {
  return rows.flatMap((r) => {
    const v = place(r);
    const { x, y } = isContext(v) ? v : {};
    return typeof x === 'number' && typeof y === 'number' ? [{ record: r.id, label: label(r), x, y }] : [];
  });
}

/**
 * Marks on a map that holds all of them: north is up, and lengths are true at its middle (equirectangular projection).
 * Places on both sides of the 180th meridian are taken as lying beside each other there.
 */
export function onMap(
  rows: readonly Row[],
  place: (r: Row) => Value,
  label: (r: Row) => string,
  /** Where the map is while there are no marks: longitudes and latitudes. */
  otherwise: readonly (readonly [number, number])[] = [],
): { marks: Mark[]; ground: Ground; project: Projection | null } {
  const placed = rows.flatMap((r) => {
    const v = place(r);
    const { latitude, longitude } = isContext(v) ? v : {};
    return typeof latitude === 'number' && typeof longitude === 'number' ? [{ r, latitude, longitude }] : [];
  });
  const shown = placed.length ? placed : otherwise.map(([longitude, latitude]) => ({ latitude, longitude }));
  if (shown.length === 0) return { marks: [], ground: { ratio: 1.5, scale: null }, project: null };
  const longitudes = shown.map((p) => p.longitude);
  const crosses = spread(longitudes) > spread(longitudes.map((l) => (l < 0 ? l + 360 : l)));
  const lons = crosses ? longitudes.map((l) => (l < 0 ? l + 360 : l)) : longitudes;
  const lats = shown.map((p) => p.latitude);
  const mid = { lat: (low(lats) + high(lats)) / 2, lon: (low(lons) + high(lons)) / 2 };
  const narrow = Math.max(0.01, Math.cos((mid.lat * Math.PI) / 180));
  // In metres from the middle.
  const east = (longitude: number): number => (longitude - mid.lon) * narrow * DEGREE;
  const north = (latitude: number): number => (latitude - mid.lat) * DEGREE;
  const across = Math.max(LEAST_METRES, spread(lons.map(east)));
  const down = Math.max(LEAST_METRES, spread(lats.map(north)));
  const ratio = Math.min(2, Math.max(0.75, across / down));
  const width = Math.max(across, down * ratio) / (1 - 2 * EDGE);
  const height = width / ratio;
  const metres = nice(width / 4);
  const project: Projection = (latitude, longitude) => ({
    x: 0.5 + east(crosses && longitude < 0 ? longitude + 360 : longitude) / width,
    y: 0.5 - north(latitude) / height,
    ratio,
  });
  return {
    project,
    marks: placed.map(({ r, latitude, longitude }) => {
      const { x, y } = project(latitude, longitude);
      return { record: r.id, label: label(r), x, y };
    }),
    ground: {
      ratio,
      scale: { share: metres / width, said: metres >= 1000 ? `${metres / 1000} km` : `${metres} m` },
    },
  };
}

const low = (n: readonly number[]): number => n.reduce((a, b) => Math.min(a, b), Infinity);
const high = (n: readonly number[]): number => n.reduce((a, b) => Math.max(a, b), -Infinity);
const spread = (n: readonly number[]): number => high(n) - low(n);

/** The nearest length at most this that people reckon in: 1, 2 or 5 of some power of ten. */
function nice(metres: number): number {
  const power = 10 ** Math.floor(Math.log10(metres));
  const [first] = [5, 2, 1].filter((n) => n * power <= metres);
  return (first ?? 1) * power;
}
