import type { Workload } from './workload.ts';
import { Luck, RADIANS } from './workload.ts';

const SIDE = 300;
const STEPS = 500;
const MOST = 400_000;

const text = `model Births and deaths
clock
  end after ${STEPS} steps
space Meadow: grid ${SIDE} by ${SIDE}, 8 neighbours, wrapping
field grass on Meadow
  start uniform(0, 1)
  grow 0.03
  keep 0 to 1
agent Grazer
  start 10000 anywhere
  has energy = uniform(4, 12)
  behaviour graze
    turn by uniform(-50 deg, 50 deg)
    move by 1
    energy -= 1
    if grass >= 1
      grass = 0
      energy += 5
    if energy < 0
      remove self
    if chance(0.04)
      energy /= 2
      create 1 Grazer here
        energy = energy
agent Hunter
  start 2000 anywhere
  has energy = uniform(10, 30)
  behaviour hunt
    turn by uniform(-50 deg, 50 deg)
    move by 1
    energy -= 1
    with g = random Grazer here
      remove g
      energy += 18
    if energy < 0
      remove self
    if chance(0.05)
      energy /= 2
      create 1 Hunter here
        energy = energy
order
  graze in turn
  hunt in turn
  grass
measure grazers = count Grazer
measure hunters = count Hunter
show Grazer: dot
show Hunter: dot
`;

class Herd {
  x = new Int32Array(MOST);
  y = new Int32Array(MOST);
  direction = new Float64Array(MOST);
  energy = new Float64Array(MOST);
  gone = new Uint8Array(MOST);
  used = 0;

  add(x: number, y: number, direction: number, energy: number): number {
    const at = this.used++;
    this.x[at] = x;
    this.y[at] = y;
    this.direction[at] = direction;
    this.energy[at] = energy;
    this.gone[at] = 0;
    return at;
  }

  close(): void {
    let to = 0;
    for (let from = 0; from < this.used; from++) {
      if (this.gone[from]) continue;
      this.x[to] = this.x[from]!;
      this.y[to] = this.y[from]!;
      this.direction[to] = this.direction[from]!;
      this.energy[to] = this.energy[from]!;
      this.gone[to] = 0;
      to++;
    }
    this.used = to;
  }

  step(at: number, luck: Luck): void {
    const d = this.direction[at]! + (luck.unit() * 100 - 50);
    this.direction[at] = d;
    this.x[at] = (Math.floor(this.x[at]! + Math.sin(d * RADIANS) + 0.5) + SIDE) % SIDE;
    this.y[at] = (Math.floor(this.y[at]! + Math.cos(d * RADIANS) + 0.5) + SIDE) % SIDE;
  }
}

function byHand(seed: number): number {
  const luck = new Luck(seed);
  const grass = new Float64Array(SIDE * SIDE).map(() => luck.unit());
  const grazers = new Herd();
  const hunters = new Herd();
  for (let i = 0; i < 10000; i++)
    grazers.add(luck.below(SIDE), luck.below(SIDE), luck.unit() * 360, 4 + 8 * luck.unit());
  for (let i = 0; i < 2000; i++)
    hunters.add(luck.below(SIDE), luck.below(SIDE), luck.unit() * 360, 10 + 20 * luck.unit());
  const head = new Int32Array(SIDE * SIDE);
  const next = new Int32Array(MOST);
  for (let step = 0; step < STEPS; step++) {
    let order = Int32Array.from({ length: grazers.used }, (_, i) => i);
    luck.shuffle(order);
    for (const a of order) {
      grazers.step(a, luck);
      grazers.energy[a]! -= 1;
      const c = grazers.y[a]! * SIDE + grazers.x[a]!;
      if (grass[c]! >= 1) {
        grass[c] = 0;
        grazers.energy[a]! += 5;
      }
      if (grazers.energy[a]! < 0) {
        grazers.gone[a] = 1;
        continue;
      }
      if (luck.word() < 0.04 * 4294967296) {
        grazers.energy[a]! /= 2;
        grazers.add(grazers.x[a]!, grazers.y[a]!, luck.unit() * 360, grazers.energy[a]!);
      }
    }
    grazers.close();
    head.fill(-1);
    for (let a = grazers.used - 1; a >= 0; a--) {
      const c = grazers.y[a]! * SIDE + grazers.x[a]!;
      next[a] = head[c]!;
      head[c] = a;
    }
    order = Int32Array.from({ length: hunters.used }, (_, i) => i);
    luck.shuffle(order);
    for (const a of order) {
      hunters.step(a, luck);
      hunters.energy[a]! -= 1;
      const c = hunters.y[a]! * SIDE + hunters.x[a]!;
      let n = 0;
      for (let b = head[c]!; b >= 0; b = next[b]!) if (!grazers.gone[b]) n++;
      if (n > 0) {
        let k = luck.below(n);
        for (let b = head[c]!; b >= 0; b = next[b]!) {
          if (grazers.gone[b] || k-- > 0) continue;
          grazers.gone[b] = 1;
          break;
        }
        hunters.energy[a]! += 18;
      }
      if (hunters.energy[a]! < 0) {
        hunters.gone[a] = 1;
        continue;
      }
      if (luck.word() < 0.05 * 4294967296) {
        hunters.energy[a]! /= 2;
        hunters.add(hunters.x[a]!, hunters.y[a]!, luck.unit() * 360, hunters.energy[a]!);
      }
    }
    grazers.close();
    hunters.close();
    for (let c = 0; c < grass.length; c++) {
      const g = grass[c]! + 0.03;
      grass[c] = g > 1 ? 1 : g;
    }
  }
  return grazers.used;
}

export const births: Workload = { letter: 'F', title: 'Births and deaths', text, steps: STEPS, byHand };
