import { compilePlan, loadModel, readMap, Run } from '../src/index.ts';

/**
 * Times maps: reading one of 200,000 lanes, and travellers on one of 20,000 nodes, once ways are looked for and once they are known. `npm run bench -- maps`;
 * `own` gives all 50,000 a place of their own to go to, which takes minutes at first.
 */

const SPACING = 40;

/** Streets at right angles, a little crooked, one in eleven missing, as a GeoJSON text; made up. */
function streets(side: number): string {
  let state = 7;
  const drawn = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
  const at = Array.from({ length: side * side }, (_, i) => [
    Math.round(((i % side) + 0.4 * drawn()) * SPACING * 10) / 10,
    Math.round((Math.floor(i / side) + 0.4 * drawn()) * SPACING * 10) / 10,
  ]);
  const features: string[] = [];
  const add = (a: number, b: number, kind: string): void => {
    if (drawn() < 1 / 11) return;
    features.push(
      `{"type":"Feature","properties":{"kind":"${kind}"},"geometry":{"type":"LineString","coordinates":${JSON.stringify([at[a], at[b]])}}}`,
    );
  };
  for (let i = 0; i < at.length; i++) {
    if ((i + 1) % side !== 0) add(i, i + 1, Math.floor(i / side) % 8 === 0 ? 'road' : 'lane');
    if (i + side < at.length) add(i, i + side, (i % side) % 8 === 0 ? 'road' : 'lane');
  }
  return `{"type":"FeatureCollection","features":[\n${features.join(',\n')}\n]}`;
}

function village(agents: number, goal: string, seconds: number, acts = ''): string {
  return `model Village
clock
  step ${seconds} s
  end after 400 steps
space Village: map from "streets.geojson", in metres
agent Vole
  start ${agents} anywhere
  has goal = ${goal}
  has trips = 0
  has near = 0
  behaviour go
    travel to goal at 80 m per minute
${acts}order
  go all at once
measure trips = sum of it.trips over Vole
`;
}

interface Timed {
  readonly first: number;
  readonly step: number;
  readonly slowest: number;
}

/** The first step of a run, and the median of those that follow. */
async function timed(text: string, map: string, steps: number): Promise<Timed> {
  const { loaded, diagnostics } = loadModel(text, new Map([['streets.geojson', await readMap(map)]]));
  if (!loaded) throw new Error(diagnostics.map(({ message }) => message).join('\n'));
  const executable = compilePlan(loaded.plan).executable();
  const run = new Run(executable, [], 1);
  const times: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const start = performance.now();
    run.runTo(run.step + 1);
    times.push(performance.now() - start);
  }
  const [first, ...rest] = times as [number, ...number[]];
  rest.sort((a, b) => a - b);
  return { first, step: rest[Math.floor(rest.length / 2)]!, slowest: rest.at(-1)! };
}

const ms = (time: number): string => `${time.toFixed(time < 10 ? 1 : 0)} ms`;

async function reading(): Promise<void> {
  const text = streets(331);
  const start = performance.now();
  const map = await readMap(text);
  const read = performance.now();
  const { loaded } = loadModel(village(10, 'somewhere', 60), new Map([['streets.geojson', map]]));
  const checked = performance.now();
  const run = new Run(compilePlan(loaded!.plan).executable(), [], 1);
  run.runTo(1);
  const ran = performance.now();
  const { lanes } = loaded!.plan.spaces[0]!;
  console.log(
    `${lanes!.from.length.toLocaleString('en-GB')} lanes, ${(text.length / 1e6).toFixed(0)} MB: file read in ${ms(read - start)}, checked with lanes and zones in ${ms(checked - read)}, start and first step in ${ms(ran - checked)}; ${ms(ran - start)} in all`,
  );
}

interface Journeys {
  readonly agents: number;
  readonly what: string;
  readonly goal: string;
  /** Of a step. */
  readonly seconds: number;
  readonly acts?: string;
}

async function travelling({ agents, what, goal, seconds, acts }: Journeys): Promise<void> {
  const { first, step, slowest } = await timed(village(agents, goal, seconds, acts), TWENTY_THOUSAND, 20);
  console.log(
    `${agents.toLocaleString('en-GB').padStart(7)} ${what}, steps of ${seconds} s: first step ${ms(first)}, then ${ms(step)} a step (slowest ${ms(slowest)}), ${(1000 / step).toFixed(0)} a second`,
  );
}

const TWENTY_THOUSAND = streets(142);
/** One of so many places, spread over the map. */
const oneOf = (places: number): string =>
  `(whole(0, ${places - 1}) * ${((140 * SPACING) / places).toFixed(3)} m, ${70 * SPACING} m)`;
const SHARED = { agents: 50_000, what: 'to one of 200 places', goal: oneOf(200) };
const OWN = { what: 'each to a place of its own', goal: 'somewhere' };

await reading();
for (const seconds of [60, 10, 2]) await travelling({ ...SHARED, seconds });
await travelling({
  ...SHARED,
  what: 'to one of 200, counting who is ahead',
  seconds: 10,
  acts: '    near = count Vole ahead within 30 m along the lanes\n',
});
await travelling({ ...OWN, agents: 2_000, seconds: 10 });
if (process.argv.includes('own'))
  for (const seconds of [60, 10, 2]) await travelling({ ...OWN, agents: 50_000, seconds });
