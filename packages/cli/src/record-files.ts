import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { FinishedRun, Plan, RunResult, StudySetting } from '@vole/core';
import { csvOf, parquetOf, pointAt, pointCount, recordCells, recordHeader, seedsAt } from '@vole/core';
import { Output } from './files.ts';
import { UsageError } from './usage-error.ts';

/** What files of records are told apart by: its place among several of one name where there are some. */
export function recordNames({ records }: Plan): string[] {
  return records.map(({ name }, i) => {
    const number = records.slice(0, i + 1).filter((other) => other.name.toLowerCase() === name.toLowerCase()).length;
    return number > 1 ? `${name}-${number}` : name;
  });
}

/** The records of a study: a folder a record, a file a run, written when the run is finished, so that none of them stays in memory. */
export class RecordFiles {
  private readonly folders: readonly string[];
  private readonly places = new Map<string, number>();

  constructor(
    folder: string,
    private readonly plan: Plan,
    private readonly setting: StudySetting,
    private readonly asParquet: boolean,
    private readonly facts: Readonly<Record<string, string>>,
  ) {
    this.folders = recordNames(plan).map((name) => join(folder, 'records', name));
    for (const each of this.folders) mkdirSync(each, { recursive: true });
    for (let place = 0; place < pointCount(setting.design); place++)
      this.places.set(pointAt(setting.design, place).id, place);
  }

  /** Writes what a run recorded and takes it out of the run. */
  take(run: FinishedRun): FinishedRun {
    if (!('result' in run.outcome) || !run.outcome.result.records) return run;
    const { records, ...result } = run.outcome.result;
    const { design } = this.setting;
    const place = this.places.get(run.point)!;
    const number = place * design.seeds.length + seedsAt(design, place).indexOf(run.seed) + 1;
    records.forEach((rows, record) => this.write(record, number, place, run.seed, rows));
    return { ...run, outcome: { result } };
  }

  private write(
    record: number,
    run: number,
    place: number,
    seed: number,
    rows: NonNullable<RunResult['records']>[number],
  ): void {
    const withPoint = <T>([first, ...rest]: readonly T[], point: T): T[] => [first!, point, ...rest];
    const header = withPoint(recordHeader(this.plan, record), 'point');
    const cells = recordCells(this.plan, record, run, seed, rows).map((row) => withPoint(row, place + 1));
    const path = join(
      this.folders[record]!,
      `run-${String(run).padStart(6, '0')}.${this.asParquet ? 'parquet' : 'csv'}`,
    );
    let output: Output | undefined;
    try {
      output = new Output(path, { inputs: [], force: true });
      if (this.asParquet) output.write(new Uint8Array(parquetOf(header, () => cells, this.facts)));
      else output.line(csvOf([header, ...cells]));
      output.finish();
    } catch (error) {
      output?.abandon();
      throw error instanceof UsageError ? new UsageError(`${error.message}; --resume goes on once it can be`) : error;
    }
  }
}
