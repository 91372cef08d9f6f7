// Makes the map of the village of Hollowmere, which is made up and lies nowhere: lanes, a river with a bridge and a ferry, greens, burrows, in the open
// form OSM XML. Run it again with `node examples/make-hollowmere.mjs`; it writes the same file.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { here } from './made-up.mjs';

const SEED = 20310621;
/** Metres. */
const SIZE = { columns: 13, rows: 10, block: 110 };
const WIDTH = (SIZE.columns - 1) * SIZE.block;
/** The corner lies in the open sea, far from every coast. */
const CORNER = { longitude: -38, latitude: 41 };
const RIVER = { width: 58, rise: 45 };

let state = SEED;
function unit() {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return (state + 0.5) / 4294967296;
}
const around = (spread) => (unit() * 2 - 1) * spread;

const nodes = [];
const ways = [];
let next = 1;

function node(x, y, tags = {}) {
  const made = { id: next++, x, y, tags };
  nodes.push(made);
  return made;
}
function way(points, tags) {
  ways.push({ id: next++, points, tags });
}

/** The middle of the river at a place from west to east. */
const river = (x) => 4.35 * SIZE.block + RIVER.rise * Math.sin((x / WIDTH) * 2 * Math.PI - 0.6);
const isWet = (x, y) => Math.abs(y - river(x)) < RIVER.width / 2 + 8;

// Lanes: a net of blocks, each corner a little off its place; some are missing, some bend, none but the bridge crosses the river.
const BRIDGE = 5;
const MAIN = { column: BRIDGE, row: 7 };
const corners = Array.from({ length: SIZE.rows }, (_, row) =>
  Array.from({ length: SIZE.columns }, (_, column) => {
    let [x, y] = [column * SIZE.block + around(30), row * SIZE.block + around(30)];
    if (isWet(x, y)) y = river(x) + (y > river(x) ? 1 : -1) * (RIVER.width / 2 + 22);
    return node(x, y);
  }),
);
function lane(a, b, kind) {
  const isBridge = kind === 'secondary';
  const crosses = [0.25, 0.5, 0.75].some((t) => isWet(a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)));
  if (crosses && !isBridge) return;
  const bend = unit() < 0.35 ? [node((a.x + b.x) / 2 + around(14), (a.y + b.y) / 2 + around(14))] : [];
  const slow = kind === 'residential' && unit() < 0.2 ? { maxspeed: '20' } : {};
  way([a, ...(isBridge ? [] : bend), b], { highway: kind, ...slow });
}
for (let row = 0; row < SIZE.rows; row++)
  for (let column = 0; column < SIZE.columns; column++) {
    const isMain = { along: row === MAIN.row, up: column === MAIN.column };
    const kind = (main) => (main ? 'secondary' : unit() < 0.25 ? 'footway' : 'residential');
    if (column + 1 < SIZE.columns && (isMain.along || unit() < 0.82))
      lane(corners[row][column], corners[row][column + 1], kind(isMain.along));
    if (row + 1 < SIZE.rows && (isMain.up || unit() < 0.82))
      lane(corners[row][column], corners[row + 1][column], kind(isMain.up));
  }

// The ferry: piers in the river, each with a path to the nearest corner on both banks.
const PIERS = [
  ['Mill', 0.9],
  ['Reeds', 3.2],
  ['Bridge', 5.6],
  ['Elder', 8.2],
  ['Green', 10.6],
];
const piers = PIERS.map(([name, at]) => {
  const x = at * SIZE.block;
  const pier = node(x, river(x), { name, amenity: 'ferry_terminal' });
  for (const bank of [-1, 1]) {
    const near = corners
      .flat()
      .filter(({ y, x: cx }) => Math.sign(y - river(cx)) === bank)
      .sort((p, q) => Math.hypot(p.x - x, p.y - pier.y) - Math.hypot(q.x - x, q.y - pier.y))[0];
    way([pier, near], { highway: 'footway', bridge: 'yes' });
  }
  return pier;
});
for (let i = 0; i + 1 < piers.length; i++) {
  const [a, b] = [piers[i], piers[i + 1]];
  const bends = [1, 2, 3].map((k) => a.x + ((b.x - a.x) * k) / 4).map((x) => node(x, river(x)));
  way([a, ...bends, b], { route: 'ferry', name: 'Parade ferry' });
}

// Water, greens, burrows.
function area(places, tags) {
  const points = places.map(([x, y]) => node(x, y));
  way([...points, points[0]], tags);
}
const banks = (side) =>
  Array.from({ length: 33 }, (_, i) => {
    const x = -80 + (i / 32) * (WIDTH + 160);
    return [x, river(x) + (side * RIVER.width) / 2];
  });
area([...banks(1), ...banks(-1).reverse()], { natural: 'water', name: 'Mere water' });
const round = (x, y, rx, ry, corner = 18) =>
  Array.from({ length: corner }, (_, i) => {
    const angle = (i / corner) * 2 * Math.PI;
    const far = 1 + around(0.06);
    return [x + rx * far * Math.cos(angle), y + ry * far * Math.sin(angle)];
  });
area(round(10.3 * SIZE.block, 7.9 * SIZE.block, 170, 120), { leisure: 'park', name: 'Parade ground' });
area(round(2.2 * SIZE.block, 8.2 * SIZE.block, 95, 75), { landuse: 'orchard', name: 'Old orchard' });
area(
  [
    [0.4, 0.2],
    [6.6, 0.2],
    [6.9, 2.7],
    [0.3, 2.8],
  ].map(([column, row]) => [column * SIZE.block + around(20), row * SIZE.block + around(20)]),
  { landuse: 'residential', name: 'Burrows' },
);
// A path that hangs together with nothing else, as real files have them.
way([node(WIDTH + 40, -60), node(WIDTH + 90, -75)], { highway: 'footway' });

const degrees = ({ x, y }) => ({
  lon: (CORNER.longitude + x / (111_320 * Math.cos((CORNER.latitude * Math.PI) / 180))).toFixed(7),
  lat: (CORNER.latitude + y / 111_060).toFixed(7),
});
const tagLines = (tags) => Object.entries(tags).map(([k, v]) => `    <tag k="${k}" v="${v}"/>`);
const element = (open, name, inner) => (inner.length === 0 ? [`${open}/>`] : [`${open}>`, ...inner, `  </${name}>`]);
const lines = [
  '<?xml version="1.0" encoding="UTF-8"?>',
  '<!-- The village of Hollowmere is made up, and so is every lane of it; written by make-hollowmere.mjs. -->',
  '<osm version="0.6">',
  ...nodes.flatMap((each) => {
    const { lon, lat } = degrees(each);
    return element(`  <node id="${each.id}" lon="${lon}" lat="${lat}"`, 'node', tagLines(each.tags));
  }),
  ...ways.flatMap(({ id, points, tags }) =>
    element(`  <way id="${id}"`, 'way', [...points.map((p) => `    <nd ref="${p.id}"/>`), ...tagLines(tags)]),
  ),
  '</osm>',
];
writeFileSync(join(here, 'hollowmere.osm'), `${lines.join('\n')}\n`);
console.log(`hollowmere.osm: ${nodes.length} nodes, ${ways.length} ways.`);
