import type { FinishedRun } from '@vole/core';
import { blockOf, encodeBlock, pointAt, textDigest } from '@vole/core';
import type { Transaction } from 'dexie';
import * as z from 'zod/mini';
import type { BlockRow } from './schema.ts';
import { StudySchema } from './schema.ts';

/** Runs that earlier versions kept, one row each, become blocks. */

const RunSchema = z.object({
  studyId: z.string(),
  /** Place among all runs of the study: combination by combination, seeds within. */
  index: z.number(),
  seed: z.number(),
  steps: z.number(),
  rows: z.instanceof(ArrayBuffer),
  summaries: z.instanceof(ArrayBuffer),
  refused: z.number(),
  failure: z.optional(z.string()),
});

const RUNS_A_BLOCK = 256;

export async function runsToBlocks(transaction: Transaction): Promise<void> {
  const runs = transaction.table('runs');
  const blocks = transaction.table<BlockRow>('blocks');
  for (const stored of await transaction.table('studies').toArray()) {
    const study = StudySchema.safeParse(stored).data;
    if (!study) continue;
    const model = textDigest(study.text);
    const rows = (await runs.where({ studyId: study.id }).sortBy('index')) as unknown[];
    for (let first = 0; first < rows.length; first += RUNS_A_BLOCK) {
      const finished = rows.slice(first, first + RUNS_A_BLOCK).flatMap((row): FinishedRun[] => {
        const run = RunSchema.safeParse(row).data;
        if (!run) return [];
        const place = Math.floor(run.index / study.seeds.length);
        return [finishedRun(run, pointAt({ is: 'every combination', ...study }, place).id, study.every)];
      });
      await blocks.add({
        id: `${study.id}:${first}`,
        studyId: study.id,
        bytes: encodeBlock(blockOf(finished), model),
      });
    }
  }
}

function finishedRun(run: z.infer<typeof RunSchema>, point: string, every: number): FinishedRun {
  const { seed, steps, refused, failure } = run;
  if (failure !== undefined)
    return {
      point,
      seed,
      outcome: {
        seed,
        failure: { severity: 'error', code: 'run/earlier', message: failure, span: { start: 0, end: 0 } },
      },
    };
  const rows = new Float64Array(run.rows);
  const summaries = new Float64Array(run.summaries);
  return { point, seed, outcome: { result: { seed, steps, rows, every, summaries, refused } } };
}
