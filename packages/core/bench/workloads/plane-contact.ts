import type { Workload } from './workload.ts';
import { Luck, RADIANS } from './workload.ts';

const AGENTS = 200_000;
const SIDE = 1000;
const STEPS = 200;
const REACH = 2;
const COLUMNS = SIDE / REACH;

function text(mode: string): string {
  return `model Plane contact
clock
  end after ${STEPS} steps
space Field: plane ${SIDE} by ${SIDE}, wrapping
agent Vole
  start ${AGENTS} anywhere
  states health
    start 2000 of Ill, rest Well
    Well
    Ill
      after 30 steps: Well
  behaviour roam
    turn by normal(0 deg, 40 deg)
    move by 1
interaction contact: a Vole, b Vole
  within ${REACH}
  where a.health is Ill and b.health is Well
  chance 0.08
  b.health = Ill
order
  roam all at once
  contact ${mode}
  health all at once
measure ill = count Vole where it.health is Ill
show Vole: dot
`;
}

function byHand(seed: number, inTurn: boolean): number {
  const luck = new Luck(seed);
  const x = new Float64Array(AGENTS).map(() => luck.unit() * SIDE);
  const y = new Float64Array(AGENTS).map(() => luck.unit() * SIDE);
  const direction = new Float64Array(AGENTS).map(() => luck.unit() * 360);
  const ill = new Uint8Array(AGENTS);
  const due = new Float64Array(AGENTS);
  for (let i = 0; i < 2000; i++) {
    ill[i] = 1;
    due[i] = 30;
  }
  const start = new Int32Array(COLUMNS * COLUMNS + 1);
  const members = new Int32Array(AGENTS);
  const cell = new Int32Array(AGENTS);
  const next = new Uint8Array(AGENTS);
  const order = Int32Array.from({ length: AGENTS }, (_, i) => i);
  let count = 0;
  for (let step = 1; step <= STEPS; step++) {
    start.fill(0);
    for (let a = 0; a < AGENTS; a++) {
      const d = (direction[a]! + 40 * luck.normal()) * RADIANS;
      direction[a] = d / RADIANS;
      let px = x[a]! + Math.sin(d);
      let py = y[a]! + Math.cos(d);
      if (px < 0) px += SIDE;
      else if (px >= SIDE) px -= SIDE;
      if (py < 0) py += SIDE;
      else if (py >= SIDE) py -= SIDE;
      x[a] = px;
      y[a] = py;
      const c = Math.floor(py / REACH) * COLUMNS + Math.floor(px / REACH);
      cell[a] = c;
      start[c]!++;
    }
    for (let c = 0, at = 0; c <= COLUMNS * COLUMNS; c++) {
      at += start[c]!;
      start[c] = at;
    }
    for (let a = AGENTS - 1; a >= 0; a--) members[--start[cell[a]!]!] = a;
    if (inTurn) luck.shuffle(order);
    else next.set(ill);
    for (let i = 0; i < AGENTS; i++) {
      const a = inTurn ? order[i]! : i;
      if (!ill[a]) continue;
      const column = cell[a]! % COLUMNS;
      const row = Math.floor(cell[a]! / COLUMNS);
      for (let dr = -1; dr <= 1; dr++) {
        const r = (row + dr + COLUMNS) % COLUMNS;
        for (let dc = -1; dc <= 1; dc++) {
          const c = r * COLUMNS + ((column + dc + COLUMNS) % COLUMNS);
          for (let j = start[c]!, end = start[c + 1]!; j < end; j++) {
            const b = members[j]!;
            if (ill[b]) continue;
            let dx = x[b]! - x[a]!;
            let dy = y[b]! - y[a]!;
            dx = dx > SIDE / 2 ? dx - SIDE : dx < -SIDE / 2 ? dx + SIDE : dx;
            dy = dy > SIDE / 2 ? dy - SIDE : dy < -SIDE / 2 ? dy + SIDE : dy;
            if (dx * dx + dy * dy > REACH * REACH || luck.word() >= 0.08 * 4294967296) continue;
            if (inTurn) ill[b] = 1;
            else next[b] = 1;
            due[b] = step + 30;
          }
        }
      }
    }
    if (!inTurn) ill.set(next);
    count = 0;
    for (let a = 0; a < AGENTS; a++) {
      if (ill[a] && due[a]! <= step) ill[a] = 0;
      count += ill[a]!;
    }
  }
  return count;
}

/** The same where each agent moves and passes on in one turn. */
export const contactInOneTurn = text('in turn').replace(
  '  roam all at once\n  contact in turn',
  '  roam, contact in turn',
);

export const contactInTurn: Workload = {
  letter: 'B',
  title: 'Plane contact, in turn',
  text: text('in turn'),
  steps: STEPS,
  byHand: (seed) => byHand(seed, true),
};
export const contactAtOnce: Workload = {
  letter: 'b',
  title: 'Plane contact, all at once',
  text: text('all at once'),
  steps: STEPS,
  byHand: (seed) => byHand(seed, false),
};
