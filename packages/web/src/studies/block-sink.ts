import type { FinishedRun, Sink } from '@vole/core';
import { blockOf, encodeBlock } from '@vole/core';
import { newId } from '../storage/repository.ts';
import type { BlockRow, RecordRow } from '../storage/schema.ts';
import { recordId } from '../storage/schema.ts';

/** Pause between writes: what is finished in it is written together, and shown. */
const WRITE_EVERY = 500;
/** Runs and bytes of a block at most; one that is not full yet is written anew with what comes. */
const MOST_RUNS = 512;
const MOST_BYTES = 2e6;

export interface SinkHooks {
  /** Stores blocks and what their runs recorded. @throws whatever keeps them from being stored */
  readonly store: (blocks: readonly BlockRow[], records: readonly RecordRow[]) => Promise<void>;
  /** Runs that are new, before they are stored. */
  readonly came: (bytes: ArrayBuffer) => void;
  /** A write was tried: nothing, or what went wrong. */
  readonly tried: (error: unknown) => void;
}

/** A block that grows until it is full. */
interface OpenBlock {
  readonly id: string;
  readonly runs: FinishedRun[];
  bytes: number;
}

/** Gathers finished runs into blocks and stores them, one write after another. What is not taken is kept and tried again with the next. */
export class BlockSink implements Sink {
  private open: OpenBlock = emptyBlock();
  /** Full blocks, and the open one, of which something is not stored. */
  private readonly unwritten = new Set<OpenBlock>();
  private fresh: FinishedRun[] = [];
  private unstoredRuns: FinishedRun[] = [];
  private unstoredRecords: RecordRow[] = [];
  private writing: Promise<void> = Promise.resolve();
  private planned: ReturnType<typeof setTimeout> | undefined;
  private wasRefused = false;

  constructor(
    private readonly studyId: string,
    private readonly model: string,
    private readonly hooks: SinkHooks,
  ) {}

  /** Runs that are finished but not stored. */
  get unstored(): number {
    return this.unstoredRuns.length;
  }

  /** Whether storage did not take what it was given last; what is only on its way there is not meant. */
  get isRefused(): boolean {
    return this.wasRefused && this.unstoredRuns.length > 0;
  }

  /** What is not stored, as bytes; nothing if there is none. */
  unstoredBytes(): ArrayBuffer | undefined {
    return this.unstoredRuns.length > 0 ? encodeBlock(blockOf(this.unstoredRuns), this.model) : undefined;
  }

  take(finished: FinishedRun): void {
    const run = this.withoutRecords(finished);
    if (this.open.runs.length >= MOST_RUNS || this.open.bytes >= MOST_BYTES) this.open = emptyBlock();
    this.open.runs.push(run);
    this.open.bytes += 'result' in run.outcome ? run.outcome.result.rows.byteLength : 0;
    this.unwritten.add(this.open);
    this.fresh.push(run);
    this.unstoredRuns.push(run);
    this.planned ??= setTimeout(() => void this.flush(), WRITE_EVERY);
  }

  /** Takes what a run recorded out of it: it goes to storage and nowhere else. */
  private withoutRecords(run: FinishedRun): FinishedRun {
    if (!('result' in run.outcome) || !run.outcome.result.records) return run;
    const { records, ...result } = run.outcome.result;
    records.forEach(({ width, data }, record) =>
      this.unstoredRecords.push({
        id: recordId(this.studyId, record, run.point, run.seed),
        studyId: this.studyId,
        width,
        bytes: data.slice().buffer,
      }),
    );
    return { ...run, outcome: { result } };
  }

  flush(): Promise<void> {
    clearTimeout(this.planned);
    this.planned = undefined;
    if (this.fresh.length > 0) this.hooks.came(encodeBlock(blockOf(this.fresh), this.model));
    this.fresh = [];
    this.writing = this.writing.then(() => this.write());
    return this.writing;
  }

  private async write(): Promise<void> {
    const blocks = [...this.unwritten];
    const count = this.unstoredRuns.length;
    const records = [...this.unstoredRecords];
    this.unwritten.clear();
    try {
      await this.hooks.store(
        blocks.map(({ id, runs }) => ({
          id,
          studyId: this.studyId,
          bytes: encodeBlock(blockOf(runs), this.model),
        })),
        records,
      );
      this.unstoredRuns.splice(0, count);
      this.unstoredRecords.splice(0, records.length);
      this.wasRefused = false;
      this.hooks.tried(undefined);
    } catch (error) {
      for (const block of blocks) this.unwritten.add(block);
      this.wasRefused = true;
      this.hooks.tried(error);
    }
  }
}

function emptyBlock(): OpenBlock {
  return { id: newId(), runs: [], bytes: 0 };
}
