import type { Block, RunMemory } from '../engine/memory/run-memory.ts';
import { NOTE_NUMBERS, NOTES } from '../kernel/turn-ends.ts';

/** Columns in the memory of a run that only kernels use. What they held before room was made is gone. */

/** A quarter more than is needed: what grows a little in every step is not to be taken anew in every step. */
function withSlack(count: number): number {
  return count + Math.ceil(count / 4);
}

export abstract class KernelColumns {
  private block: Block | undefined;

  constructor(private readonly memory: RunMemory) {}

  /** Whether there is less room than for so many: also none for nobody has to lie in the memory. */
  protected lacks(count: number, room: number): boolean {
    return !this.block || room < count;
  }

  protected take(bytes: number): void {
    if (this.block) this.memory.give(this.block);
    this.block = this.memory.take(bytes);
    this.view(this.block);
  }

  /** Takes the columns from the memory as it is now. */
  renew(): void {
    if (!this.block) return;
    this.block = this.memory.renewed(this.block);
    this.view(this.block);
  }

  protected abstract view(block: Block): void;
}

/** One column of whole numbers. */
export class Int32Column extends KernelColumns {
  column = new Int32Array(0);

  reserve(count: number): void {
    if (this.lacks(count, this.column.length)) this.take(withSlack(count) * 4);
  }

  protected view({ buffer, at, bytes }: Block): void {
    this.column = new Int32Array(buffer, at, bytes / 4);
  }
}

/** One column of bytes. */
export class BytesColumn extends KernelColumns {
  column = new Uint8Array(0);

  reserve(count: number): void {
    if (this.lacks(count, this.column.length)) this.take(count);
  }

  protected view({ buffer, at, bytes }: Block): void {
    this.column = new Uint8Array(buffer, at, bytes);
  }
}

/** One column of numbers. */
export class NumbersColumn extends KernelColumns {
  column = new Float64Array(0);

  reserve(count: number): void {
    if (this.lacks(count, this.column.length)) this.take(count * 8);
  }

  protected view({ buffer, at, bytes }: Block): void {
    this.column = new Float64Array(buffer, at, bytes / 8);
  }
}

/** A column of agents as it was before a rule: of numbers or of states. */
export class KeptColumn extends KernelColumns {
  column: Float64Array | Uint8Array = new Uint8Array(0);

  keep(column: Float64Array | Uint8Array, used: number): void {
    this.column.set(column.subarray(0, used));
  }

  constructor(
    memory: RunMemory,
    private readonly isOfBytes: boolean,
  ) {
    super(memory);
  }

  reserve(count: number): void {
    if (this.lacks(count, this.column.length)) this.take(count * (this.isOfBytes ? 1 : 8));
  }

  protected view({ buffer, at, bytes }: Block): void {
    this.column = this.isOfBytes ? new Uint8Array(buffer, at, bytes) : new Float64Array(buffer, at, bytes / 8);
  }
}

/** Agents sorted by bucket: where each bucket begins, one more at the end; the slots by bucket, in rising order within each; where they stand; and the bucket of each slot. */
export class SortedAgents extends KernelColumns {
  start = new Int32Array(0);
  members = new Int32Array(0);
  bucket = new Int32Array(0);
  memberX = new Float64Array(0);
  memberY = new Float64Array(0);
  private buckets = 0;
  private slots = 0;

  reserve(buckets: number, slots: number): void {
    if (this.buckets >= buckets && this.slots >= slots) return;
    this.buckets = Math.max(this.buckets, withSlack(buckets));
    this.slots = Math.max(this.slots, slots);
    this.take(this.slots * (2 * 8 + 2 * 4) + (this.buckets + 1) * 4);
  }

  protected view({ buffer, at }: Block): void {
    const { slots, buckets } = this;
    this.memberX = new Float64Array(buffer, at, slots);
    this.memberY = new Float64Array(buffer, at + slots * 8, slots);
    this.members = new Int32Array(buffer, at + slots * 16, slots);
    this.bucket = new Int32Array(buffer, at + slots * 20, slots);
    this.start = new Int32Array(buffer, at + slots * 24, buckets + 1);
  }
}

