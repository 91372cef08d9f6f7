import { mix, shuffleInPlace, RandomStream } from './random/stream.ts';

const DELIVERY = 0x3a8f05c5;

/** One message on its way, in columns. */
export interface MessageQueueView {
  readonly message: readonly number[];
  readonly receiver: readonly number[];
  readonly senderKind: readonly number[];
  readonly sender: readonly number[];
  readonly due: readonly number[];
  readonly values: readonly (readonly number[])[];
}

/**
 * Messages between sending and delivery (S24): those of now wait for the next round, delayed ones and those sent while delivering for
 * the step they are due in. Receivers are visited in a drawn order, each one's messages in a drawn order.
 */
export class MessageQueue {
  message: number[] = [];
  kind: number[] = [];
  receiver: number[] = [];
  senderKind: number[] = [];
  sender: number[] = [];
  /** When it is due, in base units of time; below 0 for the round after this rule. */
  due: number[] = [];
  /** Values of the message, by attribute. */
  readonly values: number[][];
  private isDelivering = false;

  constructor(mostColumns: number) {
    this.values = Array.from({ length: mostColumns }, () => []);
  }

  /** @param due a time, or NaN for no delay */
  send(
    message: number,
    kind: number,
    receiver: number,
    senderKind: number,
    sender: number,
    due: number,
    now: number,
    values: ArrayLike<number>,
  ): void {
    this.message.push(message);
    this.kind.push(kind);
    this.receiver.push(receiver);
    this.senderKind.push(senderKind);
    this.sender.push(sender);
    this.due.push(due === due ? due : this.isDelivering ? now : -1);
    this.values.forEach((column, i) => column.push(values[i] ?? 0));
  }

  /**
   * One round: calls `deliver` for each message that is due, with its row and the words that begin its luck.
   * @param isStepStart also those that were delayed and are due at the end of this step
   */
  round(
    seed: number,
    step: number,
    round: number,
    end: number,
    slack: number,
    isStepStart: boolean,
    deliver: (row: number, ordinal: number) => void,
  ): void {
    const ready: number[] = [];
    this.due.forEach((due, row) => {
      if (due < 0 || (isStepStart && due <= end + slack)) ready.push(row);
    });
    if (ready.length === 0) return;
    ready.sort((a, b) => this.kind[a]! - this.kind[b]! || this.receiver[a]! - this.receiver[b]! || a - b);
    const groups: number[] = [];
    ready.forEach((row, i) => {
      const before = ready[i - 1];
      if (before === undefined || this.kind[before] !== this.kind[row] || this.receiver[before] !== this.receiver[row])
        groups.push(i);
    });
    const order = Int32Array.from(groups.keys());
    shuffleInPlace(order, order.length, RandomStream.of(seed, step, mix(DELIVERY + round)));
    this.isDelivering = true;
    for (const group of order) {
      const rows = Int32Array.from(ready.slice(groups[group], groups[group + 1]));
      const first = rows[0]!;
      if (rows.length > 1)
        shuffleInPlace(
          rows,
          rows.length,
          RandomStream.of(
            seed,
            step,
            mix((mix(DELIVERY + round) ^ 0x55555555) + this.kind[first]!),
            this.receiver[first],
          ),
        );
      rows.forEach((row, ordinal) => deliver(row, ordinal));
    }
    this.isDelivering = false;
    this.drop(new Set(ready));
  }

  private drop(rows: ReadonlySet<number>): void {
    for (const column of this.columns) {
      let to = 0;
      for (let row = 0; row < column.length; row++) if (!rows.has(row)) column[to++] = column[row]!;
      column.length = to;
    }
  }

  private get columns(): number[][] {
    return [this.message, this.kind, this.receiver, this.senderKind, this.sender, this.due, ...this.values];
  }

  clear(): void {
    for (const column of this.columns) column.length = 0;
  }

  snapshot(): ArrayBuffer {
    return Float64Array.from(this.columns.flat()).buffer;
  }

  restore(part: ArrayBuffer): void {
    const all = new Float64Array(part);
    const columns = this.columns;
    const rows = all.length / columns.length;
    columns.forEach((column, c) => {
      column.length = 0;
      for (let row = 0; row < rows; row++) column.push(all[c * rows + row]!);
    });
  }

  view(): MessageQueueView {
    return {
      message: [...this.message],
      receiver: [...this.receiver],
      senderKind: [...this.senderKind],
      sender: [...this.sender],
      due: [...this.due],
      values: this.values.map((column) => [...column]),
    };
  }
}
