import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newContext } from '../../../core/formula/values.ts';
import type { Row } from '../../../core/records/row.ts';
import { GeoJsonError, readGeoJson } from './geojson.ts';
import { landAt, pathsOf, positionsOf } from './land.ts';
import { onMap } from './marks.ts';

const addressOf = (text: string): string => `data:application/geo+json;base64,${Buffer.from(text).toString('base64')}`;
const feature = (type: string, coordinates: unknown): string =>
  JSON.stringify({ type: 'Feature', properties: null, geometry: { type, coordinates } });
const SQUARE = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 0],
];

describe('GeoJSON', () => {
  it('gives areas with their holes and lines, out of collections too; points are none', () => {
    const text = JSON.stringify({
      type: 'FeatureCollection',
      features: [
        { type: 'Feature', geometry: null, properties: {} },
        { type: 'Feature', properties: {}, geometry: { type: 'Polygon', coordinates: [SQUARE, SQUARE] } },
        {
          type: 'Feature',
          properties: {},
          geometry: {
            type: 'GeometryCollection',
            geometries: [
              { type: 'MultiPolygon', coordinates: [[SQUARE], [SQUARE]] },
              { type: 'MultiLineString', coordinates: [SQUARE, SQUARE] },
              {
                type: 'LineString',
                coordinates: [
                  [2, 3, 250],
                  [4, 5],
                ],
              },
              { type: 'MultiPoint', coordinates: [[9, 9]] },
            ],
          },
        },
      ],
    });
    const land = readGeoJson(`\uFEFF${text}`);
    expect(land.areas.map((a) => a.length)).toEqual([2, 1, 1]);
    expect(land.lines).toHaveLength(3);
    expect(land.lines[2]).toEqual([
      [2, 3],
      [4, 5],
    ]);
  });
  it.each([
    ['no JSON', 'nothing', 'This is no JSON'],
    ['other JSON', '{"a":1}', 'but no GeoJSON'],
    ['nothing to draw', feature('Point', [1, 2]), 'no line and no area'],
    [
      'another projection',
      feature('LineString', [
        [532_000, 181_000],
        [1, 2],
      ]),
      '532000, 181000 is no longitude and latitude',
    ],
    ['words for figures', feature('LineString', [['a', 'b']]), 'no longitude and latitude'],
    ['no list', feature('Polygon', 7), '“coordinates” are no list'],
    ['an unknown kind', feature('Circle', []), 'GeoJSON has no “Circle”'],
    ['a null in a list', JSON.stringify({ type: 'FeatureCollection', features: [null] }), 'but no GeoJSON'],
    ['too deep', `${'{"type":"GeometryCollection","geometries":['.repeat(40)}${']}'.repeat(40)}`, 'too deep'],
  ])('that cannot be drawn says why: %s', (_what, text, said) => {
    expect(() => readGeoJson(text)).toThrow(GeoJsonError);
    expect(() => readGeoJson(text)).toThrow(said);
  });
  it('never ends in another error, whatever it is given (property)', () => {
    fc.assert(
      fc.property(fc.oneof(fc.json(), fc.string()), (text) => {
        try {
          readGeoJson(text);
        } catch (e) {
          expect(e).toBeInstanceOf(GeoJsonError);
        }
      }),
    );
  });
});

describe('the drawn ground of a map', () => {
  const at = (r: Row): never =>
    newContext(
      Object.entries({ latitude: Number(r.id.split(',')[0]), longitude: Number(r.id.split(',')[1]) }),
    ) as never;
  const row = (lat: number, lon: number): Row => ({ id: `${lat},${lon}` }) as unknown as Row;
  it('has a line through marks exactly where the marks are (property)', () => {
    const near = fc.tuple(fc.double({ min: 53, max: 55, noNaN: true }), fc.double({ min: -3, max: -1, noNaN: true }));
    fc.assert(
      fc.property(fc.array(near, { minLength: 2, maxLength: 6 }), (places) => {
        const { marks, project } = onMap(
          places.map(([a, o]) => row(a, o)),
          at,
          () => '',
        );
        const land = { areas: [], lines: [places.map(([a, o]): [number, number] => [o, a])] };
        const path = pathsOf(land, project!).lines;
        const first = /^M(\S+) ([^L]+)/.exec(path)!;
        const { ratio } = project!(54, -2);
        expect(Number(first[1])).toBeCloseTo(marks[0]!.x * 1000, 0);
        expect(Number(first[2])).toBeCloseTo((marks[0]!.y * 1000) / ratio, 0);
      }),
    );
  });
  it('tells a map without marks where it is; what lies far off is not drawn', () => {
    const ring = (lon: number): [number, number][] => [
      [lon, 54.1],
      [lon + 0.02, 54.1],
      [lon + 0.02, 54.12],
      [lon, 54.1],
    ];
    const text = JSON.stringify({
      type: 'FeatureCollection',
      features: [
        { type: 'Feature', properties: {}, geometry: { type: 'Polygon', coordinates: [ring(-2.3), ring(-2.295)] } },
        { type: 'Feature', properties: {}, geometry: { type: 'LineString', coordinates: ring(-2.25) } },
      ],
    });
    const land = landAt(addressOf(text))!;
    const { project, marks } = onMap([], at, () => '', positionsOf(land));
    expect(marks).toEqual([]);
    const { areas, lines } = pathsOf(land, project!);
    expect([areas.match(/Z/g)!.length, lines.match(/M/g)!.length]).toEqual([2, 1]);
    const elsewhere = onMap([row(-30, 100)], at, () => '').project!;
    expect(pathsOf(land, elsewhere)).toEqual({ areas: '', lines: '' });
  });
  it('is none where its file is gone or spoilt', () => {
    for (const address of ['', 'data:image/png;base64,AAAA', addressOf('{'), 'https://example.test/x.json'])
      expect(landAt(address)).toBeNull();
  });
});
