/** Values gathered during a step; those added all at once are seen when the rule is over. */
export class Tally {
  values = new Float64Array(16);
  count = 0;
  private waiting = 0;

  constructor(readonly kept: boolean) {}

  add(value: number, waits: boolean): void {
    const at = this.count + this.waiting;
    if (at === this.values.length) {
      const bigger = new Float64Array(at * 2);
      bigger.set(this.values);
      this.values = bigger;
    }
    this.values[at] = value;
    if (waits) this.waiting++;
    else this.count++;
  }

  settle(): void {
    this.count += this.waiting;
    this.waiting = 0;
  }

  beginStep(): void {
    if (!this.kept) this.count = 0;
  }

  clear(): void {
    this.count = 0;
    this.waiting = 0;
  }
}
