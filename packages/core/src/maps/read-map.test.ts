import { describe, expect, it } from 'vitest';
import type { LaneNetwork, LaneOptions } from './lane-network.ts';
import { laneNetwork, placeOfCoordinates } from './lane-network.ts';
import { Lanes } from './lanes.ts';
import type { MapFile } from './map-file.ts';
import { MapProblem } from './map-file.ts';
import { project } from './projection.ts';
import { mapAsGeoJson } from './geojson-text.ts';
import { fileMark } from './file-mark.ts';
import { fileFromBytes, mapToBytes, textToBytes } from './map-bytes.ts';
import { isMapName } from './map-name.ts';
import { modelFiles, readMap } from './read-map.ts';
import { speedOf } from './tags.ts';

const USUAL: LaneOptions = { allParts: false, inMetres: false, scale: 1 };

async function lanes(text: string, options: Partial<LaneOptions> = {}): Promise<LaneNetwork> {
  const found = laneNetwork(await readMap(text), { ...USUAL, ...options });
  if ('problem' in found) throw new Error(found.problem);
  return found;
}

async function problem(text: string): Promise<MapProblem> {
  return readMap(text).then(
    () => expect.unreachable('it was read'),
    (error: unknown) => error as MapProblem,
  );
}

const OSM = `<?xml version="1.0"?>
<osm version="0.6">
  <node id="1" lon="8.000" lat="47.000"/>
  <node id="2" lon="8.001" lat="47.000"><tag k="name" v="Mill &amp; pond"/><tag k="amenity" v="mill"/></node>
  <node id="3" lon="8.001" lat="47.001"/>
  <node id="4" lon="8.002" lat="47.001"/>
  <node id="7" lon="8.010" lat="47.010"/>
  <node id="8" lon="8.011" lat="47.010"/>
  <way id="10"><nd ref="1"/><nd ref="2"/><nd ref="3"/><tag k="highway" v="footway"/></way>
  <way id="11"><nd ref="3"/><nd ref="99"/><nd ref="4"/><nd ref="3"/><tag k="highway" v="primary"/><tag k="oneway" v="-1"/><tag k="maxspeed" v="20 mph"/></way>
  <way id="12"><nd ref="7"/><nd ref="8"/><tag k="highway" v="footway"/></way>
  <way id="13"><nd ref="1"/><nd ref="2"/><nd ref="3"/><nd ref="1"/><tag k="building" v="yes"/><tag k="name" v="Hall"/></way>
  <way id="14"><nd ref="1"/><nd ref="4"/><tag k="waterway" v="river"/></way>
  <way id="15" action="delete"><nd ref="1"/><nd ref="4"/><tag k="highway" v="footway"/></way>
</osm>`;

