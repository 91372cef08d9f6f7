import type { Workload } from './workload.ts';
import { Luck } from './workload.ts';

const SIDE = 200;
const STEPS = 200;
const SIGHT = 6;
const VOLES = SIDE * SIDE * 0.65;
const OWLS = SIDE * SIDE * 0.05;

const text = `model Grid with sight
clock
  end after ${STEPS} steps
parameter comfort = 5, from 0.5 to 50
space Meadow: grid ${SIDE} by ${SIDE}, 8 neighbours, wrapping, one agent a cell
agent Vole
  start ${VOLES} one to a cell
  has hunger = uniform(0, 1)
  has caution = uniform(0, 1)
  states mood
    Quiet
    Out
    Held
      after uniform(1 steps, 30 steps): Quiet
  behaviour go when mood is not Held
    with c = random empty cell within ${SIGHT}
      move to c
    let owls = count Owl within ${SIGHT}
    let out = 1 + (count Vole within ${SIGHT} where it.mood is Out)
    let danger = owls / (owls + out / comfort)
    if hunger > caution * danger
      mood = Out
    else
      mood = Quiet
agent Owl
  start ${OWLS} one to a cell
  behaviour watch
    with c = random empty cell within ${SIGHT}
      move to c
    with v = random Vole within ${SIGHT} where it.mood is Out
      v.mood = Held
order
  go in turn
  watch in turn
  mood all at once
measure out = count Vole where it.mood is Out
measure held = count Vole where it.mood is Held
show Vole: dot
show Owl: dot
`;

const QUIET = 0;
const OUT = 1;
const HELD = 2;

function byHand(seed: number): number {
  const luck = new Luck(seed);
  const total = VOLES + OWLS;
  const grid = new Int32Array(SIDE * SIDE).fill(-1);
  const at = new Int32Array(total);
  for (let a = 0; a < total; a++) {
    let c = luck.below(SIDE * SIDE);
    while (grid[c]! >= 0) c = luck.below(SIDE * SIDE);
    grid[c] = a;
    at[a] = c;
  }
  const state = new Uint8Array(total);
  const due = new Float64Array(total);
  const hunger = new Float64Array(VOLES).map(() => luck.unit());
  const caution = new Float64Array(VOLES).map(() => luck.unit());
  const dx: number[] = [];
  const dy: number[] = [];
  for (let j = -SIGHT; j <= SIGHT; j++)
    for (let i = -SIGHT; i <= SIGHT; i++)
      if (i * i + j * j <= SIGHT * SIGHT) {
        dx.push(i);
        dy.push(j);
      }
  const DX = Int32Array.from(dx);
  const DY = Int32Array.from(dy);
  const shape = DX.length;
  const near = new Int32Array(shape);
  const sight = (c: number): void => {
    const column = c % SIDE;
    const row = Math.floor(c / SIDE);
    for (let k = 0; k < shape; k++) {
      let i = column + DX[k]!;
      let j = row + DY[k]!;
      i = i < 0 ? i + SIDE : i >= SIDE ? i - SIDE : i;
      j = j < 0 ? j + SIDE : j >= SIDE ? j - SIDE : j;
      near[k] = j * SIDE + i;
    }
  };
  const moveAway = (a: number): void => {
    const c = at[a]!;
    const column = c % SIDE;
    const row = Math.floor(c / SIDE);
    for (let tries = 0; tries < 64; tries++) {
      const k = luck.below(shape);
      const target = ((row + DY[k]! + SIDE) % SIDE) * SIDE + ((column + DX[k]! + SIDE) % SIDE);
      if (grid[target]! >= 0) continue;
      grid[c] = -1;
      grid[target] = a;
      at[a] = target;
      return;
    }
  };
  const voles = Int32Array.from({ length: VOLES }, (_, i) => i);
  const owls = Int32Array.from({ length: OWLS }, (_, i) => VOLES + i);
  const seen = new Int32Array(shape);
  let out = 0;
  for (let step = 1; step <= STEPS; step++) {
    luck.shuffle(voles);
    for (let t = 0; t < VOLES; t++) {
      const a = voles[t]!;
      if (state[a] === HELD) continue;
      moveAway(a);
      sight(at[a]!);
      let hunters = 0;
      let others = 1;
      for (let k = 0; k < shape; k++) {
        const b = grid[near[k]!]!;
        if (b >= VOLES) hunters++;
        else if (b >= 0 && b !== a && state[b] === OUT) others++;
      }
      const danger = hunters / (hunters + others / 5);
      state[a] = hunger[a]! > caution[a]! * danger ? OUT : QUIET;
    }
    luck.shuffle(owls);
    for (let t = 0; t < OWLS; t++) {
      const a = owls[t]!;
      moveAway(a);
      sight(at[a]!);
      let n = 0;
      for (let k = 0; k < shape; k++) {
        const b = grid[near[k]!]!;
        if (b >= 0 && b < VOLES && state[b] === OUT) seen[n++] = b;
      }
      if (n === 0) continue;
      const b = seen[luck.below(n)]!;
      state[b] = HELD;
      due[b] = step + 1 + 29 * luck.unit();
    }
    out = 0;
    for (let a = 0; a < VOLES; a++) {
      if (state[a] === HELD && due[a]! <= step) state[a] = QUIET;
      if (state[a] === OUT) out++;
    }
  }
  return out;
}

export const gridSight: Workload = { letter: 'C', title: 'Grid with sight', text, steps: STEPS, byHand };
