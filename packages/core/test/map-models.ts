/** Models on maps that stand in their text, for the tests that go over models of every construct. */

import { model } from './model-text.ts';

/** A feature of a map, on one line. */
function feature(type: string, coordinates: unknown, properties: object = {}): string {
  return `  ${JSON.stringify({ type: 'Feature', properties, geometry: { type, coordinates } })}`;
}

/** A `data` part with a map of streets at right angles, 4 by 4 of them, one of one way, some with a speed, with a pond, a green and two places. */
export const VILLAGE = [
  'data "village.geojson"',
  '  {"type": "FeatureCollection", "features": [',
  [
    ...[0, 60, 120, 180].map((x) =>
      feature(
        'LineString',
        [0, 60, 120, 180].map((y) => [x, y]),
        x === 60 ? { kind: 'lane', oneway: 'yes' } : { kind: 'lane' },
      ),
    ),
    ...[0, 60, 120, 180].map((y) =>
      feature(
        'LineString',
        [0, 60, 120, 180].map((x) => [x, y]),
        y === 120 ? { kind: 'road', maxspeed: 2 } : { kind: 'road' },
      ),
    ),
    feature(
      'LineString',
      [
        [180, 180],
        [240, 200],
        [240, 260],
      ],
      { kind: 'path' },
    ),
    feature(
      'LineString',
      [
        [400, 400],
        [420, 400],
      ],
      { kind: 'path' },
    ),
    feature('Point', [122, 58], { name: 'Mill' }),
    feature('Point', [240, 255], { name: 'Parade ground' }),
    feature(
      'Polygon',
      [
        [
          [10, 10],
          [50, 10],
          [50, 50],
          [10, 50],
          [10, 10],
        ],
      ],
      { natural: 'water', name: 'Pond' },
    ),
    feature(
      'Polygon',
      [
        [
          [90, 90],
          [150, 90],
          [150, 200],
          [90, 90],
        ],
      ],
      { kind: 'green' },
    ),
  ].join(',\n'),
  '  ]}',
].join('\n');

/** A map of one lane from west to east with eleven names so many metres apart, `m0` first, and a bend at 3.5 times that, as a space with its file. */
export function laneOf(apart: number): string {
  return [
    'data "lane.geojson"',
    '  {"type": "FeatureCollection", "features": [',
    [
      ...Array.from({ length: 11 }, (_, i) => feature('Point', [i * apart, 0], { name: `m${i * apart}` })),
      feature(
        'LineString',
        [
          [0, 0],
          [3.5 * apart, 0],
          [10 * apart, 0],
        ],
        { kind: 'lane' },
      ),
    ].join(',\n'),
    '  ]}',
    'space Lane: map from "lane.geojson", in metres',
  ].join('\n');
}

export const MAP_MODELS: readonly (readonly [string, string])[] = [
  model(
    'Ways and arrivals on a map',
    `
clock
  step 1 minute
  end after 25 steps
${VILLAGE}
space Village: map from "village.geojson", in metres
zone pond on Village
  area named "Pond"
zone green on Village
  areas of green
field smell on Village, cells of 20 m
  start 0
  fade 0.1
agent Vole
  start 30 anywhere
  start 5 in zone pond
  start 4 within 30 m of place named "Mill"
  has home = here
  has trips = 0
  has pace = uniform(30, 90)
  has way = 0
  has friend: Vole = nobody
  states day
    start 70 % Home, rest Out
    Home
      rate 0.4 per minute: Out
    Out
      on arrival when trips < 4: 60 % There, rest Back
      when trips >= 4: Home
    There
      after uniform(1, 3) minutes: Back
    Back
      on arrival: Home
        trips += 1
  states mood
    Calm
      on arrival chance 50 %: Glad
    Glad
      after 2 minutes: Calm
  behaviour walk
    if day is Out
      if trips < 2
        travel to place named "Mill" at pace * 1 m per minute
      else
        travel to somewhere in zone green at pace * 1 m per minute
    if day is Back
      travel to home at pace * 1 m per minute by the quickest way
      else
        move to home
  behaviour look
    way = way to place named "Parade ground" / 1 m
    if way < 400
      smell += 0.1
    with v = nearest Vole within 40 m
      friend = v
    if friend is not nobody and day is There
      move toward friend by 7 m
    turn by normal(0 deg, 20 deg)
  behaviour jump
    if chance(0.05)
      move to somewhere
    if chance(0.02)
      create 1 Vole here
        home = (300 m, 5 m)
    if chance(0.02)
      remove self
order
  walk in turn
  look all at once
  day all at once
  mood in turn
  jump in turn
  smell
measure out = count Vole where it.day is Out
measure trips = sum of it.trips over Vole
measure pond = count Vole in zone pond
measure near = count Vole within 50 m of place named "Mill"
measure way = mean of it.way over Vole
measure scent = mean of smell
show Vole: leaf
`,
  ),
  model(
    'A map beside a plane, all at once',
    `
clock
  step 0.5 h
  end after 25 steps
${VILLAGE}
space Yard: plane 4 km by 3 km, wrapping
space Village: map from "village.geojson", in metres, ways lane road, all parts
agent Hen on Yard
  start 10 anywhere
  behaviour run
    turn by uniform(-30 deg, 30 deg)
    move by 0.2 km
agent Vole on Village
  start 25 anywhere
  has goal = somewhere
  has lost = 0
  has late = 0 h
  states s
    On
      on arrival: Off
    Off
      on arrival: On
      chance 30 %: On
  behaviour go
    travel to goal at pick(0.1, 0.2, 0.4) * 1 km per h by the quickest way
    else
      lost += 1
    if here is not nowhere and time to goal at 0.3 km per h < 9 h
      late = time to goal at 0.3 km per h
  behaviour choose
    if s is Off
      goal = if chance(0.5) then somewhere else (0.1 km, 0.05 km)
      with v = random Vole where it.place is not nowhere
        travel to v at 0.2 km per h
        else
          move to v
  behaviour vanish
    if chance(0.03)
      move to nowhere
    if here is nowhere and chance(0.5)
      move to goal
order
  run all at once
  go all at once
  s all at once
  choose all at once
  vanish in turn
measure off = count Vole where it.s is Off
measure lost = sum of it.lost over Vole
measure late = (mean of it.late over Vole) / 1 h
measure x = mean of it.x over Vole where it.place is not nowhere
show Vole: leaf
show Hen: dot
`,
  ),
];