describe('a map from OSM XML', () => {
  it('has the pieces of its ways as lanes, areas and named places, and tells what was left out', async () => {
    const network = await lanes(OSM);
    expect(network.told).toMatchObject({
      lanes: 3,
      oneWay: 1,
      withSpeed: 1,
      kinds: [
        ['footway', 2],
        ['primary', 1],
      ],
      otherKinds: ['river'],
      leftOut: { parts: 1, lanes: 1 },
      missing: 1,
    });
    expect(network.areas.map(({ name, kind, outline }) => [name, kind, outline.length])).toEqual([
      ['Hall', 'building', 6],
    ]);
    expect(network.places.map(({ name, kind }) => [name, kind])).toEqual([['Mill & pond', 'mill']]);
    // A way against the order of its points begins where the file ends it.
    const primary = network.oneWay.indexOf(1);
    expect([network.x[network.from[primary]!]! < network.x[network.to[primary]!]!, network.speed[primary]]).toEqual([
      true,
      20 * 0.44704,
    ]);
  });

  it('keeps all parts, or kinds of ways, where the text says so', async () => {
    expect((await lanes(OSM, { allParts: true })).told.lanes).toBe(4);
    expect((await lanes(OSM, { ways: ['footway'] })).told).toMatchObject({
      lanes: 2,
      otherKinds: ['primary', 'river'],
    });
    expect((await lanes(OSM, { ways: ['river'] })).told.lanes).toBe(1);
    await expect(lanes(OSM, { ways: ['motorway'] })).rejects.toThrow(/no ways of the kind “motorway”/);
  });

  it('lies in the unit of the model from its lower left corner, a little room around it', async () => {
    const [metres, kilometres] = [await lanes(OSM), await lanes(OSM, { scale: 0.001 })];
    expect(Math.min(...metres.x)).toBeGreaterThan(0);
    expect(Math.max(...metres.x)).toBeLessThan(metres.width);
    expect(kilometres.width).toBeCloseTo(metres.width / 1000, 9);
    expect(kilometres.length[0]).toBeCloseTo(metres.length[0]! / 1000, 9);
    expect(kilometres.speed[2]).toBeCloseTo((20 * 0.44704) / 1000, 9);
    const [x, y] = placeOfCoordinates(metres, 8.001, 47);
    expect([x, y]).toEqual([metres.places[0]!.x, metres.places[0]!.y]);
  });

  it.each([
    ['', /empty/, 1],
    ['lon,lat\n1,2\n', /neither XML nor JSON/, 1],
    [OSM.slice(0, 700), /XML cannot be read/, OSM.slice(0, 700).split('\n').length],
    ['<html><body/></html>', /XML of “html”/, 1],
    ['<osm><node id="1" lon="x" lat="2"/></osm>', /no “lon” and “lat”/, 1],
    ['<osm>\n<node id="1" lon="1" lat="2"/>\n<node id="1" lon="1" lat="3"/></osm>', /stands twice/, 3],
    ['<osm><node id="1" lon="1" lat="2"/></osm>', /no ways/, undefined],
    [OSM.replaceAll('highway', 'hedge').replace('waterway', 'hedge'), /no ways/, undefined],
  ])('that is none is refused with its line: %#', async (text, says, line) => {
    const found = await problem(text);
    expect(found).toBeInstanceOf(MapProblem);
    expect([found.message, found.line]).toEqual([expect.stringMatching(says), line]);
    expect(found.hint).not.toBe('');
  });

  it('may have ways before their nodes, and the same node twice at one place', async () => {
    const [head, ...rest] = OSM.split('\n').slice(1);
    const nodes = rest.filter((line) => line.includes('<node'));
    const others = rest.filter((line) => !line.includes('<node') && !line.includes('</osm'));
    const turned = await lanes([head, ...others, ...nodes, ...nodes, '</osm>'].join('\n'));
    expect(turned.told.lanes).toBe(3);
  });
});

const line = (coordinates: readonly (readonly number[])[], properties: object = {}): object => ({
  type: 'Feature',
  properties,
  geometry: { type: 'LineString', coordinates },
});
const collection = (...features: object[]): string => JSON.stringify({ type: 'FeatureCollection', features });

