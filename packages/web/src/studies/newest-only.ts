/** Does one task at a time; of those that come meanwhile only the newest is done after it. */
export class NewestOnly {
  private isBusy = false;
  private waiting: (() => Promise<void>) | undefined;

  do(task: () => Promise<void>): void {
    if (this.isBusy) {
      this.waiting = task;
      return;
    }
    this.isBusy = true;
    void task().finally(() => {
      this.isBusy = false;
      const next = this.waiting;
      this.waiting = undefined;
      if (next) this.do(next);
    });
  }

  /** Forgets what waits. */
  clear(): void {
    this.waiting = undefined;
  }
}
