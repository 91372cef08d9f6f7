/** How far a command is, on standard error, a line a second at most. */
export class Progress {
  private readonly begun = Date.now();
  private told = 0;

  /**
   * @param total runs in all, or at most
   * @param before runs that were done before this call
   */
  constructor(
    private readonly total: number,
    private readonly before = 0,
    private readonly isAtMost = false,
  ) {}

  tell(done: number): void {
    const now = Date.now();
    if (now - this.told < 1000 && done < this.total) return;
    this.told = now;
    process.stderr.write(`${done} of ${this.isAtMost ? 'at most ' : ''}${this.total} runs${this.left(done, now)}\n`);
  }

  private left(done: number, now: number): string {
    const doneHere = done - this.before;
    if (doneHere < 2 || done >= this.total) return '';
    const seconds = ((now - this.begun) / 1000 / doneHere) * (this.total - done);
    return `, ${this.isAtMost ? 'at most ' : ''}${durationWords(seconds)} left`;
  }
}

/** A duration as people say it. @param seconds at least 0 */
function durationWords(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  return `${Math.round(seconds / 3600)} h`;
}
