import type { Workload } from './workload.ts';
import { Luck, RADIANS } from './workload.ts';

const AGENTS = 1_000_000;
const SIDE = 1024;
const STEPS = 100;

const text = `model Trails
clock
  end after ${STEPS} steps
space Ground: plane ${SIDE} by ${SIDE}, wrapping
field scent on Ground, cells of 1
  start 0
  spread 8 / 9
  fade 8 %
agent Vole
  start ${AGENTS} anywhere
  behaviour follow
    let left_ = scent at ahead(8, -35 deg)
    let front = scent at ahead(8)
    let right_ = scent at ahead(8, 35 deg)
    if front < left_ or front < right_
      if left_ > right_
        turn by -40 deg
      else
        turn by 40 deg
    move by 1
    scent += 4
order
  follow all at once
  scent
measure all_scent = sum of scent
show Vole: dot
`;

function byHand(seed: number): number {
  const luck = new Luck(seed);
  const x = new Float64Array(AGENTS).map(() => luck.unit() * SIDE);
  const y = new Float64Array(AGENTS).map(() => luck.unit() * SIDE);
  const direction = new Float64Array(AGENTS).map(() => luck.unit() * 360);
  let scent = new Float64Array(SIDE * SIDE);
  let next = new Float64Array(SIDE * SIDE);
  const old = new Float64Array(SIDE * SIDE);
  const MASK = SIDE - 1;
  for (let step = 0; step < STEPS; step++) {
    old.set(scent);
    for (let a = 0; a < AGENTS; a++) {
      const px = x[a]!;
      const py = y[a]!;
      let d = direction[a]!;
      const l = (d - 35) * RADIANS;
      const f = d * RADIANS;
      const r = (d + 35) * RADIANS;
      const left = old[(Math.floor(py + 8 * Math.cos(l)) & MASK) * SIDE + (Math.floor(px + 8 * Math.sin(l)) & MASK)]!;
      const front = old[(Math.floor(py + 8 * Math.cos(f)) & MASK) * SIDE + (Math.floor(px + 8 * Math.sin(f)) & MASK)]!;
      const right = old[(Math.floor(py + 8 * Math.cos(r)) & MASK) * SIDE + (Math.floor(px + 8 * Math.sin(r)) & MASK)]!;
      if (front < left || front < right) d += left > right ? -40 : 40;
      direction[a] = d;
      let nx = px + Math.sin(d * RADIANS);
      let ny = py + Math.cos(d * RADIANS);
      nx = nx < 0 ? nx + SIDE : nx >= SIDE ? nx - SIDE : nx;
      ny = ny < 0 ? ny + SIDE : ny >= SIDE ? ny - SIDE : ny;
      x[a] = nx;
      y[a] = ny;
      scent[(Math.floor(ny) & MASK) * SIDE + (Math.floor(nx) & MASK)]! += 4;
    }
    for (let row = 0; row < SIDE; row++) {
      const up = ((row + 1) & MASK) * SIDE;
      const here = row * SIDE;
      const down = ((row - 1) & MASK) * SIDE;
      for (let c = 0; c < SIDE; c++) {
        const e = (c + 1) & MASK;
        const w = (c - 1) & MASK;
        next[here + c] =
          ((scent[up + w]! +
            scent[up + c]! +
            scent[up + e]! +
            scent[here + w]! +
            scent[here + c]! +
            scent[here + e]! +
            scent[down + w]! +
            scent[down + c]! +
            scent[down + e]!) /
            9) *
          0.92;
      }
    }
    const swap = scent;
    scent = next;
    next = swap;
  }
  let sum = 0;
  for (let c = 0; c < SIDE * SIDE; c++) sum += scent[c]!;
  return sum;
}

export const trails: Workload = { letter: 'E', title: 'Trails, a million walkers', text, steps: STEPS, byHand };