describe('a map from GeoJSON', () => {
  it('joins lines where they share a point, whatever their kinds', async () => {
    const text = collection(
      line(
        [
          [0, 0],
          [100, 0],
          [200, 50],
        ],
        { kind: 'path' },
      ),
      line(
        [
          [100, 0],
          [100, 500],
        ],
        { highway: 'track', maxspeed: 18 },
      ),
      { type: 'Feature', properties: { name: 'Well' }, geometry: { type: 'Point', coordinates: [100, 10] } },
      {
        type: 'Feature',
        properties: { natural: 'water', name: 'Pond' },
        geometry: {
          type: 'Polygon',
          coordinates: [
            [
              [0, 0],
              [9, 0],
              [9, 9],
              [0, 0],
            ],
          ],
        },
      },
    );
    const network = await lanes(text);
    expect(network.told).toMatchObject({
      lanes: 3,
      withSpeed: 1,
      kinds: [
        ['path', 2],
        ['track', 1],
      ],
      leftOut: { lanes: 0 },
    });
    expect([network.x.length, network.speed[2]]).toEqual([4, 5]);
    expect([network.areas[0]!.kind, network.places[0]!.name, network.origin]).toEqual(['water', 'Well', undefined]);
  });

  it('takes a lane once that two lines go along, one-way only if both are', async () => {
    const ways = [
      line(
        [
          [0, 0],
          [300, 0],
        ],
        { oneway: 'yes' },
      ),
      line(
        [
          [300, 0],
          [0, 0],
        ],
        { oneway: 'yes' },
      ),
      line(
        [
          [300, 0],
          [300, 9],
        ],
        { oneway: true },
      ),
    ];
    const network = await lanes(
      collection(
        ...ways,
        line([
          [0, 0],
          [0, 0],
        ]),
      ),
    );
    expect([...network.oneWay]).toEqual([0, 1]);
  });

  it('in degrees is laid flat, unless it lies beyond all degrees or the text says it is in metres', async () => {
    const village = collection(
      line([
        [8, 47],
        [8.01, 47],
      ]),
    );
    expect((await lanes(village)).told.metres).toBeCloseTo(760.6, 0);
    expect((await lanes(village, { inMetres: true })).told.metres).toBeCloseTo(0.01, 6);
    await expect(
      lanes(
        collection(
          line([
            [0, 0],
            [60, 40],
          ]),
        ),
      ),
    ).rejects.toThrow(/60.0 by 40.0 degrees/);
    await expect(
      lanes(
        collection(
          line([
            [1, 88],
            [2, 88],
          ]),
        ),
      ),
    ).rejects.toThrow(/pole/);
    // Across the line where the date changes.
    expect(
      (
        await lanes(
          collection(
            line([
              [179.99, 10],
              [-179.99, 10],
            ]),
          ),
        )
      ).told.metres,
    ).toBeCloseTo(2192.7, 0);
  });

  it.each([
    ['{"type": "FeatureCollection",\n "features": [', /cut off/, 2],
    ['{"type": "Topology"}', /its type is "Topology"/, undefined],
    ['{"type": "FeatureCollection", "features": 3}', /features of a part are 3/, undefined],
    [collection(line([[0, 'x' as unknown as number]])), /coordinates \[0,"x"\]/, undefined],
    [collection(), /no ways/, undefined],
    [`${'{"type":"GeometryCollection","geometries":['.repeat(60)}${']}'.repeat(60)}`, /no GeoJSON/, undefined],
  ])('that is none is refused: %#', async (text, says, at) => {
    const found = await problem(text);
    expect([found.message, found.line]).toEqual([expect.stringMatching(says), at]);
  });
});

describe('degrees as metres', () => {
  it.each([
    // A degree along the meridian around 45 degrees, and one of longitude at 60: lengths on the ellipsoid WGS 84 from tables of it.
    [0, 44.5, 0, 45.5, 0, 111_131.8],
    [-0.5, 60, 0.5, 60, 55_800, 0],
    [-0.5, 0, 0.5, 0, 111_319.5, 0],
  ])('from %f, %f to %f, %f', (ax, ay, bx, by, x, y) => {
    const origin = { longitude: (ax + bx) / 2, latitude: (ay + by) / 2 };
    const [a, b] = [project(ax, ay, origin), project(bx, by, origin)];
    expect(Math.abs(b[0] - a[0] - x)).toBeLessThan(0.00002 * 111_000 + 3);
    expect(Math.abs(b[1] - a[1] - y)).toBeLessThan(0.2);
  });

  it('are less than a thousandth wrong 25 km aside', () => {
    const origin = { longitude: 0, latitude: 50 };
    const [near, far] = [project(0.35, 50.22, origin), project(0.351, 50.22, origin)];
    // The length of 0.001 degrees of longitude at this latitude, from the radius of its circle.
    const e2 = 0.00669437999014;
    const phi = (50.22 * Math.PI) / 180;
    const wanted = (0.001 * Math.PI * 6_378_137 * Math.cos(phi)) / (180 * Math.sqrt(1 - e2 * Math.sin(phi) ** 2));
    expect(Math.hypot(far[0] - near[0], far[1] - near[1]) / wanted).toBeCloseTo(1, 4);
  });
});

