import { loadModel } from '../load.ts';
import type { ModelFile } from '../maps/map-file.ts';
import type { Plan } from '../plan/plan.ts';
import type { AskedStudy } from '../studies/answers/answer.ts';
import type { AnswerTo, Question } from '../studies/answers/questions.ts';
import { answerTo } from '../studies/answers/answer.ts';
import { runCount } from '../studies/design/design.ts';
import { designOf, settingOf } from '../studies/design/kept-study.ts';
import { MatchSearch } from '../studies/match/calibration/match-search.ts';
import { csvOfMatch } from '../studies/match/match-tables.ts';
import type { ObservedTable } from '../studies/match/observations.ts';
import { readCsv } from '../studies/match/observed-csv.ts';
import { readMatch } from '../studies/match/read-match.ts';
import { blockOf } from '../studies/results/block.ts';
import { BlockError, decodeBlock } from '../studies/results/block-bytes.ts';
import { textDigest } from '../digest.ts';
import { StudyResults } from '../studies/results/study-results.ts';
import { missingRuns } from '../studies/runner/missing-runs.ts';
import type { FinishedRun, Proposer } from '../studies/runner/run-study.ts';
import { SeedsUntil } from '../studies/runner/seeds-until.ts';
import { withOutcomes } from '../studies/outcomes.ts';
import type { BundleStudy } from './bundle.ts';

/** A study of a bundle that is run again: which runs it takes, and what they come to. */
export class Rerun {
  private constructor(
    /** Of the model that its runs are of. */
    readonly text: string,
    /** Runs that it takes at most. */
    readonly total: number,
    readonly proposer: Proposer,
    private readonly asked: AskedStudy,
  ) {}

  /**
   * @param model text of the bundle, of which the study is unless it has one of its own
   * @param files those beside the model, by name
   * @returns the reason if it cannot be run
   */
  static of(
    study: BundleStudy,
    model: string,
    files: ReadonlyMap<string, ModelFile>,
  ): Rerun | { readonly problem: string } {
    const text = study.text ?? model;
    const plan = withOutcomes(text, files, study.outcomes ?? [])?.plan;
    if (!plan) return { problem: 'the text of its model has errors' };
    const design = designOf(study);
    const asked = { plan, design, results: new StudyResults(), text, parameters: study.parameters };
    if (study.kind === 'match') return Rerun.ofSearch(study, text, files, asked);
    const setting = settingOf(study);
    const proposer = study.until
      ? new SeedsUntil(setting, plan, study.until, [])
      : missingRuns(setting, plan, () => false);
    return new Rerun(text, runCount(design), proposer, asked);
  }

  private static ofSearch(
    study: BundleStudy,
    text: string,
    files: ReadonlyMap<string, ModelFile>,
    asked: AskedStudy,
  ): Rerun | { readonly problem: string } {
    const { loaded } = loadModel(text, files);
    let tables: ReadonlyMap<string, ObservedTable>;
    try {
      tables = new Map(Object.entries(study.observed ?? {}).map(([name, csv]) => [name, readCsv(csv)]));
    } catch (error) {
      return { problem: `its observed data cannot be read. ${(error as Error).message}` };
    }
    const { match } = loaded ? readMatch(study.wording ?? '', { text, files, loaded }, tables) : { match: undefined };
    if (!match?.search) return { problem: 'the text of its match has errors' };
    const search = new MatchSearch(match, asked.plan, (point, seed) => asked.results.outcome(point, seed));
    return new Rerun(text, match.search.mostRuns, search, { ...asked, match, search });
  }

  /** The plan of its model, with what the study asks of its runs. */
  get plan(): Plan {
    return this.asked.plan;
  }

  /** Takes the runs that came with the bundle. @throws BlockError if they cannot be read, or are of another text */
  takeBlock(bytes: Uint8Array<ArrayBuffer>): void {
    const { block, model } = decodeBlock(bytes.slice().buffer);
    if (model !== textDigest(this.text)) throw new BlockError('These results are of another text.');
    this.asked.results.add(block);
  }

  /** Answers a question from the runs that were taken. */
  ask<Q extends Question>(question: Q): AnswerTo<Q> {
    return answerTo(this.asked, question);
  }

  /** Runs that were taken, and how many of them failed. */
  finished(): { readonly done: number; readonly failed: number } {
    const { seeds, failed } = this.asked.results.finished();
    return { done: seeds.length, failed };
  }

  take(run: FinishedRun): void {
    this.asked.results.add(blockOf([run]));
  }

  /** The checksum of what came out, once all runs are done. @param like the one that it will be held against */
  digest(like: string): string {
    return answerTo(this.asked, { is: 'digest', isOver: true, like });
  }

  /** What came out as CSV, by what each table holds. */
  tables(): Readonly<Record<string, string>> {
    if (this.asked.search) return csvOfMatch(answerTo(this.asked, { is: 'match tables', of: '' }));
    return {
      rows: answerTo(this.asked, { is: 'table', what: 'rows' }),
      summaries: answerTo(this.asked, { is: 'table', what: 'summaries' }),
    };
  }
}
