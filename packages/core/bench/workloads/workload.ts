/** A model and the same thing written by hand on typed arrays, to hold the one against the other. */
export interface Workload {
  readonly letter: string;
  readonly title: string;
  readonly text: string;
  readonly steps: number;
  /** Runs from so many seeds in one go. */
  readonly seeds?: number;
  /** Runs the whole thing and gives the value of the first measure at the end. */
  byHand(seed: number): number;
}

/** State of the generator of hand-written versions: two words that callers keep in locals while they draw. */
function firstWords(seed: number): [number, number] {
  let h = (seed + 1) | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return [(h ^ (h >>> 16)) | 0, Math.imul(h, 0x9e3779b1) | 1];
}

/** A generator for what is not in a hot loop. */
export class Luck {
  s0: number;
  s1: number;

  constructor(seed: number) {
    [this.s0, this.s1] = firstWords(seed);
  }

  word(): number {
    const { s0 } = this;
    const t = Math.imul(s0, 0x9e3779bb);
    const s1 = this.s1 ^ s0;
    this.s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9);
    this.s1 = (s1 << 13) | (s1 >>> 19);
    return Math.imul((t << 5) | (t >>> 27), 5) >>> 0;
  }

  unit(): number {
    return this.word() / 4294967296;
  }

  below(n: number): number {
    return Math.floor((this.word() * n) / 4294967296);
  }

  normal(): number {
    for (;;) {
      const a = 2 * this.unit() - 1;
      const b = 2 * this.unit() - 1;
      const r = a * a + b * b;
      if (r > 0 && r < 1) return a * Math.sqrt((-2 * Math.log(r)) / r);
    }
  }

  /** Gamma of a whole shape, as a sum of exponentials. */
  gamma(mean: number, shape: number): number {
    let product = 1;
    for (let i = 0; i < shape; i++) product *= 1 - this.unit();
    return (-Math.log(product) * mean) / shape;
  }

  shuffle(items: Int32Array): void {
    let { s0, s1 } = this;
    for (let i = items.length - 1; i > 0; i--) {
      const t = Math.imul(s0, 0x9e3779bb);
      s1 ^= s0;
      s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9);
      s1 = (s1 << 13) | (s1 >>> 19);
      const j = Math.floor(((Math.imul((t << 5) | (t >>> 27), 5) >>> 0) * (i + 1)) / 4294967296);
      const held = items[i]!;
      items[i] = items[j]!;
      items[j] = held;
    }
    this.s0 = s0;
    this.s1 = s1;
  }
}

export const RADIANS = Math.PI / 180;
