import { describe, expect, it } from 'vitest';
import { applyEdits } from '../src/diagnostics.ts';
import { formatModel, ModelError } from '../src/index.ts';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, failureOf, interpretedRun, planOf, rowsInBoth } from './models.ts';
import { laneOf, VILLAGE } from './map-models.ts';

/** What travelling means, on a lane of 100 m that can be followed by hand, and what is said of maps that are wrong. */

const CLOCK = 'clock\n  step 1 minute\n  end after 40 steps\n';

/** One lane from west to east, with names every 10 m: `m0` to `m100`. */
const LANE = laneOf(10);

const rowsOf = (parts: string, steps: number): number[][] =>
  rowsInBoth(`model Case\n${CLOCK}${LANE}\n${parts}\n`, steps);

function codeOf(act: () => void): string | undefined {
  try {
    act();
    return undefined;
  } catch (error) {
    return error instanceof ModelError ? error.diagnostic.code : String(error);
  }
}

const rounded = (rows: readonly (readonly number[])[]): number[][] =>
  rows.map((row) => row.map((value) => Math.round(value * 1e6) / 1e6));

/** The place along the lane: the map has 3 m of room around it. */
const ALONG = 'measure along = (mean of it.x over Vole) / 1 m - 3';

describe('travelling', () => {
  it('goes a step’s share of the way at a time and ends at the place', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m0"\n  behaviour go\n    travel to place named "m50" at 20 m per minute\norder\n  go in turn\n${ALONG}`,
      5,
    );
    expect(rounded(rows)).toEqual([[0, 20, 40, 50, 50, 50]]);
  });

  it('is heard of once, in the step of the arrival, and what is left of its time is not lost', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m0"\n  has met = 0\n  states s\n    Out\n      on arrival: Back\n        met += 1\n    Back\n      on arrival: Home\n        met += 1\n    Home\n      on arrival: Home\n        met += 100\n  behaviour go\n    if s is Out\n      travel to place named "m50" at 20 m per minute\n    else\n      travel to place named "m0" at 20 m per minute\norder\n  go in turn\n  s in turn\n${ALONG}\nmeasure met = sum of it.met over Vole`,
      9,
    );
    // Half of the third step is left over at 50 m: the way back takes 1.5 shares in the next.
    // At home a state that is entered hears that it is there already, once; it goes on to itself, and then no more.
    expect(rounded(rows)).toEqual([
      [0, 20, 40, 50, 20, 0, 0, 0, 0, 0],
      [0, 0, 0, 1, 1, 2, 102, 102, 102, 102],
    ]);
  });

  it('is asked for along the lanes, and ahead, where others are', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m0", facing 90 deg\n  start 1 at place named "m20", facing 90 deg\n  start 1 at place named "m50", facing 270 deg\n  has near = 0\n  has before = 0\n  behaviour look\n    near = count Vole within 25 m along the lanes\n    before = count Vole ahead within 40 m along the lanes\norder\n  look in turn\nmeasure near = sum of (it.near * 10 ^ it.number) over Vole\nmeasure before = sum of (it.before * 10 ^ it.number) over Vole`,
      1,
    );
    // Numbers 1 to 3 stand at 0, 20 and 50 m: the first and second see one another; ahead of the first and of the third is the second, ahead of the second the third.
    expect(rows).toEqual([
      [0, 110],
      [0, 1110],
    ]);
  });

  it('twice in one step takes the time of one', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m0"\n  behaviour go\n    travel to place named "m10" at 20 m per minute\n    travel to place named "m100" at 20 m per minute\n    travel to place named "m100" at 20 m per minute\norder\n  go in turn\n${ALONG}`,
      1,
    );
    expect(rounded(rows)).toEqual([[0, 20]]);
  });

  it('to where one is arrives at once for a state that is entered, and wakes nobody again', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m30"\n  has woken = 0\n  states s\n    A\n      on arrival: B\n        woken += 1\n    B\n      on arrival: C\n        woken += 1\n    C\n      when woken < 0: A\n  behaviour go\n    travel to place named "m30" at 5 m per minute\norder\n  go in turn\n  s in turn\nmeasure woken = sum of it.woken over Vole`,
      4,
    );
    expect(rows).toEqual([[0, 1, 2, 2, 2]]);
  });

  it('with a chance is drawn once at an arrival, not anew in each step', () => {
    const rows = rowsOf(
      `agent Vole\n  start 2000 at place named "m0"\n  states s\n    A\n      on arrival chance 30 %: B\n    B\n      when 1 > 2: A\n  behaviour go\n    travel to place named "m10" at 20 m per minute\norder\n  go in turn\n  s in turn\nmeasure b = share of Vole where it.s is B`,
      6,
    );
    expect(rows[0]![1]).toBeGreaterThan(0.26);
    expect(rows[0]![1]).toBeLessThan(0.34);
    expect(new Set(rows[0]!.slice(1)).size).toBe(1);
  });

  it('tells the way and its time before going', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m10"\n  has way = 0\n  has time = 0\n  behaviour go\n    way = way to place named "m90" / 1 m\n    time = time to place named "m90" at 40 m per minute / 1 minute\norder\n  go in turn\nmeasure way = sum of it.way over Vole\nmeasure time = sum of it.time over Vole`,
      1,
    );
    expect(rounded(rows)).toEqual([
      [0, 80],
      [0, 2],
    ]);
  });

  it('of those who are put elsewhere goes on from there', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at place named "m0"\n  behaviour go\n    travel to place named "m100" at 10 m per minute\n    if now is 2 minutes\n      move to place named "m80"\norder\n  go in turn\n${ALONG}`,
      5,
    );
    expect(rounded(rows)).toEqual([[0, 10, 20, 80, 90, 100]]);
  });

  it('stops the run where no way leads there, unless the text says what to do', () => {
    const oneWay = LANE.replace('{"kind":"lane"}', '{"kind":"lane","oneway":"yes"}');
    const text = (more: string): string =>
      `model Case\n${CLOCK}${oneWay}\nagent Vole\n  start 1 at place named "m50"\n  has lost = 0\n  behaviour go\n    travel to place named "m10" at 10 m per minute\n${more}order\n  go in turn\nmeasure lost = sum of it.lost over Vole\n`;
    for (const make of [compiledRun, interpretedRun]) {
      const { run } = make(planOf(text('')));
      expect(codeOf(() => run.next())).toBe('run/no-way');
      expect(failureOf(() => make(planOf(text(''))).run.next())).toMatch(
        /step 1, Vole\.go: no way leads Vole 1 to where it is to travel/,
      );
      const other = make(planOf(text('    else\n      lost += 1\n'))).run;
      other.runTo(3);
      expect(other.valueAt(3, 0)).toBe(3);
    }
  });
});

describe('places of a map', () => {
  it('are on its lanes: those given beside it are brought to the nearest', () => {
    const rows = rowsOf(
      `agent Vole\n  start 1 at (3 m + 40 m, 5 m)\n  behaviour go\n    move to (3 m + 60 m, 0 m)\norder\n  go in turn\n${ALONG}\nmeasure up = (mean of it.y over Vole) / 1 m`,
      1,
    );
    expect(rounded(rows)).toEqual([
      [40, 60],
      [3, 3],
    ]);
  });

  it('anywhere are even along the lanes', () => {
    const rows = rowsOf(
      `agent Vole\n  start 4000 anywhere\nmeasure left = share of Vole where it.x < 38 m\nmeasure middle = (mean of it.x over Vole) / 1 m - 3`,
      0,
    );
    expect(Math.abs(rows[0]![0]! - 0.35)).toBeLessThan(0.03);
    expect(Math.abs(rows[1]![0]! - 50)).toBeLessThan(2);
  });

  it('of a model in the usual layout stay as they are', () => {
    const text = `model Case\n\nclock\n  step 1 minute\n  end after 40 steps\n\nspace Lane: map from "lane.geojson", ways lane path, all parts, in metres, cells of 2 m\n`;
    expect(formatModel(text)).toBe(text);
  });
});

interface Wrong {
  readonly name: string;
  readonly text: string;
  readonly code: string;
  readonly piece: string;
  readonly says: RegExp;
  readonly mends?: boolean;
}

const body = (lines: string, space = `${VILLAGE}\nspace Village: map from "village.geojson", in metres`): string =>
  `model Wrong\n${CLOCK}${space}\nagent Vole\n  start 3 anywhere\n  behaviour go\n    ${lines}\norder\n  go in turn\nmeasure voles = count Vole\nshow Vole: leaf\n`;
const PLANE = 'space Meadow: plane 50 m by 50 m';

const WRONG: readonly Wrong[] = [
  {
    name: 'a journey on a plane',
    text: body('travel to (1 m, 1 m) at 2 m per minute', PLANE),
    code: 'type/expected',
    piece: 'travel to (1 m, 1 m) at 2 m per minute',
    says: /“travel” needs a map, and this is a plane/,
  },
  {
    name: 'who is near along lanes on a plane',
    text: body('let n = count Vole ahead within 3 m along the lanes', PLANE),
    code: 'type/expected',
    piece: 'ahead within 3 m along the lanes',
    says: /“along the lanes” needs a map/,
  },
  {
    name: 'ahead, and not along the lanes',
    text: body('let n = count Vole ahead within 3 m'),
    code: 'syntax/missing',
    piece: 'm',
    says: /“along” is missing/,
  },
  {
    name: 'a way on a plane',
    text: body('let w = way to (1 m, 1 m)', PLANE),
    code: 'type/expected',
    piece: 'way to (1 m, 1 m)',
    says: /“way to” needs a map/,
  },
  {
    name: 'going straight on a map',
    text: body('move by 2 m'),
    code: 'type/expected',
    piece: 'move by 2 m',
    says: /“move by” has no meaning on a map.*travel to P/,
  },
  {
    name: 'a speed without a time',
    text: body('travel to somewhere at 3 m'),
    code: 'type/expected',
    piece: '3 m',
    says: /A speed is expected here, but this is a length/,
  },
  {
    name: 'a speed without units',
    text: body('travel to somewhere at 3'),
    code: 'type/expected',
    piece: '3',
    says: /such as “3 m per h”/,
  },
  {
    name: 'a journey without a speed',
    text: body('travel to somewhere'),
    code: 'syntax/missing',
    piece: 'e',
    says: /“at” is missing/,
  },
  {
    name: 'a place that the map does not have',
    text: body('move to place named "Mil"'),
    code: 'name/of-map',
    piece: '"Mil"',
    says: /no place “Mil”\. It has: “Mill”, “Parade ground”/,
    mends: true,
  },
  {
    name: 'an area that the map does not have',
    text: body('move to somewhere in zone z').replace(
      'agent Vole',
      'zone z on Village\n  area named "Lake"\nagent Vole',
    ),
    code: 'name/of-map',
    piece: '"Lake"',
    says: /no area “Lake”\. It has: “Pond”/,
  },
  {
    name: 'a kind of areas that the map does not have',
    text: body('move to somewhere in zone z').replace('agent Vole', 'zone z on Village\n  areas of greens\nagent Vole'),
    code: 'name/of-map',
    piece: 'greens',
    says: /no kind of areas “greens”\. It has: “water”, “green”/,
    mends: true,
  },
  {
    name: 'a map that is not there',
    text: body('move to somewhere', 'space Village: map from "village.osm"'),
    code: 'file/missing',
    piece: '"village.osm"',
    says: /map “village.osm” is not there.*Drop the file on the page/,
  },
  {
    name: 'a map that is cut off',
    text: body('move to somewhere').replace('  ]}\n', ''),
    code: 'file/content',
    piece: '"village.geojson"',
    says: /cut off: it cannot be read from line/,
  },
  {
    name: 'XML in the text',
    text: body('move to somewhere', 'data "v.osm"\n  <osm></osm>\nspace Village: map from "v.osm"'),
    code: 'file/content',
    piece: '"v.osm"',
    says: /OSM file cannot stand in the text/,
  },
  {
    name: 'ways that the map does not have',
    text: body('move to somewhere', `${VILLAGE}\nspace Village: map from "village.geojson", in metres, ways motorway`),
    code: 'file/content',
    piece: '"village.geojson"',
    says: /no ways of the kind “motorway”\. It has: lane, road, path/,
  },
  {
    name: 'an obstacle',
    text: body('move to somewhere').replace(
      'agent Vole',
      'obstacle Fence on Village\n  line (9 m, 9 m) to (50 m, 50 m)\nagent Vole',
    ),
    code: 'type/expected',
    piece: 'Fence',
    says: /An obstacle has no meaning on a map.*kinds of ways/,
  },
  {
    name: 'an arrival on a plane',
    text: `model Wrong\n${CLOCK}${PLANE}\nagent Vole\n  start 3 anywhere\n  states s\n    A\n      on arrival: B\n    B\n      after 3 minutes: A\nmeasure a = count Vole where it.s is A\nshow Vole: leaf\n`,
    code: 'type/expected',
    piece: 'on arrival: B',
    says: /“on arrival” needs a map/,
  },
];

describe('mistakes with maps', () => {
  it.each(WRONG.map((wrong) => [wrong.name, wrong] as const))('%s', (_, { text, code, piece, says, mends }) => {
    const errors = checkModel(text).diagnostics.filter((d) => d.severity === 'error');
    expect(errors.map((d) => d.code)).toEqual([code]);
    const found = errors[0]!;
    expect([text.slice(found.span.start, found.span.end), `${found.message} ${found.hint ?? ''}`]).toEqual([
      piece,
      expect.stringMatching(says),
    ]);
    if (mends)
      expect(
        checkModel(applyEdits(text, found.fixes![0]!.edits)).diagnostics.filter((d) => d.severity === 'error'),
      ).toEqual([]);
  });
});

describe('a table on a map', () => {
  const degrees = [
    'data "lanes.geojson"',
    '  {"type":"Feature","properties":{},"geometry":{"type":"LineString","coordinates":[[8.0,47.0],[8.002,47.0]]}}',
  ];
  const text = (table: string): string =>
    `model Case\n${CLOCK}${degrees.join('\n')}\ndata "voles.csv"\n${table
      .split('\n')
      .map((line) => `  ${line}`)
      .join(
        '\n',
      )}\nspace Lane: map from "lanes.geojson"\nagent Vole\n  start from "voles.csv"\nmeasure x = (mean of it.x over Vole) / 1 m\nshow Vole: leaf\n`;

  it('places by degrees of longitude and latitude', () => {
    const plan = planOf(text('lon,lat\n8.0005,47.0\n8.0015,47.0'));
    const { lanes } = plan.spaces[0]!;
    const { run } = compiledRun(plan);
    // A degree of longitude at latitude 47 is 76,056 m long; the middle of both is that of the map.
    expect(lanes!.told.metres).toBeCloseTo(0.002 * 76_056, 0);
    expect(run.valueAt(0, 0)).toBeCloseTo(lanes!.width / 2, 6);
  });

  it('says which place lies farthest from all lanes, if it lies far', () => {
    const { diagnostics } = checkModel(text('lon,lat\n8.0005,47.0\n8.001,47.001\n8.001,47.0002'));
    expect(diagnostics.map((d) => [d.code, d.message])).toEqual([
      ['doubt/far-from-lanes', expect.stringMatching(/“voles\.csv”, line 3: this place lies 111 m/)],
    ]);
    expect(checkModel(text('lon,lat\n8.0005,47.0001')).diagnostics).toEqual([]);
  });
});