describe('words of maps', () => {
  it.each([
    ['30', 30 / 3.6],
    ['20 mph', 20 * 0.44704],
    ['walk', 5 / 3.6],
    ['none', undefined],
    ['0', undefined],
    ['-5', undefined],
    ['NaN', undefined],
    [undefined, undefined],
  ])('give the speed of %s', (text, speed) => expect(speedOf(text)).toBe(speed));

  it('tell a map by the end of its name', () => {
    expect(['a.osm', 'B.GeoJSON', 'c.json', 'osm', 'd.csv'].map(isMapName)).toEqual([true, true, false, false, false]);
  });
});

describe('a map that was read', () => {
  it.each([
    ['OSM', OSM],
    [
      'GeoJSON',
      collection(
        line(
          [
            [0, 0],
            [300, 0],
            [300, 9],
          ],
          { oneway: 'yes', speed: 7 },
        ),
        line([
          [0, 0],
          [0, 90],
        ]),
      ),
    ],
  ])('from %s gives the same lanes from its bytes, and from the GeoJSON that is written of it', async (_, text) => {
    const file = await readMap(text);
    for (const again of [fileFromBytes(mapToBytes(file)) as MapFile, await readMap(mapAsGeoJson(file))])
      for (const allParts of [true, false]) {
        const wanted = laneNetwork(file, { ...USUAL, allParts });
        // Points that the file does not hold are not written.
        const found = laneNetwork({ ...again, missing: file.missing }, { ...USUAL, allParts });
        expect(found).toEqual(wanted);
        expect('problem' in found).toBe(false);
        expect(fileMark(again)).toBe(fileMark(file));
      }
  });

  it('has a mark that any change of it moves', async () => {
    const changes: readonly [string, string][] = [
      ['8.001', '8.0010000001'],
      ['footway', 'path'],
      ['v="-1"', 'v="yes"'],
      ['20 mph', '21 mph'],
      ['Hall', 'Wall'],
      ['Mill &amp; pond', 'Mill'],
    ];
    const texts = [OSM, ...changes.map(([from, to]) => OSM.replace(from, to))];
    const marks = await Promise.all(texts.map(async (text) => fileMark(await readMap(text))));
    expect(new Set(marks).size).toBe(texts.length);
    expect(fileMark('a,b\n1,2\n')).not.toBe(fileMark('a,b\n1,3\n'));
    expect(fileMark(new MapProblem('cut', 'again'))).toMatch(/^[0-9a-f]{32}$/);
  });

  it('of damaged bytes says so', () => {
    expect(fileFromBytes(textToBytes('stop,leaves\nMühle,7:05\n'))).toBe('stop,leaves\nMühle,7:05\n');
    expect(() => fileFromBytes(new Uint8Array([1, 2, 3]))).toThrow(MapProblem);
  });

  it('is among the files of a model, or the reason why it cannot be read', async () => {
    const files = await modelFiles([
      ['a.osm', OSM],
      ['b.geojson', '{'],
      ['c.csv', 'x,y\n'],
    ]);
    expect(files.get('a.osm')).toMatchObject({ wayKinds: ['footway', 'primary', 'river'] });
    expect(files.get('b.geojson')).toBeInstanceOf(MapProblem);
    expect(files.get('c.csv')).toBe('x,y\n');
  });
});

describe('maps that are hardly any', () => {
  it('of one lane, or of lanes shorter than a millimetre, can be gone on', async () => {
    const tiny = Array.from({ length: 50 }, (_, i) => [i * 1e-9, 0]);
    for (const text of [
      collection(
        line([
          [0, 0],
          [1, 0],
        ]),
      ),
      collection(line([...tiny, [500, 0]])),
    ]) {
      const network = await lanes(text, { inMetres: true });
      expect(Math.min(...network.length)).toBeGreaterThanOrEqual(0.001);
      const ways = new Lanes(network);
      const last = network.x.length - 1;
      ways.travel(network.x[0]!, network.y[0]!, network.x[last]!, network.y[last]!, 1e6, 0, '', 0);
      expect(ways.left).toBe(0);
    }
  });

  it.each([1e300, 1e8])('and those that reach over %f metres are refused', async (far) => {
    await expect(
      lanes(
        collection(
          line([
            [0, 0],
            [far, 0],
          ]),
        ),
        { inMetres: true },
      ),
    ).rejects.toThrow(/reaches over .* metres/);
  });
});
