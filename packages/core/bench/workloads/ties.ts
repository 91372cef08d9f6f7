import type { Workload } from './workload.ts';
import { Luck } from './workload.ts';

const AGENTS = 200_000;
const EACH = 3;
const STEPS = 100;

const text = `model Ties
clock
  end after ${STEPS} steps
agent Vole
  start ${AGENTS}
  states song
    start 200 of Singing, rest Quiet
    Quiet
    Singing
      chance 0.1: Weary
    Weary
network Bonds ties Vole to Vole: preferential, ${EACH} ties each
interaction pass_on: a Vole, b Vole
  tied by Bonds
  where a.song is Singing and b.song is Quiet
  chance 0.04
  b.song = Singing
interaction overhear: a Vole, b Vole
  mixing 1
  where a.song is Singing and b.song is Quiet
  chance 0.02
  b.song = Singing
order
  pass_on in fixed order
  overhear in fixed order
  song all at once
measure singing = count Vole where it.song is Singing
`;

function byHand(seed: number): number {
  const luck = new Luck(seed);
  const ends: number[] = [];
  const degree = new Int32Array(AGENTS);
  const a: number[] = [];
  const b: number[] = [];
  const tie = (p: number, q: number): void => {
    a.push(p);
    b.push(q);
    ends.push(p, q);
    degree[p]!++;
    degree[q]!++;
  };
  for (let p = 0; p <= EACH; p++) for (let q = 0; q < p; q++) tie(p, q);
  for (let p = EACH + 1; p < AGENTS; p++) {
    let first = -1;
    let second = -1;
    for (let k = 0; k < EACH;) {
      const q = ends[luck.below(ends.length - 2 * k)]!;
      if (q === first || q === second || q === p) continue;
      if (k === 0) first = q;
      else if (k === 1) second = q;
      tie(p, q);
      k++;
    }
  }
  const start = new Int32Array(AGENTS + 1);
  for (let p = 0; p < AGENTS; p++) start[p + 1] = start[p]! + degree[p]!;
  const fill = start.slice();
  const other = new Int32Array(2 * a.length);
  for (let i = 0; i < a.length; i++) {
    other[fill[a[i]!]!++] = b[i]!;
    other[fill[b[i]!]!++] = a[i]!;
  }
  const state = new Uint8Array(AGENTS);
  for (let i = 0; i < 200;) {
    const p = luck.below(AGENTS);
    if (state[p]) continue;
    state[p] = 1;
    i++;
  }
  let singing = 0;
  for (let step = 0; step < STEPS; step++) {
    for (let p = 0; p < AGENTS; p++) {
      if (state[p] !== 1) continue;
      for (let j = start[p]!, end = start[p + 1]!; j < end; j++) {
        const q = other[j]!;
        if (state[q] === 0 && luck.word() < 0.04 * 4294967296) state[q] = 1;
      }
    }
    for (let p = 0; p < AGENTS; p++) {
      if (state[p] !== 1) continue;
      const q = luck.below(AGENTS);
      if (state[q] === 0 && luck.word() < 0.02 * 4294967296) state[q] = 1;
    }
    singing = 0;
    for (let p = 0; p < AGENTS; p++) {
      if (state[p] !== 1) continue;
      if (luck.word() < 0.1 * 4294967296) state[p] = 2;
      else singing++;
    }
  }
  return singing;
}

export const ties: Workload = { letter: 'D', title: 'Ties', text, steps: STEPS, byHand };
