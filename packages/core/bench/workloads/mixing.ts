import type { Workload } from './workload.ts';
import { Luck } from './workload.ts';

export function mixingText(agents: number, steps: number): string {
  return `model Mixing
clock
  end after ${steps} steps
agent Vole
  start ${agents}
  states health
    start ${Math.round(agents / 1000)} of Ill, rest Well
    Well
    Caught
      after uniform(3 steps, 6 steps): Ill
    Ill
      after gamma(mean = 8 steps, shape = 4): Past
    Past
interaction contact: a Vole, b Vole
  mixing 8
  where a.health is Ill and b.health is Well
  chance 0.05
  b.health = Caught
order
  contact in fixed order
  health all at once
measure ill = count Vole where it.health is Ill
`;
}

const WELL = 0;
const CAUGHT = 1;
const ILL = 2;
const OVER = 3;

function mixingByHand(agents: number, steps: number, seed: number): number {
  const luck = new Luck(seed);
  const state = new Uint8Array(agents);
  const due = new Float64Array(agents);
  for (let i = 0, n = Math.round(agents / 1000); i < n;) {
    const a = luck.below(agents);
    if (state[a] === ILL) continue;
    state[a] = ILL;
    due[a] = luck.gamma(8, 4);
    i++;
  }
  let ill = 0;
  for (let step = 1; step <= steps; step++) {
    let { s0, s1 } = luck;
    for (let a = 0; a < agents; a++) {
      if (state[a] !== ILL) continue;
      for (let m = 0; m < 8; m++) {
        let t = Math.imul(s0, 0x9e3779bb);
        s1 ^= s0;
        s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9);
        s1 = (s1 << 13) | (s1 >>> 19);
        let b = Math.floor(((Math.imul((t << 5) | (t >>> 27), 5) >>> 0) * (agents - 1)) / 4294967296);
        if (b >= a) b++;
        if (state[b] !== WELL) continue;
        t = Math.imul(s0, 0x9e3779bb);
        s1 ^= s0;
        s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9);
        s1 = (s1 << 13) | (s1 >>> 19);
        if (Math.imul((t << 5) | (t >>> 27), 5) >>> 0 < 0.05 * 4294967296) {
          state[b] = CAUGHT;
          due[b] = step + 3 + ((Math.imul(s0, 0x9e3779bb) >>> 0) / 4294967296) * 3;
        }
      }
    }
    luck.s0 = s0;
    luck.s1 = s1;
    ill = 0;
    for (let a = 0; a < agents; a++) {
      const s = state[a]!;
      if (s === CAUGHT && due[a]! <= step) {
        state[a] = ILL;
        due[a] = due[a]! + luck.gamma(8, 4);
      } else if (s === ILL && due[a]! <= step) state[a] = OVER;
      if (state[a] === ILL) ill++;
    }
  }
  return ill;
}

const AGENTS = 1_000_000;
const STEPS = 120;
export const mixing: Workload = {
  letter: 'A',
  title: 'Mixing, a million agents',
  text: mixingText(AGENTS, STEPS),
  steps: STEPS,
  byHand: (seed) => mixingByHand(AGENTS, STEPS, seed),
};

const FEW = 2000;
const SEEDS = 500;
/** Everything from start to summary, many times. */
export const manyRuns: Workload = {
  letter: 'G',
  title: '500 runs of 2,000 agents',
  text: mixingText(FEW, 200),
  steps: 200,
  seeds: SEEDS,
  byHand(seed) {
    let sum = 0;
    for (let i = 0; i < SEEDS; i++) sum += mixingByHand(FEW, 200, seed * SEEDS + i);
    return sum / SEEDS;
  },
};
