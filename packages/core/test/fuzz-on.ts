import type { FuzzKind } from './fuzz.ts';
import { FUZZERS, tried } from './fuzz.ts';

/** Tries inputs beyond those of the tests: a first seed and a number of inputs of each kind. What it finds goes into fixtures/fuzz-seeds.json. */

const [first = 10_000, count = 20_000] = process.argv.slice(2).map(Number) as [number?, number?];
let found = 0;
for (const kind of Object.keys(FUZZERS) as FuzzKind[]) {
  for (let seed = first; seed < first + count; seed++) {
    const problem = tried(kind, seed);
    if (problem === undefined) continue;
    found++;
    console.log(`${kind} ${seed} ${problem}`);
  }
  console.log(`${kind}: seeds ${first} to ${first + count - 1} tried`);
}
process.exitCode = found === 0 ? 0 : 1;
