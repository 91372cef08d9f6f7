import type { AskedStudy, Design, FinishedKeys, Outcome, Question, RecordedRows, RecordQuestion } from '@vole/core';
import { answerOfRecord, answerTo, BlockError, decodeBlock, StudyResults, withOutcomes } from '@vole/core';
import { repository } from '../storage/repository.ts';
import { recordId } from '../storage/schema.ts';

export type AnswerRequest =
  /** Makes a study known, or gives a known one another design. */
  | {
      readonly is: 'open';
      readonly study: string;
      readonly text: string;
      readonly design: Design;
      readonly outcomes: readonly Outcome[];
      /** Whether its blocks are read from storage. */
      readonly stored: boolean;
    }
  | { readonly is: 'add'; readonly study: string; readonly bytes: ArrayBuffer }
  | { readonly is: 'ask'; readonly study: string; readonly question: Question }
  /** About what a record of the model holds of one run. */
  | {
      readonly is: 'ask of a record';
      readonly study: string;
      readonly record: number;
      readonly point: string;
      readonly seed: number;
      readonly question: RecordQuestion;
    }
  /** Which runs are finished. */
  | { readonly is: 'finished'; readonly study: string; readonly summary?: number }
  | { readonly is: 'close'; readonly study: string };

interface OpenStudy {
  asked: AskedStudy | undefined;
  results: StudyResults;
  /** Answers since results came last, by question. */
  readonly answers: Map<string, unknown>;
}

/** Holds the results of studies and answers questions about them; it works apart from the page. */
export class AnswerDesk {
  private readonly studies = new Map<string, OpenStudy>();
  private read: ReadRecord | undefined;

  async answer(request: AnswerRequest): Promise<unknown> {
    if (request.is === 'open') return this.open(request);
    if (request.is === 'close') return void this.studies.delete(request.study);
    const study = this.studies.get(request.study);
    if (!study) throw new Error('The results of this study are no longer at hand.');
    switch (request.is) {
      case 'add':
        study.results.add(decodeBlock(request.bytes).block);
        return study.answers.clear();
      case 'finished':
        return study.results.finished(request.summary) satisfies FinishedKeys;
      case 'ask':
        return answered(study, request.question);
      case 'ask of a record':
        return this.ofRecord(study, request);
    }
  }

  private async ofRecord(
    { asked }: OpenStudy,
    { study, record, point, seed, question }: Extract<AnswerRequest, { is: 'ask of a record' }>,
  ): Promise<unknown> {
    const plan = asked?.plan;
    if (!plan?.records[record]) throw new Error('The model of this study has no such record.');
    const id = recordId(study, record, point, seed);
    if (this.read?.id !== id) {
      const row = await repository.record(id);
      if (!row)
        throw new Error(
          `Of the run with seed ${seed} no record is stored. It may not be finished, or storage is full.`,
        );
      this.read = { id, rows: { width: row.width, data: new Float64Array(row.bytes) } };
    }
    return answerOfRecord(plan, record, this.read.rows, question);
  }

  private async open({
    study: id,
    text,
    design,
    outcomes,
    stored,
  }: Extract<AnswerRequest, { is: 'open' }>): Promise<void> {
    const results = this.studies.get(id)?.results ?? new StudyResults();
    const plan = withOutcomes(text, undefined, outcomes)?.plan;
    // Known before storage is asked: where that fails, what the page has is still taken.
    this.studies.set(id, {
      asked: plan && { plan, design, results, text },
      results,
      answers: new Map<string, unknown>(),
    });
    if (stored) for (const { bytes } of await repository.blocks(id)) addReadable(results, bytes);
  }
}

/** Rows of a record that were looked at last: most questions follow one another about the same run. */
interface ReadRecord {
  readonly id: string;
  readonly rows: RecordedRows;
}

/** What is damaged is passed over: its runs count as not done, and can be done again. */
function addReadable(results: StudyResults, bytes: ArrayBuffer): void {
  try {
    results.add(decodeBlock(bytes).block);
  } catch (error) {
    if (!(error instanceof BlockError)) throw error;
  }
}

const UNKEPT: readonly Question['is'][] = ['table', 'parquet', 'run table'];

function answered({ asked, answers }: OpenStudy, question: Question): unknown {
  if (!asked) throw new Error('The text of this study has errors, so its results cannot be read.');
  // Tables are large, and a window of one is found quickly: they are not kept.
  if (UNKEPT.includes(question.is)) return answerTo(asked, question);
  const key = JSON.stringify(question);
  if (!answers.has(key)) answers.set(key, answerTo(asked, question));
  return answers.get(key);
}
