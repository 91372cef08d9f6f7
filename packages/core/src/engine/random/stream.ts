/**
 * Keyed luck. (seed, step, rule, agent) give the two words of a small generator at the start of an agent's turn;
 * draws within the turn follow from it, so no draw depends on the order of evaluation.
 * Mixing: the finaliser of MurmurHash3 (A. Appleby, public domain). Generator: xoroshiro64** (D. Blackman and
 * S. Vigna, 2018, public domain), period 2^64 - 1.
 */

/** A bijection of 32-bit words in which every bit of the input moves half of the bits of the output. */
export function mix(word: number): number {
  let h = word | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) | 0;
}

/** A 32-bit key of a name (FNV-1a over UTF-16 units, then mixed). */
export function keyOfName(name: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < name.length; i++) h = Math.imul(h ^ name.charCodeAt(i), 0x01000193);
  return mix(h);
}

/** First word of the key that all agents of a rule share in a step. Seeds are whole numbers from 0 to 2^53. */
export function ruleKey0(seed: number, step: number, rule: number): number {
  const low = seed | 0;
  const high = Math.floor(seed / 4294967296) | 0;
  return mix(mix(mix(low ^ 0x3c6ef372) ^ Math.imul(step, 0x9e3779b1)) + (rule ^ Math.imul(high, 0x27d4eb2f)));
}

/** Second word of the key; made independently of the first. */
export function ruleKey1(seed: number, step: number, rule: number): number {
  const low = seed | 0;
  const high = Math.floor(seed / 4294967296) | 0;
  return mix(
    mix(mix(rule ^ 0x6a09e667) + Math.imul(low, 0x85ebca77)) ^
      (Math.imul(step, 0xc2b2ae3d) + Math.imul(high, 0x165667b1)),
  );
}

/** The words of an agent's generator at the start of its turn. */
export function agentKey0(key0: number, agent: number): number {
  return mix(key0 + Math.imul(agent, 0x9e3779b1));
}

export function agentKey1(key1: number, agent: number): number {
  return mix(key1 ^ Math.imul(agent + 1, 0x85ebca77)) | 1;
}

/** A stream of words for code that is not in a hot loop: shuffles, starts, the interpreter. */
export class RandomStream {
  private s0: number;
  private s1: number;

  constructor(key0: number, key1: number, agent: number) {
    this.s0 = agentKey0(key0, agent);
    this.s1 = agentKey1(key1, agent);
  }

  static of(seed: number, step: number, rule: number, agent = 0): RandomStream {
    return new RandomStream(ruleKey0(seed, step, rule), ruleKey1(seed, step, rule), agent);
  }

  /** The next 32 bits, as an unsigned whole number. */
  word(): number {
    const s0 = this.s0;
    const m = Math.imul(s0, 0x9e3779bb);
    const result = Math.imul((m << 5) | (m >>> 27), 5) >>> 0;
    const s1 = this.s1 ^ s0;
    this.s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9);
    this.s1 = (s1 << 13) | (s1 >>> 19);
    return result;
  }
}

/** A whole number from 0 below n, from one word, by multiplication; the bias is below n / 2^32. */
export function below(word: number, n: number): number {
  return Math.floor((word * n) / 4294967296);
}

/** Puts the first `n` entries in a drawn order, in place (Fisher and Yates, in Durstenfeld's form). */
export function shuffleInPlace(items: Int32Array, n: number, stream: RandomStream): void {
  for (let i = n - 1; i > 0; i--) {
    const j = below(stream.word(), i + 1);
    const held = items[i]!;
    items[i] = items[j]!;
    items[j] = held;
  }
}
