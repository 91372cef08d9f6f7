/** How often the steps a second are measured, in milliseconds. */
const MEASURED_EVERY = 500;
/** At most so much of a second is made up for at once when computing or drawing was slow. */
const MADE_UP = 0.25;

/** How fast a run is played: how many steps are due by now, and how many a second there were. */
export class Pace {
  private stepsPerSecond = 30;
  private lastAt = 0;
  private owed = 0;
  private measured = { since: 0, steps: 0, rate: 0 };

  constructor(private readonly now: () => number) {}

  /** @param stepsPerSecond Infinity for as many as can be computed */
  set(stepsPerSecond: number): void {
    this.stepsPerSecond = stepsPerSecond;
    this.owed = 0;
  }

  /** From now on steps fall due. */
  start(): void {
    this.lastAt = this.now();
    this.owed = 0;
  }

  /** Reckons what has fallen due since the last time. */
  due(at: number): void {
    this.measure(at);
    if (!this.isLimited) return;
    this.owed = Math.min(
      this.owed + ((at - this.lastAt) * this.stepsPerSecond) / 1000,
      this.stepsPerSecond * MADE_UP + 1,
    );
    this.lastAt = at;
  }

  get owes(): boolean {
    return !this.isLimited || this.owed >= 1;
  }

  /** A step was taken, due or not. */
  stepped(): void {
    this.owed--;
    this.measured.steps++;
  }

  /** Milliseconds until the next step falls due. */
  get pause(): number {
    return this.isLimited ? Math.max(1, ((1 - this.owed) * 1000) / this.stepsPerSecond) : 0;
  }

  /** Steps a second, of late. */
  get rate(): number {
    return this.measured.rate;
  }

  private get isLimited(): boolean {
    return Number.isFinite(this.stepsPerSecond);
  }

  private measure(at: number): void {
    const elapsed = at - this.measured.since;
    if (elapsed >= MEASURED_EVERY)
      this.measured = { since: at, steps: 0, rate: (this.measured.steps * 1000) / elapsed };
  }
}
