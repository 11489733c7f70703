/** Longitude and latitude in degrees (RFC 7946, 3.1.1). */
export type Position = readonly [longitude: number, latitude: number];

/** What a ground is drawn from: areas, each with its outline first and holes after it, and lines. */
export interface Land {
  areas: Position[][][];
  lines: Position[][];
}

/** Says in words why a text is no ground that can be drawn. */
export class GeoJsonError extends Error {
  override name = 'GeoJsonError';
}

/**
 * Reads the lines and areas of a GeoJSON text (RFC 7946). Points are left out: what stands somewhere is a record.
 * Throws a {@link GeoJsonError} where the text is another thing, or its positions are no degrees.
 */
export function readGeoJson(text: string): Land {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    throw new GeoJsonError('This is no JSON, so it cannot be GeoJSON.');
  }
  const land: Land = { areas: [], lines: [] };
  add(json, land, 0);
  if (land.areas.length + land.lines.length === 0) throw new GeoJsonError('There is no line and no area in it.');
  return land;
}

/** So deep may collections stand in one another. */
const MOST_DEEP = 10;

function add(value: unknown, land: Land, depth: number): void {
  const { type, coordinates, features, geometry, geometries } = fields(value);
  if (depth > MOST_DEEP) throw new GeoJsonError('Its collections stand in one another too deep.');
  switch (type) {
    case 'FeatureCollection':
      for (const f of list(features, 'features')) add(f, land, depth + 1);
      return;
    case 'Feature':
      if (geometry !== null) add(geometry, land, depth + 1);
      return;
    case 'GeometryCollection':
      for (const g of list(geometries, 'geometries')) add(g, land, depth + 1);
      return;
    case 'LineString':
      land.lines.push(line(coordinates));
      return;
    case 'MultiLineString':
      for (const l of list(coordinates, 'coordinates')) land.lines.push(line(l));
      return;
    case 'Polygon':
      land.areas.push(list(coordinates, 'coordinates').map(line));
      return;
    case 'MultiPolygon':
      for (const p of list(coordinates, 'coordinates')) land.areas.push(list(p, 'coordinates').map(line));
      return;
    case 'Point':
    case 'MultiPoint':
      return;
    default:
      throw new GeoJsonError(
        typeof type === 'string' ? `GeoJSON has no “${type.slice(0, 40)}”.` : 'This is JSON, but no GeoJSON.',
      );
  }
}

const fields = (value: unknown): Record<string, unknown> =>
  typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : {};
function list(value: unknown, what: string): unknown[] {
  if (Array.isArray(value)) return value;
  throw new GeoJsonError(`Its “${what}” are no list.`);
}
const line = (value: unknown): Position[] => list(value, 'coordinates').map(position);
function position(value: unknown): Position {
  const [longitude, latitude] = list(value, 'coordinates') as unknown[];
  if (typeof longitude !== 'number' || typeof latitude !== 'number')
    throw new GeoJsonError('A position in it has no longitude and latitude.');
  // GeoJSON knows degrees of WGS 84 only; other figures come from a map in another projection.
  if (Math.abs(longitude) > 360 || Math.abs(latitude) > 90)
    throw new GeoJsonError(
      `${longitude}, ${latitude} is no longitude and latitude in degrees. Save it as GeoJSON in WGS 84.`,
    );
  return [longitude, latitude];
}