/** Agents whose buckets are kept up: where each stands among the sorted; of each bucket the first of those listed there, and who follows and precedes them. */
export class ListedAgents extends KernelColumns {
  sortedAt = new Int32Array(0);
  head = new Int32Array(0);
  following = new Int32Array(0);
  preceding = new Int32Array(0);
  private buckets = 0;
  private slots = 0;

  reserve(buckets: number, slots: number): void {
    if (this.buckets >= buckets && this.slots >= slots) return;
    this.buckets = Math.max(this.buckets, withSlack(buckets));
    this.slots = Math.max(this.slots, slots);
    this.take((this.slots * 3 + this.buckets) * 4);
  }

  protected view({ buffer, at }: Block): void {
    const { slots, buckets } = this;
    this.following = new Int32Array(buffer, at, slots);
    this.preceding = new Int32Array(buffer, at + slots * 4, slots);
    this.sortedAt = new Int32Array(buffer, at + slots * 8, slots);
    this.head = new Int32Array(buffer, at + slots * 12, buckets);
  }
}

/** Notes of what waits for the end of a rule, as kernels write them (`kernel/turn-ends.ts`). */
export class NotesColumn extends KernelColumns {
  column = new Float64Array(0);

  /** Room for so many. */
  reserve(many: number): void {
    if ((this.column[NOTES.room] ?? 0) >= many) return;
    this.take((NOTES.first + many * NOTE_NUMBERS) * 8);
    this.column[NOTES.room] = many;
  }

  clear(): void {
    if (this.column.length > 0) this.column[NOTES.many] = 0;
  }

  protected view({ buffer, at, bytes }: Block): void {
    this.column = new Float64Array(buffer, at, bytes / 8);
  }
}

/** What each of several threads that do parts of a kernel has for itself: counts of states, what it leaves of a failure, notes and lists. */
export class PartColumns extends KernelColumns {
  entered = new Float64Array(0);
  left = new Float64Array(0);
  'in state' = new Float64Array(0);
  trouble = new Float64Array(0);
  readonly notes: NotesColumn;
  readonly lists: Int32Column[] = [];
  readonly weights: NumbersColumn[] = [];

  constructor(
    private readonly ofRun: RunMemory,
    private readonly counters: number,
    private readonly troubles: number,
  ) {
    super(ofRun);
    this.notes = new NotesColumn(ofRun);
  }

  reserve(): void {
    if (this.trouble.length === 0) this.take((3 * this.counters + this.troubles) * 8);
  }

  reserveList({ is, list }: { readonly is: 'list' | 'weights'; readonly list: number }, count: number): void {
    if (is === 'list') (this.lists[list] ??= new Int32Column(this.ofRun)).reserve(count);
    else (this.weights[list] ??= new NumbersColumn(this.ofRun)).reserve(count);
  }

  /** Nothing is counted or noted yet. */
  clear(): void {
    for (const column of [this.entered, this.left, this['in state']]) column.fill(0);
    this.notes.clear();
  }

  /** Adds what was counted to the counts of all. */
  addCounts(entered: Float64Array, left: Float64Array, inState: Float64Array): void {
    for (let i = 0; i < this.counters; i++) {
      entered[i]! += this.entered[i]!;
      left[i]! += this.left[i]!;
      inState[i]! += this['in state'][i]!;
    }
  }

  override renew(): void {
    super.renew();
    for (const one of [this.notes, ...this.lists, ...this.weights]) one?.renew();
  }

  protected view({ buffer, at }: Block): void {
    const { counters, troubles } = this;
    const part = (i: number, count: number): Float64Array<ArrayBuffer> =>
      new Float64Array(buffer, at + i * counters * 8, count);
    this.entered = part(0, counters);
    this.left = part(1, counters);
    this['in state'] = part(2, counters);
    this.trouble = part(3, troubles);
  }
}
