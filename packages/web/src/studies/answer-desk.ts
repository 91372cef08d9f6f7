import type { AskedStudy, Design, FinishedKeys, Outcome, Question } from '@vole/core';
import { answerTo, BlockError, decodeBlock, StudyResults, withOutcomes } from '@vole/core';
import { repository } from '../storage/repository.ts';

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
  /** Which runs are finished. */
  | { readonly is: 'finished'; readonly study: string }
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
        return study.results.finished() satisfies FinishedKeys;
      case 'ask':
        return answered(study, request.question);
    }
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

/** What is damaged is passed over: its runs count as not done, and can be done again. */
function addReadable(results: StudyResults, bytes: ArrayBuffer): void {
  try {
    results.add(decodeBlock(bytes).block);
  } catch (error) {
    if (!(error instanceof BlockError)) throw error;
  }
}

function answered({ asked, answers }: OpenStudy, question: Question): unknown {
  if (!asked) throw new Error('The text of this study has errors, so its results cannot be read.');
  const key = JSON.stringify(question);
  if (!answers.has(key)) answers.set(key, answerTo(asked, question));
  return answers.get(key);
}
