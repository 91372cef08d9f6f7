import type { RandomStream } from '../engine/random/stream.ts';
import type { CellValues } from '../forms/space.ts';

export const SETTING = 0;
export const FACTOR = 1;
export const SUM = 2;

/** What is written to one column in a rule that acts all at once, in the order of the actors. */
class ColumnLog {
  targets = new Int32Array(64);
  values = new Float64Array(64);
  hows = new Uint8Array(64);
  count = 0;

  add(target: number, how: number, value: number): void {
    if (this.count === this.targets.length) this.grow();
    const at = this.count++;
    this.targets[at] = target;
    this.hows[at] = how;
    this.values[at] = value;
  }

  private grow(): void {
    const size = this.targets.length * 2;
    const grow = <T extends Int32Array | Float64Array | Uint8Array>(old: T, bigger: T): T => {
      bigger.set(old);
      return bigger;
    };
    this.targets = grow(this.targets, new Int32Array(size));
    this.values = grow(this.values, new Float64Array(size));
    this.hows = grow(this.hows, new Uint8Array(size));
  }
}

/** What agents do to others all at once, until the end of the rule (S17). Columns are named by the numbers of settling.ts. */
export class WriteLog {
  private readonly logs = new Map<number, ColumnLog>();
  private readonly used: number[] = [];
  /** Settings that are still to be met of each target; below 0 once one of several is chosen. Zero between calls. */
  private pending = new Int32Array(64);

  add(column: number, target: number, how: number, value: number): void {
    let log = this.logs.get(column);
    if (!log) this.logs.set(column, (log = new ColumnLog()));
    if (log.count === 0) this.used.push(column);
    log.add(target, how, value);
  }

  get isEmpty(): boolean {
    return this.used.length === 0;
  }

  /** Columns that were written to, in the order of their numbers. */
  get columns(): readonly number[] {
    return this.used.sort((a, b) => a - b);
  }

  clear(): void {
    for (const column of this.used) this.logs.get(column)!.count = 0;
    this.used.length = 0;
  }

  targetsOf(column: number): Int32Array {
    const log = this.logs.get(column)!;
    return log.targets.subarray(0, log.count);
  }

  /** The value, where a column is only set and always to the same one: then it makes no difference which of several is chosen. */
  onlySetting(column: number): number | undefined {
    const { values, hows, count } = this.logs.get(column)!;
    const first = values[0]!;
    for (let i = 0; i < count; i++) if (hows[i] !== SETTING || values[i] !== first) return undefined;
    return first;
  }

  /**
   * Brings what was written to a column together, target by target: one of the settings, drawn where there are rivals, then the factors,
   * then the sums.
   * @param values the column, written in place
   * @param size   targets are below it
   */
  settleInto(column: number, values: CellValues, size: number, luckOf: (target: number) => RandomStream): void {
    const { targets, values: given, hows, count } = this.logs.get(column)!;
    if (this.pending.length < size) this.pending = new Int32Array(size);
    const { pending } = this;
    let settings = 0;
    for (let i = 0; i < count; i++) {
      if (hows[i] !== SETTING) continue;
      pending[targets[i]!]!++;
      settings++;
    }
    for (let i = 0; settings > 0 && i < count; i++) {
      if (hows[i] !== SETTING) continue;
      settings--;
      const target = targets[i]!;
      const left = pending[target]!;
      if (left > 1) pending[target] = -1 - Math.floor((luckOf(target).word() * left) / 4294967296);
      if (left === 1 || pending[target] === -1) {
        values[target] = given[i]!;
        pending[target] = NONE_LEFT;
      } else if (pending[target]! > NONE_LEFT) pending[target]!++;
    }
    for (let i = 0; i < count; i++) pending[targets[i]!] = 0;
    for (let i = 0; i < count; i++) if (hows[i] === FACTOR) values[targets[i]!]! *= given[i]!;
    for (let i = 0; i < count; i++) if (hows[i] === SUM) values[targets[i]!]! += given[i]!;
  }
}

/** The chosen setting has been met. */
const NONE_LEFT = -0x7fffffff;
